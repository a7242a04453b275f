<script lang="ts">
	import type { Snippet } from 'svelte';

	/** A named place for a control, which it labels, and a line on what it is for. */
	let { name, hint = '', children }: { name: string; hint?: string; children: Snippet } = $props();
</script>

<label>
	<span>{name}</span>
	{@render children()}
	{#if hint}<small>{hint}</small>{/if}
</label>

<style>
	label {
		display: grid;
		gap: 3px;
		min-width: 0;
		font-size: 14px;
	}
	small {
		color: var(--ink-soft);
		font-size: 13px;
	}
	label :global(:is(input, select, textarea)) {
		width: 100%;
		min-height: 34px;
		padding: 5px 9px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper);
		font-size: 15px;
	}
</style>
