<script lang="ts">
	import Shelf from '$places/shelf/Shelf.svelte';
</script>

<Shelf />
