<script lang="ts">
	import type { Snippet } from 'svelte';

	/** Fields that belong together, under their name. `across` has them side by side where there is room. */
	let { name, across = false, children }: { name: string; across?: boolean; children: Snippet } = $props();
</script>

<fieldset data-across={across}>
	<legend>{name}</legend>
	{@render children()}
</fieldset>

<style>
	fieldset {
		display: grid;
		gap: 6px 16px;
		margin: 0;
		padding: 4px 12px 10px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
	}
	[data-across='true'] {
		grid-template-columns: repeat(auto-fill, minmax(210px, 1fr));
	}
	legend {
		padding: 0 4px;
		font-weight: 600;
		font-size: 14px;
	}
</style>
