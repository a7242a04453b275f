<script lang="ts">
	import Outbox from '$places/outbox/Outbox.svelte';
</script>

<Outbox />
