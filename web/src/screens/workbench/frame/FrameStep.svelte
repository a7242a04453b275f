<script lang="ts">
	import { onMount, untrack } from 'svelte';
	import Page from '$page/Page.svelte';
	import Transport from '$player/Transport.svelte';
	import Give from './Give.svelte';
	import Shapes from './Shapes.svelte';
	import ShotLane from './ShotLane.svelte';
	import ShotPanel from './ShotPanel.svelte';
	import SourceView from './SourceView.svelte';
	import type { Frame } from './frame.svelte';

	let { frame }: { frame: Frame } = $props();

	let sheet = $state<ReturnType<typeof Page>>();
	const bench = $derived(frame.bench);
	const player = $derived(bench.player!);
	const BESIDE_PX = 146;

	onMount(() => {
		void frame.load();
		void frame.lookFirst();
		let tries = 90;
		const open = () => {
			if (sheet?.ready()) sheet.reveal(Math.max(0, bench.spoken), true);
			else if (tries--) requestAnimationFrame(open);
		};
		open();
		return () => frame.close();
	});

	// The words of the shot in hand are in sight, however it was come to.
	$effect(() => {
		void frame.here;
		if (sheet?.ready()) sheet.reveal(Math.max(0, untrack(() => bench.spoken)));
	});

	function goToWord(word: number): void {
		bench.cursor = word;
		player.seekSource(bench.talk!.startsMs[word]!);
	}
</script>

<div class="frame">
	<Page
		bind:this={sheet} talk={bench.talk!} peaks={bench.peaks} spoken={player.playing ? bench.spoken : -1} atMs={player.sourceMs}
		selection={bench.selection} wordState={bench.wordState} shade={bench.shade} follow={player.playing} onword={goToWord} besidePx={BESIDE_PX}
	>
		{#if bench.recording!.width}<ShotLane {frame} />{/if}
	</Page>
	<div class="looking" class:comparing={frame.comparing} aria-label="Stage" role="group">
		{#if bench.recording!.width}
			<SourceView {frame} />
		{:else}
			<p class="hint">This recording has sound only. Its versions show the colour, with the captions on it.</p>
		{/if}
		<Shapes shapes={frame.comparing && bench.version ? [bench.version] : frame.shapes} {frame} />
		<Transport {player} what="the cut" loop openingMs={3000} />
	</div>
	<ShotPanel {frame} />
</div>
{#if frame.giving}<Give {frame} onclose={() => { frame.giving = false; bench.endTrial(); }} />{/if}

<style>
	.frame {
		display: grid;
		grid-template-columns: minmax(430px, 3fr) minmax(0, 4fr) 284px;
		height: 100%;
		min-height: 0;
	}
	/* In their places by name: in comparing, the stage lies over the words. */
	.frame > :global(:first-child) {
		grid-area: 1 / 1;
	}
	.frame > :global(:last-child) {
		grid-area: 1 / 3;
	}
	.looking {
		grid-area: 1 / 2;
		display: grid;
		grid-template-rows: minmax(0, 1fr) minmax(0, 218px) auto;
		grid-template-columns: minmax(0, 1fr);
		min-width: 0;
		min-height: 0;
		background: var(--stage);
		color: var(--stage-text);
	}
	/* Over the words, so that both are as large as can be. */
	.comparing {
		grid-area: 1 / 1 / 2 / 3;
		z-index: 1;
		grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
		grid-template-rows: minmax(0, 1fr) auto;
	}
	.comparing > :global(:last-child) {
		grid-column: 1 / -1;
	}
	.hint {
		place-self: center;
		padding: 32px;
		text-align: center;
	}
</style>
