<script lang="ts">
	import { page } from '$app/state';
	import PostDesk from '$screens/posting/PostDesk.svelte';

	const id = $derived(Number(page.params.id));
</script>

{#key id}<PostDesk {id} />{/key}
