<script lang="ts">
	import { onDestroy, untrack } from 'svelte';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import type { QuoteBrief } from '$api/client';
	import { house } from '$api/house.svelte';
	import MapStrip from '$page/Map.svelte';
	import Outline from '$page/Outline.svelte';
	import Braces from '$page/layers/Braces.svelte';
	import Brackets from '$page/layers/Brackets.svelte';
	import Strips from '$page/layers/Strips.svelte';
	import Page from '$page/Page.svelte';
	import type { Brace, Bracket, Strip as LaneStrip } from '$page/stretches';
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
	import Soundbites from './Soundbites.svelte';
	import Strip from './Strip.svelte';
	import Quotes from './Quotes.svelte';
	import TalkPicture from './TalkPicture.svelte';
	import WordEditor from './WordEditor.svelte';
	import Words from './Words.svelte';

	let { id }: { id: number } = $props();

	const finding = untrack(() => new Finding(id));
	const { player, bites } = finding;
	/** Heard before the first word of a soundbite and after its last. */
	const AIR_MS = 120;
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
			if (typed !== finding.searched) void house.trying(() => finding.search(typed)).then((answered) => answered && goToMark(0));
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

	/** Takes a soundbite in hand: selected, so that the gauges tell of it, and in sight. */
	function take(at: number): void {
		bites.at = at;
		showBite();
	}
	function showBite(): void {
		const bite = bites.current;
		if (!bite) return;
		finding.tab = 'bites';
		finding.selection.set(bite.first_word, bite.last_word);
		sheet?.reveal(bite.first_word);
	}
	async function grow(end: 'first' | 'last', step: number): Promise<void> {
		await bites.grow(end, step);
		showBite();
	}
	function hear(): void {
		const bite = bites.current;
		if (!bite) return;
		player.seekSource(Math.max(0, bite.span.start_ms - AIR_MS));
		player.play(bite.span.end_ms + AIR_MS);
	}
	async function decide(verdict: 'kept' | 'parked' | 'unlike'): Promise<void> {
		const bite = bites.current;
		if (!bite) return;
		const decided = await bites.decide(verdict);
		if (!decided) return;
		finding.selection.clear();
		const undo = { name: 'Undo', run: () => void finding.undo() };
		if (decided.kept) tellKept(decided.kept);
		else house.tell('good', verdict === 'parked' ? 'Parked: it is under “Passed over”.' : 'Passed over. Others of its kind count for less now.', undo);
	}
	function tellKept(kept: QuoteBrief): void {
		house.tell('good', `Kept “${kept.title}”.`, { name: 'Trim it', run: () => void goto(`/quote/${kept.id}/trim`) });
	}

	async function keep(): Promise<void> {
		const [bite, range] = [bites.current, finding.selection.range];
		if (bite && range?.first === bite.first_word && range.last === bite.last_word) return decide('kept');
		const kept = await house.trying(() => finding.keep());
		if (!kept) return;
		finding.tab = 'quotes';
		tellKept(kept);
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
	/** Ends a sentence after the last of the selected words, or joins it with the next where it ends there. */
	function turnEnd(): void {
		const talk = finding.talk;
		const after = finding.selection.range?.last ?? finding.spoken;
		if (!talk || after < 0) return;
		finding.tab = 'words';
		const ends = talk.sentences[talk.sentenceOf[after]!]!.end === after + 1;
		void finding.wording.correct({ kind: ends ? 'join-sentences' : 'end-sentence', after });
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
		keep, goToDoubt, turnEnd, edit: () => edit(), goToMark, goToWord, hear,
		goToBite: (step: number) => { if (bites.go(step)) showBite(); },
		grow: (end: 'first' | 'last', step: number) => void grow(end, step), pass: (verdict: 'parked' | 'unlike') => void decide(verdict),
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
			label: `${quote.title}${quote.posted ? ' (posted)' : quote.made ? ' (exported)' : ''}`,
			href: `/quote/${quote.id}/trim`,
			first: wordAt(talk, quote.span.start_ms - 1) + 1,
			last: wordAt(talk, quote.span.end_ms - 1)
		}));
	});
	const braces: Brace[] = $derived(
		bites.list.map((one, i) => ({
			first: one.first_word, last: one.last_word, current: i === bites.at, label: `Soundbite ${i + 1}${one.best[0] ? `: ${one.best[0].text}` : ''}`
		}))
	);
	/** How a soundbite begins and ends. */
	function bounds(bite: { first_word: number; last_word: number }): string {
		const texts = finding.talk?.texts.slice(bite.first_word, bite.last_word + 1) ?? [];
		return texts.length > 26 ? `${texts.slice(0, 14).join(' ')} … ${texts.slice(-9).join(' ')}` : texts.join(' ');
	}
	const hereMark = $derived(finding.marks[finding.markAt]);
	const doubted = $derived(new Set(finding.wording.doubts));
	const offered = $derived(finding.tab === 'bites' ? bites.current : undefined);
	const wordState = $derived((word: number) => {
		if (hereMark && word >= hereMark.first && word <= hereMark.last) return 'hit here';
		if (finding.marked.has(word)) return 'hit';
		if (offered && word >= offered.first_word && word <= offered.last_word) return 'offered';
		const talk = finding.talk;
		if (doubted.has(word)) return 'doubt';
		if (talk?.heard[word] !== null && talk?.heard[word] !== undefined) return 'corrected';
		return talk?.timing[word] === 'e' ? 'rough' : '';
	});
	/** Shots in the outer lane, in two shades by turns; each face in a lane further in. */
	const strips: LaneStrip[] = $derived([
		...(finding.picture && finding.picture.shots.length > 1 ? finding.picture.shots : []).map((shot, i) => ({
			id: `shot-${shot.span.start_ms}`, lane: 0, fromMs: shot.span.start_ms, toMs: shot.span.end_ms, tone: i % 2 ? 5 : 7,
			label: `Shot ${i + 1}${shot.by_hand ? ', its cut set by hand' : ''}`, byHand: shot.by_hand
		})),
		...(finding.picture?.tracks ?? []).map((track) => ({
			id: `face-${track.subject}-${track.start_ms}`, lane: 1 + Math.min(track.subject, 2), fromMs: track.start_ms,
			toMs: track.end_ms, tone: (track.subject + 1) % 8, label: finding.faceName(track.subject)
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
					quotes={finding.recording.quotes.map((one) => ({ fromMs: one.span.start_ms, toMs: one.span.end_ms, made: one.made }))}
					offers={bites.list.map((one, i) => ({ fromMs: one.span.start_ms, toMs: one.span.end_ms, current: i === bites.at }))}
					hits={finding.marks.map((mark, i) => ({ atMs: mark.atMs, current: i === finding.markAt }))}
					ongo={(ms) => sheet?.revealMs(ms)}
				/>
				<Outline topics={bites.offer?.topics ?? []} durationMs={finding.recording.duration_ms} atMs={view.fromMs + (view.toMs - view.fromMs) * 0.4} ongo={(ms) => sheet?.revealMs(ms)} />
				{#if finding.talk.texts.length}
					<Page
						bind:this={sheet} talk={finding.talk} peaks={finding.peaks} spoken={finding.spoken} atMs={player.sourceMs}
						selection={finding.selection} {wordState} tone={finding.wording.toneOf} onedit={edit} follow={player.playing} besidePx={strips.length ? 108 : 56}
						onword={(word) => goToWord(word, true)} onview={(fromMs, toMs) => (view = { fromMs, toMs })}
					>
						<Strips {strips} onstrip={(strip) => { player.seekSource(strip.fromMs); sheet?.revealMs(strip.fromMs); }} />
						<Braces {braces} onbrace={take} />
						<Brackets {brackets} />
					</Page>
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
					<Strip {finding} onkeep={keep} onmark={goToMark} />
					<Tabs
						name="Beside the page" open={finding.tab} onopen={(id) => (finding.tab = id)}
						tabs={[
							{ id: 'bites', name: 'Soundbites', count: bites.list.length },
							{ id: 'quotes', name: 'Quotes', count: finding.recording.quotes.length },
							{ id: 'words', name: 'Words', count: finding.wording.doubts.length },
							{ id: 'shots', name: 'Shots', count: finding.picture?.shots.length }
						]}
					/>
					{#if finding.tab === 'bites'}
						<Soundbites {bites} text={bounds} ontake={take} onhear={hear} ongrow={grow} ondecide={decide} />
					{:else if finding.tab === 'words'}
						<Words {finding} onedit={() => edit()} onreveal={show} ondoubt={goToDoubt} />
					{:else if finding.tab === 'shots'}
						<Shots {finding} ongo={(ms) => { player.seekSource(ms); sheet?.revealMs(ms); }} />
					{:else}
						<Quotes {finding} />
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
		grid-template-columns: 56px 104px minmax(0, 1fr) 432px;
		min-height: 0;
	}
	aside {
		display: grid;
		grid-template-rows: auto auto auto auto minmax(0, 1fr);
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
