<script lang="ts">
	import { onMount } from 'svelte';
	import Ear from '@lucide/svelte/icons/ear';
	import RotateCcw from '@lucide/svelte/icons/rotate-ccw';
	import Scissors from '@lucide/svelte/icons/scissors';
	import MapStrip from '$page/Map.svelte';
	import Page from '$page/Page.svelte';
	import Button from '$ui/Button.svelte';
	import { many } from '$ui/say';
	import type { Bench } from './bench.svelte';
	import EdgeLoupe from './EdgeLoupe.svelte';
	import Stage from './Stage.svelte';

	let { bench }: { bench: Bench } = $props();

	let sheet = $state<ReturnType<typeof Page>>();
	let view = $state({ fromMs: 0, toMs: 0 });
	const player = $derived(bench.player!);
	const quote = $derived(bench.quote!);
	const span = $derived(quote.document.span);

	onMount(() => {
		let tries = 90;
		const open = () => {
			if (sheet?.ready()) sheet.reveal(quote.kept_words[0] ?? 0, true);
			else if (tries--) requestAnimationFrame(open);
		};
		open();
	});

	export function goToWord(word: number): void {
		const ms = bench.talk!.startsMs[word];
		if (ms === undefined) return;
		bench.cursor = word;
		player.seekSource(ms);
		sheet?.reveal(word);
	}

	export function reveal(word: number): void {
		sheet?.reveal(word);
	}

	const chosen = $derived.by(() => {
		const range = bench.selection.range ?? (bench.cursor === null ? null : { first: bench.cursor, last: bench.cursor });
		if (!range) return null;
		const count = range.last - range.first + 1;
		return { count, struck: Array.from({ length: count }, (_, i) => range.first + i).every((word) => bench.isStruck(word)), ...range };
	});

	function hear(fromEnd: boolean): void {
		bench.playAsSaid(false);
		player.seekOut(fromEnd ? Math.max(0, player.lengthMs - 1500) : 0);
		player.play(fromEnd ? null : 1500);
	}
</script>

<div class="trim">
	<MapStrip
		durationMs={bench.recording!.duration_ms} peaks={bench.peaks} atMs={player.sourceMs} {view}
		quotes={[{ fromMs: span.start_ms, toMs: span.end_ms, current: true }]} ongo={(ms) => sheet?.revealMs(ms)}
	/>
	<Page
		bind:this={sheet} talk={bench.talk!} peaks={bench.peaks} spoken={player.playing ? bench.spoken : -1} atMs={player.sourceMs}
		selection={bench.selection} look={bench.look} shade={bench.shade} follow={player.playing} onword={goToWord}
		onview={(fromMs, toMs) => (view = { fromMs, toMs })}
	/>
	<Stage {bench} />
	<aside aria-label="Trim">
		<section>
			<h2>Words</h2>
			{#if chosen}
				<p class="chosen">{many(chosen.count, 'word')} {bench.selection.range ? 'selected' : 'at the cursor'}</p>
				<div class="row words">
					<Button title="X" onclick={() => bench.strike()}>
						{#snippet icon()}{#if chosen.struck}<RotateCcw size={16} />{:else}<Scissors size={16} />{/if}{/snippet}
						{chosen.struck ? 'Put back' : 'Strike'}
					</Button>
					<Button title="I" onclick={() => bench.edit({ kind: 'move-edge-to-word', edge: 'in', word: chosen.first })}>Start here</Button>
					<Button title="O" onclick={() => bench.edit({ kind: 'move-edge-to-word', edge: 'out', word: chosen.last })}>End here</Button>
				</div>
			{:else}
				<p class="hint">Click a word, or drag over several, to strike them or to start or end there.</p>
			{/if}
		</section>
		<section class="edges">
			<EdgeLoupe {bench} edge="in" onhear={() => hear(false)} />
			<EdgeLoupe {bench} edge="out" onhear={() => hear(true)} />
		</section>
		<section>
			<h2>Listen</h2>
			<div class="row">
				<Button pressed={!bench.asSaid} onclick={() => bench.playAsSaid(false)}>As cut</Button>
				<Button pressed={bench.asSaid} onclick={() => bench.playAsSaid(true)}>
					{#snippet icon()}<Ear size={16} />{/snippet}As said
				</Button>
			</div>
		</section>
		{#if quote.undo_said}<p class="hint last">Last change: {quote.undo_said}</p>{/if}
	</aside>
</div>

<style>
	.trim {
		display: grid;
		grid-template-columns: 56px minmax(0, 1fr) 320px 272px;
		height: 100%;
		min-height: 0;
	}
	aside {
		overflow-y: auto;
		padding: 14px;
		border-left: 1px solid var(--rule);
		background: var(--paper-raised);
	}
	section {
		padding-bottom: 12px;
		margin-bottom: 12px;
		border-bottom: 1px solid var(--rule);
	}
	h2 {
		font-size: 15px;
		margin-bottom: 6px;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 6px;
	}
	.chosen {
		margin-bottom: 6px;
	}
	.words {
		display: grid;
		grid-template-columns: repeat(3, auto);
	}
	.words :global(button) {
		padding-inline: 6px;
	}
	.hint {
		color: var(--ink-soft);
		font-size: 14px;
	}
	.last {
		overflow-wrap: anywhere;
	}
	.edges {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 10px;
	}
	:global([data-word].cursor) {
		outline: 2px solid var(--note);
		outline-offset: -1px;
	}
</style>
