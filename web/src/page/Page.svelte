<script lang="ts" module>
	/** A stretch of time in a lane beside the words: a shot, or a face; `tone` is the number of its colour. */
	export type Strip = { id: string; lane: number; fromMs: number; toMs: number; tone: number; label: string; byHand?: boolean };
	/** A stretch of words that is offered as a soundbite, braced in the margin. */
	export type Brace = { first: number; last: number; label: string; current: boolean };
	/** A pause as it was said and as it is kept, after a word; `chosen` is the one in hand. */
	export type PauseChip = { after: number; before: number; said: number; kept: number; join: boolean; chosen: boolean };
	/** A line across the page at a moment, and what it says. */
	export type Mark = { ms: number; says: string; until: number };
	/** The first and last word of what is kept, each with a grip to drag it by. */
	export type Edges = { first: number; last: number };
	export type Edge = 'in' | 'out';
	const NO_PAUSES = new Map<number, PauseChip>();
	export type Bracket = { id: number; first: number; last: number; label: string; href?: string; current?: boolean };
</script>

<script lang="ts">
	import { onMount, untrack } from 'svelte';
	import { clock } from '$ui/say';
	import { between, isSpaced, LINE_PX, lineOfWord, layOut, yAt, type Laid, type Line } from './layout';
	import { readingFace, widthOf } from './measure';
	import type { WordSelection } from './selection.svelte';
	import type { Talk } from './talk';
	import { drawWave, type Shade } from './wave';

	type Props = {
		talk: Talk;
		peaks: Uint8Array | null;
		spoken: number;
		atMs: number;
		selection: WordSelection;
		brackets?: Bracket[];
		braces?: Brace[];
		onbrace?: (place: number) => void;
		strips?: Strip[];
		/** The number of a speaker's colour. */
		tone?: (speaker: string) => number | undefined;
		onstrip?: (strip: Strip) => void;
		/** Pauses to show with their length before and after, by the word that they come after. */
		pauses?: Map<number, PauseChip>;
		onpause?: (pause: PauseChip) => void;
		mark?: Mark | null;
		edges?: Edges | null;
		/** An edge was dragged to a word, which is the first or the last that is kept. */
		onedge?: (edge: Edge, word: number) => void;
		onedit?: (word: number) => void;
		follow?: boolean;
		/** What more there is to say of a word, as classes: hit, here, struck, out, doubtful. */
		look?: (word: number) => string;
		shade?: (ms: number) => Shade;
		onword: (word: number) => void;
		onview?: (fromMs: number, toMs: number) => void;
	};
	let {
		talk, peaks, spoken, atMs, selection, brackets = [], braces = [], onbrace, strips = [], tone = () => undefined, onstrip, pauses = NO_PAUSES, onpause, mark = null, edges = null, onedge, onedit, follow = false, look = () => '', shade = () => 'plain', onword, onview
	}: Props = $props();

	const OVER_PX = 280;
	const WAVE_PX = 56;
	const CHIP_PX = 82;
	const chipText = (chip: PauseChip) =>
		chip.said === chip.kept || chip.join ? `${(chip.kept / 1000).toFixed(1)} s` : `${(chip.said / 1000).toFixed(1)} → ${(chip.kept / 1000).toFixed(1)} s`;
	let scroller: HTMLDivElement;
	let canvas: HTMLCanvasElement;
	let textWidth = $state(0);
	let height = $state(600);
	let top = $state(0);
	let faceReady = $state(false);
	let inks = $state.raw<Record<Shade, string> | null>(null);
	const ratio = devicePixelRatio || 1;

	/** Words with a chip after them, to be laid out anew only where those change. */
	const chipped = $derived([...pauses.values()].filter((one) => !isSpaced(talk, one.before)).map((one) => one.after).join());
	const inLine = $derived(new Set(chipped ? chipped.split(',').map(Number) : []));
	const chipRoom = $derived.by(() => {
		const words = inLine;
		return (word: number) => (words.has(word) ? CHIP_PX : 0);
	});
	const laid: Laid = $derived(
		faceReady && textWidth > 40 ? layOut(talk, textWidth - 4, widthOf, widthOf(' '), chipRoom) : { lines: [], bands: [], chips: [], height: 0 }
	);
	const lines = $derived(between(laid.lines, top - OVER_PX, top + height + OVER_PX));
	const chips = $derived(between(laid.chips, top - OVER_PX, top + height + OVER_PX));
	/** Stretches of words that are in sight, with the lines they begin and end on. */
	function laned<T extends { first: number; last: number }>(stretches: T[]) {
		return stretches
			.map((one, place) => ({ one, place, from: lineOfWord(laid, one.first), to: lineOfWord(laid, one.last) }))
			.filter((lane) => lane.from && lane.to && lane.to.y > top - OVER_PX && lane.from.y < top + height + OVER_PX);
	}
	/** Stretches that share lines stand beside one another, so that each can be read. */
	const beside = $derived.by(() => {
		const ends: number[] = [];
		const inOrder = [...brackets].sort((a, b) => a.first - b.first);
		return inOrder.map((one) => {
			const from = lineOfWord(laid, one.first)?.y ?? 0;
			const free = ends.findIndex((end) => end < from);
			const lane = free < 0 ? ends.length : free;
			ends[lane] = lineOfWord(laid, one.last)?.y ?? 0;
			return { ...one, lane };
		});
	});
	const lanes = $derived(laned(beside));
	const braced = $derived(laned(braces));

	const seen = $derived(
		laid.lines.length
			? strips
					.map((one) => ({ one, y: yAt(laid, one.fromMs), end: yAt(laid, one.toMs) }))
					.filter((strip) => strip.end > top - OVER_PX && strip.y < top + height + OVER_PX)
			: []
	);

	onMount(() => {
		inks = readInks();
		void readingFace().then(() => (faceReady = true));
	});

	/** Brings a word into sight, a third down the page; leaves the page where it is in sight already. */
	export function reveal(word: number, always = false): void {
		const line = lineOfWord(laid, word);
		if (!line || !scroller) return;
		if (!always && line.y > top + 40 && line.y + LINE_PX < top + height - 60) return;
		scroller.scrollTop = Math.max(0, line.y - height / 3);
	}

	export function revealMs(ms: number): void {
		scroller.scrollTop = Math.max(0, yAt(laid, ms) - height / 3);
	}

	export function ready(): boolean {
		return laid.lines.length > 0;
	}

	$effect(() => {
		if (follow && spoken >= 0) untrack(() => reveal(spoken));
	});

	$effect(() => {
		const shown = between(laid.bands, top, top + height);
		const [first, last] = [shown[0], shown.at(-1)];
		if (first && last) onview?.(first.startMs, last.untilMs);
	});

	$effect(() => {
		const pen = canvas.getContext('2d');
		if (!pen || !peaks || !inks) return;
		pen.setTransform(ratio, 0, 0, ratio, 0, 0);
		drawWave(pen, between(laid.bands, top - LINE_PX, top + height), top, peaks, { width: WAVE_PX, height }, shade, inks);
	});

	/** The colours of the wave. Asking for them while scrolling would have every style computed at once. */
	function readInks(): Record<Shade, string> {
		const styles = getComputedStyle(canvas);
		const colour = (name: string) => styles.getPropertyValue(name).trim();
		return { plain: colour('--ink-soft'), kept: colour('--kept'), struck: colour('--struck'), out: colour('--rule') };
	}

	/** The word at an edge, as it is kept now. */
	const edgeWord = (edge: Edge): number => (edge === 'in' ? edges!.first : edges!.last);
	let pulled = $state.raw<{ edge: Edge; word: number } | null>(null);
	let dragFrom: number | null = null;
	let moved = false;

	function wordUnder(event: MouseEvent): number | null {
		const at = document.elementFromPoint(event.clientX, event.clientY)?.closest<HTMLElement>('[data-word]');
		return at ? Number(at.dataset.word) : null;
	}

	function pressed(event: PointerEvent): void {
		const word = wordUnder(event);
		if (word === null || event.button !== 0) return;
		if (event.shiftKey && selection.range) {
			selection.set(word < selection.range.first ? selection.range.last : selection.range.first, word);
			return;
		}
		dragFrom = word;
		moved = false;
		scroller.setPointerCapture(event.pointerId);
	}

	function gripped(event: PointerEvent, edge: Edge): void {
		event.stopPropagation();
		if (event.button !== 0 || !edges) return;
		pulled = { edge, word: edgeWord(edge) };
		scroller.setPointerCapture(event.pointerId);
	}

	function dragged(event: PointerEvent): void {
		if (dragFrom === null && !pulled) return;
		const box = scroller.getBoundingClientRect();
		if (event.clientY > box.bottom - 28) scroller.scrollTop += 14;
		if (event.clientY < box.top + 28) scroller.scrollTop -= 14;
		const word = wordUnder(event);
		if (pulled) {
			if (word !== null && edges) pulled = { edge: pulled.edge, word: pulled.edge === 'in' ? Math.min(word, edges.last) : Math.max(word, edges.first) };
			return;
		}
		if (word === null || dragFrom === null || (word === dragFrom && !moved)) return;
		moved = true;
		selection.set(dragFrom, word);
	}

	function released(): void {
		if (pulled && edges) {
			// A grip lies over the end of its word: a click on it is one on the word.
			if (pulled.word === edgeWord(pulled.edge)) onword(pulled.word);
			else onedge?.(pulled.edge, pulled.word);
		}
		pulled = null;
		if (dragFrom !== null && !moved) {
			selection.clear();
			onword(dragFrom);
		}
		dragFrom = null;
	}

	const classes = (word: number): string => {
		let out = look(word);
		if (selection.holds(word)) out += ' chosen';
		if (word === spoken) out += ' spoken';
		return out + pulling(word);
	};
	/** What would become of a word if the edge that is dragged were let go. */
	function pulling(word: number): string {
		if (!pulled || !edges) return '';
		const { edge, word: to } = pulled;
		const from = edgeWord(edge);
		if (word < Math.min(to, from) || word > Math.max(to, from)) return '';
		const grows = edge === 'in' ? to < from : to > from;
		return grows || word === to ? ' gained' : ' proposed';
	}
	const startsSentence = (line: Line) => line.first === talk.sentences[line.sentence]!.first;
	const playhead = $derived(laid.lines.length ? yAt(laid, atMs) : 0);
