<script lang="ts">
	import { onDestroy, untrack } from 'svelte';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { house } from '$api/house.svelte';
	import MapStrip from '$page/Map.svelte';
	import Page, { type Bracket, type Strip } from '$page/Page.svelte';
	import { wordAt } from '$page/talk';
	import Transport from '$player/Transport.svelte';
	import Gauges from '$ui/Gauges.svelte';
	import Progress from '$ui/Progress.svelte';
	import Tabs from '$ui/Tabs.svelte';
	import Transcribing from '$ui/Transcribing.svelte';
	import { keys } from '$ui/keys.svelte';
	import { trail } from '$ui/trail.svelte';
	import { Finding } from './find.svelte';
	import { findKeys } from './keys';
	import Shots from './Shots.svelte';
	import Side from './Side.svelte';
	import TalkPicture from './TalkPicture.svelte';
	import WordEditor from './WordEditor.svelte';
	import Words from './Words.svelte';

	let { id }: { id: number } = $props();

	const finding = untrack(() => new Finding(id));
	const player = finding.player;
	let sheet = $state<ReturnType<typeof Page>>();
	let view = $state({ fromMs: 0, toMs: 0 });
	let missing = $state('');
	let editing = $state<{ first: number; last: number } | null>(null);
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

	/** Opens the editor over the selected words, or over one. */
	function edit(word?: number): void {
		const range = word === undefined ? (finding.selection.range ?? { first: finding.spoken, last: finding.spoken }) : { first: word, last: word };
		if (range.first < 0) return;
		player.pause();
		finding.selection.set(range.first, range.last);
		sheet?.reveal(range.first);
		finding.tab = 'words';
		requestAnimationFrame(() => (editing = range));
	}
	function edited(changed: boolean): void {
		editing = null;
		if (changed) finding.selection.clear();
		document.querySelector<HTMLElement>('[aria-label="Transcript"]')?.focus();
	}
	function show(first: number, last = first): void {
		finding.selection.set(first, last);
		sheet?.reveal(first);
	}
	function goToDoubt(step: number): void {
		const word = finding.nextDoubt(step);
		if (word === undefined) house.tell('good', 'There are no doubtful words here.');
		else show(word);
	}

	const actions = {
		keep, goToDoubt, edit: () => edit(), goToMark, goToWord,
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
	const doubted = $derived(new Set(finding.wording.doubts));
	const look = $derived((word: number) => {
		if (hereMark && word >= hereMark.first && word <= hereMark.last) return 'hit here';
		if (finding.marked.has(word)) return 'hit';
		const talk = finding.talk;
		if (doubted.has(word)) return 'doubt';
		if (talk?.heard[word] !== null && talk?.heard[word] !== undefined) return 'corrected';
		return talk?.timing[word] === 'e' ? 'rough' : '';
	});
	/** Shots in the outer lane, in two shades by turns; each face in a lane further in. */
	const strips: Strip[] = $derived([
		...(finding.picture && finding.picture.shots.length > 1 ? finding.picture.shots : []).map((shot, i) => ({
			id: `shot-${shot.span.start_ms}`, lane: 0, fromMs: shot.span.start_ms, toMs: shot.span.end_ms, tone: i % 2 ? 5 : 7,
			label: `Shot ${i + 1}${shot.by_hand ? ', its cut set by hand' : ''}`, byHand: shot.by_hand
		})),
		...(finding.picture?.tracks ?? []).map((track) => ({
			id: `face-${track.subject}-${track.start_ms}`, lane: 1 + Math.min(track.subject, 2), fromMs: track.start_ms,
			toMs: track.end_ms, tone: (track.subject + 1) % 8, label: `Face ${track.subject + 1}`
		}))
	]);
	const turns = $derived.by(() => {
		const talk = finding.talk;
		if (!talk) return [];
		return talk.sentences.map((one) => ({
			fromMs: talk.startsMs[one.first]!, toMs: talk.endsMs[one.end - 1]!, tone: finding.wording.toneOf(one.speaker ?? '') ?? 5
		}));
	});
	const making = $derived(finding.recording?.work.find((one) => one.kind === 'transcribe' && one.state !== 'done'));
</script>

{#if missing}
	<p class="missing">{missing} <a href="/">To the shelf</a></p>
{:else}
	<div class="find">
		<div class="work">
			{#if finding.talk && finding.recording}
				<MapStrip
					durationMs={finding.recording.duration_ms} peaks={finding.peaks} {turns} atMs={player.sourceMs} {view}
					quotes={finding.recording.quotes.map((one) => ({ fromMs: one.span.start_ms, toMs: one.span.end_ms }))}
					hits={finding.marks.map((mark, i) => ({ atMs: mark.atMs, current: i === finding.markAt }))}
					ongo={(ms) => sheet?.revealMs(ms)}
				/>
				{#if finding.talk.texts.length}
					<Page
						bind:this={sheet} talk={finding.talk} peaks={finding.peaks} spoken={finding.spoken} atMs={player.sourceMs}
						selection={finding.selection} {brackets} {strips} {look} tone={finding.wording.toneOf} onedit={edit}
						onstrip={(strip) => { player.seekSource(strip.fromMs); sheet?.revealMs(strip.fromMs); }} follow={player.playing} onword={(word) => goToWord(word, true)}
						onview={(fromMs, toMs) => (view = { fromMs, toMs })}
					/>
				{:else}
					<div class="wordless">
						<h2>No transcript yet</h2>
						<p>Attach one from the shelf, under the details of this recording, or have one made:</p>
						{#if making}<Progress work={making} />{:else}<div class="make"><Transcribing recordingId={id} replaces={false} /></div>{/if}
						<p class="soft">The recogniser on this machine is rough: expect to correct names and rare words. Doubtful words are marked.</p>
					</div>
				{/if}
				<aside>
					<TalkPicture {player} recording={finding.recording} />
					<Transport {player} what="the talk" />
					<Tabs
						name="Beside the page" open={finding.tab} onopen={(id) => (finding.tab = id)}
						tabs={[
							{ id: 'quotes', name: 'Quotes', count: finding.recording.quotes.length },
							{ id: 'words', name: 'Words', count: finding.wording.doubts.length },
							{ id: 'shots', name: 'Shots', count: finding.picture?.shots.length }
						]}
					/>
					{#if finding.tab === 'words'}
						<Words {finding} onedit={() => edit()} onreveal={show} ondoubt={goToDoubt} />
					{:else if finding.tab === 'shots'}
						<Shots {finding} ongo={(ms) => { player.seekSource(ms); sheet?.revealMs(ms); }} />
					{:else}
						<Side {finding} onkeep={keep} onmark={goToMark} />
					{/if}
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
	{#if editing}
		{#key editing}<WordEditor wording={finding.wording} {...editing} ondone={edited} />{/key}
	{/if}
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
		grid-template-rows: auto auto auto minmax(0, 1fr);
		min-height: 0;
		border-left: 1px solid var(--rule);
		background: var(--paper-raised);
	}
	.wordless {
		display: grid;
		gap: 12px;
		align-content: center;
		justify-items: start;
		padding: 0 15%;
	}
	.wordless h2 {
		font: 600 24px/32px var(--reading);
	}
	.make {
		display: flex;
		flex-wrap: wrap;
		gap: 8px;
	}
	.soft {
		color: var(--ink-soft);
	}
	.missing {
		grid-column: 1 / -1;
		padding: 48px;
		text-align: center;
		color: var(--ink-soft);
	}
</style>
