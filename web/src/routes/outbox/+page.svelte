<script lang="ts">
	import Outbox from '$screens/outbox/Outbox.svelte';
</script>

<Outbox />
