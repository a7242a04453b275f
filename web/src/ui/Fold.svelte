<script lang="ts">
	import type { Snippet } from 'svelte';

	/** A part of a panel that is folded away until it is wanted. */
	let { says, open = $bindable(false), children }: { says: string; open?: boolean; children: Snippet } = $props();
</script>

<details bind:open>
	<summary>{says}</summary>
	<div>{@render children()}</div>
</details>

<style>
	summary {
		min-height: 28px;
		cursor: pointer;
	}
	div {
		display: grid;
		gap: 6px;
		padding-bottom: 8px;
	}
</style>
