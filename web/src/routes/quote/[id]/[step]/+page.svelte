<script lang="ts">
	import { page } from '$app/state';
	import Workbench from '$screens/workbench/Workbench.svelte';

	const id = $derived(Number(page.params.id));
</script>

{#key id}<Workbench {id} step={page.params.step ?? 'trim'} />{/key}