</script>

{#snippet grip(edge: Edge)}<button
		type="button" tabindex="-1" class="grip" data-edge={edge} aria-label={edge === 'in' ? 'Drag the in point' : 'Drag the out point'}
		title={edge === 'in' ? 'Drag to start elsewhere' : 'Drag to end elsewhere'} onpointerdown={(event) => gripped(event, edge)}
	></button>{/snippet}

<div class="page" class:pulling={pulled} class:with-strips={strips.length > 0} bind:clientHeight={height}>
	<canvas bind:this={canvas} class="wave" width={WAVE_PX * ratio} height={Math.round(height * ratio)} style:height="{height}px" aria-hidden="true"></canvas>
	<!-- The words are reached and chosen by keys that the place listens to; the page itself takes the focus. -->
	<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
	<div
		class="scroller" bind:this={scroller} tabindex="0" role="document" aria-label="Transcript"
		onscroll={(event) => (top = event.currentTarget.scrollTop)} onpointerdown={pressed} onpointermove={dragged} onpointerup={released}
		onpointercancel={() => { dragFrom = null; pulled = null; }}
		ondblclick={(event) => { const word = wordUnder(event); if (word !== null) onedit?.(word); }}
	>
		<div class="sheet" style:height="{laid.height}px">
			<div class="measure" bind:clientWidth={textWidth}></div>
			{#if mark && laid.lines.length}
				{@const y = yAt(laid, mark.ms)}
				<div class="beyond" style:top="{y}px" style:height="{Math.max(0, yAt(laid, mark.until) - y)}px"></div>
				<div class="limit" style:top="{y}px"><span>{mark.says}</span></div>
			{/if}
			{#if laid.lines.length}<div class="playhead" style:top="{playhead}px"></div>{/if}
			{#each chips as chip (chip.kind + chip.y)}
				{@const colour = chip.kind === 'speaker' ? tone(chip.text) : undefined}
				{@const pause = chip.kind === 'pause' ? pauses.get(chip.word - 1) : undefined}
				<div class="chip" data-kind={chip.kind} class:handled={pause} style:top="{chip.y}px">
					{#if pause}
						<button
							type="button" tabindex="-1" class="pause" data-changed={pause.said !== pause.kept && !pause.join} data-chosen={pause.chosen}
							onpointerdown={(event) => event.stopPropagation()} onclick={() => onpause?.(pause)}>{chipText(pause)}</button>
					{:else}{#if colour !== undefined}<i style:background="var(--speaker-{colour})"></i>{/if}{chip.text}{/if}
				</div>
			{/each}
			{#each lines as line (line.first)}
				<div class="line" style:top="{line.y}px">
					{#if startsSentence(line)}<span class="time">{clock(line.startMs)}</span>{/if}
					<p>{#each { length: line.end - line.first } as _, i (i)}{@const word = line.first + i}<span
								data-word={word} class={classes(word)}>{#if word === edges?.first}{@render grip('in')}{/if}{talk.texts[word]}{#if word === edges?.last}{@render grip('out')}{/if}{i < line.end - line.first - 1 ? ' ' : ''}</span>{#if inLine.has(word) && pauses.has(word)}{@const chip = pauses.get(word)!}<button
								type="button" tabindex="-1" class="pause" data-changed={chip.said !== chip.kept && !chip.join} data-chosen={chip.chosen}
								title={chip.join ? `The pause at this join: ${chipText(chip)}` : `Said ${(chip.said / 1000).toFixed(2)} s, kept ${(chip.kept / 1000).toFixed(2)} s`}
								onpointerdown={(event) => event.stopPropagation()} onclick={() => onpause?.(chip)}>{chipText(chip)}</button>{/if}{/each}</p>
				</div>
			{/each}
			{#each seen as { one, y, end } (one.id)}
				<button
					type="button" tabindex="-1" class="strip" class:by-hand={one.byHand} title={one.label} aria-label={one.label}
					style:right="{52 + one.lane * 13}px" style:top="{y + 1}px" style:height="{Math.max(3, end - y - 2)}px"
					style:background="var(--speaker-{one.tone})" onclick={() => onstrip?.(one)}
				></button>
			{/each}
			{#each braced as { one, place, from, to } (place)}
				<button
					type="button" tabindex="-1" class="brace" data-current={one.current} title={one.label} aria-label={one.label}
					style:top="{from!.y + 2}px" style:height="{to!.y - from!.y + LINE_PX - 4}px" onclick={() => onbrace?.(place)}
				></button>
			{/each}
			{#each lanes as { one, from, to } (one.id)}
				<svelte:element
					this={one.href ? 'a' : 'div'} class="bracket" href={one.href} data-current={one.current} title={one.label}
					style:top="{from!.y + 3}px" style:height="{to!.y - from!.y + LINE_PX - 6}px" style:right="{10 + Math.min(one.lane, 2) * 16}px"
				>
					<span>{one.label}</span>
				</svelte:element>
			{/each}
		</div>
	</div>
</div>

<style>
	.page {
		position: relative;
		min-width: 0;
		min-height: 0;
		height: 100%;
		background: var(--paper);
	}
	.wave {
		position: absolute;
		left: 60px;
		top: 0;
		width: 56px;
		pointer-events: none;
	}
	.scroller {
		height: 100%;
		overflow-y: scroll;
		overflow-x: hidden;
		touch-action: pan-y;
		user-select: none;
	}
	.scroller:focus-visible {
		outline-offset: -3px;
	}
	.sheet {
		position: relative;
	}
	.measure {
		position: absolute;
		left: 132px;
		right: 56px;
	}
	.with-strips :is(.measure, .line) {
		right: 108px;
	}
	.strip {
		position: absolute;
		width: 9px;
		padding: 0;
		border: 0;
		border-radius: 2px;
		opacity: 0.75;
		cursor: pointer;
	}
	.strip:hover {
		opacity: 1;
	}
	.brace {
		position: absolute;
		left: 117px;
		width: 10px;
		padding: 0;
		border: 3px solid var(--found);
		border-right: 0;
		border-radius: 6px 0 0 6px;
		background: none;
		cursor: pointer;
	}
	.brace:hover,
	.brace[data-current='true'] {
		background: var(--found);
	}
	.by-hand {
		border-top: 3px solid var(--note);
	}
	.line {
		position: absolute;
		left: 132px;
		right: 56px;
		height: 28px;
	}
	.line p {
		font: 17px/28px var(--reading);
		white-space: pre;
		width: max-content;
	}
	.time {
		position: absolute;
		left: -132px;
		width: 52px;
		color: var(--ink-soft);
		font-size: 13px;
		line-height: 28px;
		text-align: right;
	}
	.playhead {
		position: absolute;
		left: 58px;
		width: 60px;
		height: 2px;
		margin-top: -1px;
		background: var(--struck);
	}
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
	.pause {
		min-width: 44px;
		max-width: 78px;
		min-height: 24px;
		margin: 0 3px;
		padding: 0 2px 0 6px;
		border: 0;
		border-left: 2px solid var(--ink-soft);
		border-radius: 0;
		background: none;
		color: var(--ink-soft);
		font: 12px/18px var(--ui);
		font-variant-numeric: tabular-nums;
		text-align: left;
		vertical-align: 1px;
		cursor: pointer;
	}
	.pause:hover {
		background: var(--paper-sunk);
	}
	.pause[data-changed='true'] {
		border-left-color: var(--struck);
		color: var(--struck);
	}
	.pause[data-chosen='true'] {
		border-left: 4px solid var(--note);
		padding-left: 4px;
		background: var(--note-wash);
		color: var(--ink);
	}
	.chip {
		position: absolute;
		left: 132px;
		font-size: 13px;
		line-height: 22px;
		color: var(--ink-soft);
	}
	.chip.handled {
		border: 0;
		padding: 0;
	}
	/* A pause is space on the page, with a bar in the margin of the wave and its length beside it. */
	.chip.handled[data-kind='pause'] {
		left: 116px;
	}
	.chip[data-kind='pause']:not(.handled) {
		padding-left: 8px;
		border-left: 2px solid var(--rule);
		line-height: 20px;
		font-size: 12px;
		font-variant-numeric: tabular-nums;
	}
	.chip[data-kind='speaker'] {
		font-weight: 700;
		line-height: 30px;
	}
	.chip i {
		display: inline-block;
		width: 9px;
		height: 9px;
		margin-right: 7px;
		border-radius: 50%;
	}
	[data-word] {
		border-radius: 3px;
		cursor: text;
	}
	[data-word]:hover {
		background: var(--paper-sunk);
	}
	:global([data-word].rough) {
		text-decoration: underline dotted var(--rule) 2px;
		text-underline-offset: 5px;
	}
	:global([data-word].doubt) {
		text-decoration: underline wavy var(--warn) 1px;
		text-underline-offset: 5px;
	}
	:global([data-word].corrected) {
		box-shadow: inset 0 -1px var(--good);
	}
	:global([data-word].offered) {
		background: color-mix(in srgb, var(--found-wash) 45%, transparent);
		border-radius: 0 !important;
	}
	:global([data-word].hit) {
		background: var(--found-wash);
		box-shadow: inset 0 -2px var(--found);
	}
	:global([data-word].here) {
		background: var(--found) !important;
	}
	:global([data-word].out) {
		color: var(--ink-soft);
	}
	:global([data-word].kept) {
		background: color-mix(in srgb, var(--kept-wash) 55%, transparent);
		border-radius: 0 !important;
	}
	:global([data-word].past) {
		background: repeating-linear-gradient(-45deg, var(--struck-wash) 0 5px, transparent 5px 9px);
	}
	:global([data-word].proposed) {
		color: var(--struck);
		text-decoration: line-through dotted var(--struck) 2px;
		background: var(--found-wash);
	}
	:global([data-word].gained) {
		background: var(--kept-wash) !important;
		border-radius: 0 !important;
		box-shadow: inset 0 -2px var(--kept);
	}
	.grip {
		/* It takes no room in its line: words are laid out as if it were not there. */
		position: absolute;
		width: 16px;
		height: 32px;
		margin: -2px 0 0 -9px;
		padding: 0;
		border: 0;
		background: none;
		cursor: col-resize;
		touch-action: none;
	}
	.grip::before {
		content: '';
		position: absolute;
		left: 6px;
		top: 0;
		width: 4px;
		height: 100%;
		border-radius: 2px;
		background: var(--kept);
	}
	.grip[data-edge='in']::before {
		border-radius: 6px 0 0 6px;
	}
	.grip[data-edge='out']::before {
		border-radius: 0 6px 6px 0;
	}
	.grip:hover::before {
		left: 5px;
		width: 7px;
	}
	.pulling,
	.pulling [data-word] {
		cursor: col-resize;
	}
	:global([data-word].unfair) {
		box-shadow: inset 0 -3px var(--warn);
	}
	:global([data-word].struck) {
		color: var(--struck);
		text-decoration: line-through;
		text-decoration-thickness: 2px;
	}
	:global([data-word].chosen) {
		background: var(--note-wash) !important;
		border-radius: 0 !important;
		box-shadow: inset 0 -2px var(--note);
	}
	:global([data-word].spoken) {
		box-shadow: inset 0 -3px var(--kept);
		background: var(--kept-wash);
	}
	.bracket {
		position: absolute;
		right: 10px;
		width: 34px;
		border: 2px solid var(--kept);
		border-left: 0;
		border-radius: 0 5px 5px 0;
		color: var(--kept);
		text-decoration: none;
	}
	.bracket[data-current='true'] {
		border-color: var(--note);
		color: var(--note);
	}
	.bracket span {
		position: absolute;
		right: 2px;
		top: 2px;
		bottom: 2px;
		overflow: hidden;
		font-size: 12px;
		line-height: 14px;
		writing-mode: vertical-rl;
		white-space: nowrap;
		text-overflow: ellipsis;
	}
	a.bracket:hover {
		background: var(--kept-wash);
	}
</style>
