<script lang="ts">
	/** The edges of the quote, or one of its joins, each side under a loupe. */
	import ChevronLeft from '@lucide/svelte/icons/chevron-left';
	import ChevronRight from '@lucide/svelte/icons/chevron-right';
	import Button from '$ui/Button.svelte';
	import Loupe from './Loupe.svelte';
	import type { Trim } from './trim.svelte';

	let { trim }: { trim: Trim } = $props();
	const bench = $derived(trim.bench);
	const span = $derived(bench.quote!.document.span);
	const nudgeEdge = (edge: 'in' | 'out') => (by: number) => bench.edit({ kind: 'nudge-edge', edge, by_ms: by, destination: bench.scope });
	const nudgeJoin = (side: 'before' | 'after') => (by: number) => trim.nudgeJoin(side, by);
	/** Those of the version that is cut by itself, where only that is to be moved. */
	const edges = $derived.by(() => {
		const kept = bench.scope ? bench.cut?.kept : undefined;
		return kept?.length ? { start_ms: kept[0]!.start_ms, end_ms: kept.at(-1)!.end_ms } : span;
	});
</script>

<section aria-label="Edges and joins">
	<div class="head">
		<h2>{trim.join ? `Join ${trim.joins.indexOf(trim.join) + 1} of ${trim.joins.length}` : 'In and out point'}</h2>
		{#if trim.joins.length}
			<Button kind="quiet" aria-label="Join before" title="Join before (Shift+N)" onclick={() => trim.stepJoin(-1)}>{#snippet icon()}<ChevronLeft size={16} />{/snippet}</Button>
			<Button kind="quiet" aria-label="Next join" title="Next join (N)" onclick={() => trim.stepJoin(1)}>{#snippet icon()}<ChevronRight size={16} />{/snippet}</Button>
		{/if}
	</div>
	<div class="pair">
		{#if trim.join}
			{@const join = trim.join}
			<Loupe {bench} name="Before it" atMs={join.before_ms} keptAfter={false} hears="Play the join" onnudge={nudgeJoin('before')} onhear={() => trim.hearJoin()} />
			<Loupe {bench} name="After it" atMs={join.after_ms} keptAfter hears="Play the join" onnudge={nudgeJoin('after')} onhear={() => trim.hearJoin()} />
		{:else}
			<Loupe {bench} name="In point" atMs={edges.start_ms} keptAfter hears="Play from here" onnudge={nudgeEdge('in')} onhear={() => trim.hearEdge('in')} />
			<Loupe {bench} name="Out point" atMs={edges.end_ms} keptAfter={false} hears="Play to here" onnudge={nudgeEdge('out')} onhear={() => trim.hearEdge('out')} />
		{/if}
	</div>
</section>

<style>
	.head {
		display: flex;
		align-items: center;
		min-height: 32px;
	}
	h2 {
		flex: 1;
		font-size: 15px;
	}
	.pair {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 10px;
	}
</style>
