<script lang="ts">
	/** A line across the page where the limit is reached, and what lies beyond it. */
	import { theSheet } from '../sheet';

	let { ms, until, says }: { ms: number; until: number; says: string } = $props();

	const sheet = theSheet();
	const y = $derived(sheet.yAt(ms));
</script>

{#if sheet.laid.lines.length}
	<div class="beyond" style:top="{y}px" style:height="{Math.max(0, sheet.yAt(until) - y)}px"></div>
	<div class="limit" style:top="{y}px"><span>{says}</span></div>
{/if}

<style>
	.limit {
		position: absolute;
		left: 118px;
		right: 0;
		z-index: 1;
		border-top: 2px solid var(--ink);
		pointer-events: none;
	}
	.limit span {
		position: absolute;
		right: 4px;
		bottom: 0;
		padding: 0 6px;
		border-radius: 4px 4px 0 0;
		background: var(--ink);
		color: var(--paper);
		font-size: 12px;
		line-height: 17px;
	}
	.beyond {
		position: absolute;
		left: 118px;
		right: 0;
		background: color-mix(in srgb, var(--rule) 38%, transparent);
		pointer-events: none;
	}
</style>
