<script lang="ts">
	import Shelf from '$screens/shelf/Shelf.svelte';
</script>

<Shelf />
