<script lang="ts">
	import { page } from '$app/state';
	import Workbench from '$places/workbench/Workbench.svelte';

	const id = $derived(Number(page.params.id));
</script>

{#key id}<Workbench {id} step={page.params.step ?? 'trim'} />{/key}
