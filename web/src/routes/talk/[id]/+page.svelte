<script lang="ts">
	import { page } from '$app/state';
	import Find from '$screens/find/Find.svelte';

	const id = $derived(Number(page.params.id));
</script>

{#key id}<Find {id} />{/key}
