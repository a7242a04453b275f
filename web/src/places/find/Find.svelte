<script lang="ts">
	import { onDestroy, untrack } from 'svelte';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { house } from '$api/house.svelte';
	import MapStrip from '$page/Map.svelte';
	import Page, { type Bracket } from '$page/Page.svelte';
	import { wordAt } from '$page/talk';
	import Transport from '$player/Transport.svelte';
	import Gauges from '$ui/Gauges.svelte';
	import { keys } from '$ui/keys.svelte';
	import { trail } from '$ui/trail.svelte';
	import { Finding } from './find.svelte';
	import { findKeys } from './keys';
	import Side from './Side.svelte';
	import TalkPicture from './TalkPicture.svelte';

	let { id }: { id: number } = $props();

	const finding = untrack(() => new Finding(id));
	const player = finding.player;
	let sheet = $state<ReturnType<typeof Page>>();
	let view = $state({ fromMs: 0, toMs: 0 });
	let missing = $state('');
	onDestroy(() => player.close());

	void finding.load().then(
		() => {
			const at = Number(page.url.searchParams.get('t') ?? 0) * 1000;
			if (at > 0) startAt(at);
		},
		(refused: Error) => (missing = refused.message)
	);

	function startAt(ms: number, tries = 60): void {
		if (!sheet?.ready() && tries) {
			requestAnimationFrame(() => startAt(ms, tries - 1));
			return;
		}
		player.seekSource(ms);
		sheet?.revealMs(ms);
	}

	$effect(() => {
		if (finding.recording) trail.set([{ name: 'Shelf', href: '/' }, { name: finding.recording.title }], id);
	});
	$effect(() => {
		void house.recordingsChanged;
		untrack(() => void finding.refresh().catch(() => undefined));
	});
	$effect(() => {
		const typed = page.url.searchParams.get('q') ?? '';
		if (!finding.talk) return;
		untrack(() => {
			if (typed !== finding.searched) void house.trying(() => finding.search(typed)).then(() => goToMark(0));
		});
	});
	$effect(() => {
		void finding.selection.range;
		untrack(() => void house.trying(() => finding.measure()));
	});

	function goToMark(step: number): void {
		const mark = finding.nextMark(step);
		if (mark) sheet?.reveal(mark.first);
	}

	function goToWord(word: number, play: boolean): void {
		const ms = finding.talk?.startsMs[word];
		if (ms === undefined) return;
		player.seekSource(ms);
		if (play && !player.playing) player.play();
		sheet?.reveal(word);
	}

	async function keep(): Promise<void> {
		const kept = await house.trying(() => finding.keep());
		if (kept) house.tell('good', `Kept “${kept.title}”.`, { name: 'Trim it', run: () => void goto(`/quote/${kept.id}/trim`) });
	}

	const actions = {
		keep, goToMark, goToWord,
		reveal: (word: number) => sheet?.reveal(word),
		open: () => {
			const quote = finding.lastKept;
			if (quote) void goto(`/quote/${quote.id}/trim`);
		}
	};
	$effect(() => keys.use('Find', findKeys(finding, actions)));

	const brackets: Bracket[] = $derived.by(() => {
		const talk = finding.talk;
		if (!talk || !finding.recording) return [];
		return finding.recording.quotes.map((quote) => ({
			id: quote.id,
			label: quote.title,
			href: `/quote/${quote.id}/trim`,
			first: wordAt(talk, quote.span.start_ms - 1) + 1,
			last: wordAt(talk, quote.span.end_ms - 1)
		}));
	});
	const hereMark = $derived(finding.marks[finding.markAt]);
	const look = $derived((word: number) => {
		if (hereMark && word >= hereMark.first && word <= hereMark.last) return 'hit here';
		return finding.marked.has(word) ? 'hit' : '';
	});
</script>

{#if missing}
	<p class="missing">{missing} <a href="/">To the shelf</a></p>
{:else}
	<div class="find">
		<div class="work">
			{#if finding.talk && finding.recording}
				<MapStrip
					durationMs={finding.recording.duration_ms} peaks={finding.peaks} atMs={player.sourceMs} {view}
					quotes={finding.recording.quotes.map((one) => ({ fromMs: one.span.start_ms, toMs: one.span.end_ms }))}
					hits={finding.marks.map((mark, i) => ({ atMs: mark.atMs, current: i === finding.markAt }))}
					ongo={(ms) => sheet?.revealMs(ms)}
				/>
				<Page
					bind:this={sheet} talk={finding.talk} peaks={finding.peaks} spoken={finding.spoken} atMs={player.sourceMs}
					selection={finding.selection} {brackets} {look} follow={player.playing} onword={(word) => goToWord(word, true)}
					onview={(fromMs, toMs) => (view = { fromMs, toMs })}
				/>
				<aside>
					<TalkPicture {player} recording={finding.recording} />
					<Transport {player} what="the talk" />
					<Side {finding} onkeep={keep} onmark={goToMark} />
				</aside>
			{:else}
				<p class="missing">Opening the talk…</p>
			{/if}
		</div>
		<Gauges
			gauges={finding.gauges} lengthMs={finding.lengthMs}
			hint="Drag over words, or hold Shift and press the arrow keys, to see what they would fit. Q keeps them as a quote."
		/>
	</div>
{/if}

<style>
	.find {
		display: grid;
		grid-template-rows: minmax(0, 1fr) 64px;
		height: 100%;
	}
	.work {
		display: grid;
		grid-template-columns: 56px minmax(0, 1fr) 432px;
		min-height: 0;
	}
	aside {
		display: grid;
		grid-template-rows: auto auto minmax(0, 1fr);
		min-height: 0;
		border-left: 1px solid var(--rule);
		background: var(--paper-raised);
	}
	.missing {
		grid-column: 1 / -1;
		padding: 48px;
		text-align: center;
		color: var(--ink-soft);
	}
</style>
