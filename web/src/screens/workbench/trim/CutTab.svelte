<script lang="ts">
	/** Cutting by hand: which versions it concerns, words, edges and joins, pauses, and striking by rule. */
	import RotateCcw from '@lucide/svelte/icons/rotate-ccw';
	import Scissors from '@lucide/svelte/icons/scissors';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import { many } from '$ui/say';
	import Edges from './Edges.svelte';
	import Pace from './Pace.svelte';
	import PauseEditor from './PauseEditor.svelte';
	import Rules from './Rules.svelte';
	import type { Trim } from './trim.svelte';
	import VersionCut from './VersionCut.svelte';

	let { trim }: { trim: Trim } = $props();
	const bench = $derived(trim.bench);
	const several = $derived((bench.quote?.versions.length ?? 0) > 1);
	const own = $derived(bench.quote?.versions.find((one) => one.destination === bench.shown)?.cut !== null);
	const name = $derived(house.destination(bench.shown)?.name ?? '');

	const chosen = $derived.by(() => {
		const range = bench.selection.range ?? (bench.cursor === null ? null : { first: bench.cursor, last: bench.cursor });
		if (!range) return null;
		const count = range.last - range.first + 1;
		return { count, struck: Array.from({ length: count }, (_, i) => range.first + i).every((word) => bench.isStruck(word)), ...range };
	});
</script>

{#if several}
	<section aria-label="Which versions">
		<div class="row scope" role="group" aria-label="Cutting concerns">
			<Button pressed={!bench.ownCut} onclick={() => (bench.ownCut = false)}>All versions</Button>
			<Button pressed={bench.ownCut} onclick={() => (bench.ownCut = true)}>{name} only</Button>
		</div>
		{#if own}
			<p class="hint">{name} is cut differently. What you change for all reaches it too.</p>
			<Button kind="quiet" onclick={() => bench.edit({ kind: 'cut-as-base', destination: bench.shown })}>Cut {name} as the others</Button>
		{/if}
	</section>
{/if}
<section aria-label="Words">
	{#if chosen}
		<p class="chosen">{many(chosen.count, 'word')} {bench.selection.range ? 'selected' : 'at the cursor'}</p>
		<div class="row three">
			<Button title="X" onclick={() => bench.strike()}>
				{#snippet icon()}{#if chosen.struck}<RotateCcw size={16} />{:else}<Scissors size={16} />{/if}{/snippet}
				{chosen.struck ? 'Put back' : 'Strike'}
			</Button>
			<Button title="I" onclick={() => bench.moveEdge('in', chosen.first)}>Start here</Button>
			<Button title="O" onclick={() => bench.moveEdge('out', chosen.last)}>End here</Button>
		</div>
		{#if bench.selection.range && !chosen.struck}<Pace {trim} {...trim.spanOf(chosen.first, chosen.last)} />{/if}
	{:else}
		<p class="hint">Click a word, or drag over several, to strike them or to start or end there.</p>
	{/if}
</section>
{#if trim.pause}<PauseEditor {trim} pause={trim.pause} />{/if}
<Rules {trim} />
<Edges {trim} />
<VersionCut {bench} />
{#if bench.quote?.undo_said}<p class="hint last">Last change: {bench.quote.undo_said}</p>{/if}

<style>
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 6px;
	}
	.scope {
		margin-bottom: 4px;
	}
	.chosen {
		margin-bottom: 6px;
	}
	.three {
		display: grid;
		grid-template-columns: repeat(3, auto);
	}
	.three :global(button) {
		padding-inline: 6px;
	}
	.last {
		overflow-wrap: anywhere;
	}
</style>
