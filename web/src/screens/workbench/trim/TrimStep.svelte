<script lang="ts">
	import { onMount } from 'svelte';
	import type { Pause } from '$api/client';
	import { house } from '$api/house.svelte';
	import MapStrip from '$page/Map.svelte';
	import Limit from '$page/layers/Limit.svelte';
	import Page from '$page/Page.svelte';
	import type { PauseChip } from '$page/pauses';
	import Tabs from '$ui/Tabs.svelte';
	import Stage from '../Stage.svelte';
	import CutTab from './CutTab.svelte';
	import FairTab from './FairTab.svelte';
	import FitTab from './FitTab.svelte';
	import HistoryTab from './HistoryTab.svelte';
	import type { Trim } from './trim.svelte';

	let { trim }: { trim: Trim } = $props();

	let sheet = $state<ReturnType<typeof Page>>();
	let view = $state({ fromMs: 0, toMs: 0 });
	const bench = $derived(trim.bench);
	const player = $derived(bench.player!);
	const quote = $derived(bench.quote!);
	const span = $derived(quote.document.span);
	const name = $derived(house.destination(bench.shown)?.name ?? '');
	const notes = $derived(bench.unfair.filter((one) => one.accepted === null).length);
	const over = $derived((quote.gauges.find((one) => one.destination === bench.shown)?.over_ms ?? 0) > 0);

	/** The pauses to show, but for those that the page shows as space between sentences as they were said. */
	const pauses = $derived(
		new Map<number, PauseChip>(
			(bench.cut?.pauses ?? []).map((one) => [
				one.after,
				{ after: one.after, before: one.before, said: one.said_ms, kept: one.kept_ms, join: one.join, chosen: one.before === trim.pauseBefore, times: pace(one) }
			])
		)
	);
	const mark = $derived(
		bench.limit?.said_ms === null || bench.limit?.said_ms === undefined
			? null
			: { ms: bench.limit.said_ms, until: span.end_ms, says: `${name} ends here, if nothing is struck` }
	);

	function pace(pause: Pause): number {
		const { fromMs, toMs } = trim.gapOf(pause);
		return trim.fastBetween(fromMs, toMs)?.times ?? 1;
	}

	onMount(() => {
		let tries = 90;
		const open = () => {
			if (sheet?.ready()) sheet.reveal(quote.cut.kept_words[0] ?? 0, true);
			else if (tries--) requestAnimationFrame(open);
		};
		open();
	});

	export function goToWord(word: number): void {
		const ms = bench.talk!.startsMs[word];
		if (ms === undefined || trim.exceptWord(word)) return;
		bench.cursor = word;
		player.seekSource(ms);
		sheet?.reveal(word);
	}

	export function reveal(word: number): void {
		sheet?.reveal(word);
	}

	function lookAt(word: number): void {
		bench.cursor = word;
		sheet?.reveal(word, true);
	}
</script>

<div class="trim">
	<MapStrip
		durationMs={bench.recording!.duration_ms} peaks={bench.peaks} atMs={player.sourceMs} {view}
		quotes={[{ fromMs: span.start_ms, toMs: span.end_ms, current: true }]} ongo={(ms) => sheet?.revealMs(ms)}
	/>
	<Page
		bind:this={sheet} talk={bench.talk!} peaks={bench.peaks} spoken={player.playing ? bench.spoken : -1} atMs={player.sourceMs}
		selection={bench.selection} wordState={trim.wordState} shade={bench.shade} follow={player.playing} onword={goToWord} {pauses}
		edges={bench.edges} onedge={(edge, word) => void bench.moveEdge(edge, word)}
		onpause={(pause) => { trim.tab = 'cut'; trim.pauseBefore = pause.before; }} onview={(fromMs, toMs) => (view = { fromMs, toMs })}
	>
		{#if mark}<Limit {...mark} />{/if}
	</Page>
	<Stage {bench} />
	<aside aria-label="Trim">
		<Tabs
			name="Trim" open={trim.tab} onopen={(tab) => (trim.tab = tab)}
			tabs={[{ id: 'cut', name: 'Cut' }, { id: 'fit', name: over ? 'Fit !' : 'Fit' }, { id: 'fair', name: 'Fair', count: notes }, { id: 'history', name: 'History' }]}
		/>
		<div class="tab">
			{#if trim.tab === 'cut'}<CutTab {trim} />
			{:else if trim.tab === 'fit'}<FitTab {trim} ongo={lookAt} />
			{:else if trim.tab === 'fair'}<FairTab {trim} ongo={lookAt} />
			{:else}<HistoryTab {bench} />{/if}
		</div>
	</aside>
</div>

<style>
	.trim {
		display: grid;
		grid-template-columns: 56px minmax(0, 1fr) 300px 304px;
		height: 100%;
		min-height: 0;
	}
	aside {
		display: grid;
		grid-template-rows: auto minmax(0, 1fr);
		min-height: 0;
		border-left: 1px solid var(--rule);
		background: var(--paper-raised);
	}
	.tab {
		overflow-y: auto;
		padding: 12px 14px;
	}
	.tab :global(section) {
		padding-bottom: 12px;
		margin-bottom: 12px;
		border-bottom: 1px solid var(--rule);
	}
	.tab :global(.hint) {
		color: var(--ink-soft);
		font-size: 14px;
	}
	:global([data-word].cursor) {
		outline: 2px solid var(--note);
		outline-offset: -1px;
	}
</style>
