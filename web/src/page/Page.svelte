<script lang="ts">
	/** A talk as a page to read, choose and cut in. What stands beside the words are layers, given as children. */
	import { onMount, untrack, type Snippet } from 'svelte';
	import { Dragging, type Edge, type Edges } from './dragging.svelte';
	import { between, isSpaced, LINE_PX, layOut, lineOfWord, yAt, type Laid } from './layout';
	import Between from './layers/Between.svelte';
	import Wave from './layers/Wave.svelte';
	import Words from './layers/Words.svelte';
	import { readingFace, widthOf } from './measure';
	import { CHIP_PX, type PauseChip, type Pauses } from './pauses';
	import type { WordSelection } from './selection.svelte';
	import { shareSheet, Sheet } from './sheet';
	import type { Talk } from './talk';
	import type { Shade } from './wave';

	type Props = {
		talk: Talk;
		peaks: Uint8Array | null;
		shade?: (ms: number) => Shade;
		/** The word that is heard now, -1 where none is, and the moment. */
		spoken: number;
		atMs: number;
		/** Whether the page goes along with what is heard. */
		follow?: boolean;
		selection: WordSelection;
		/** What more there is to say of a word, as classes: hit, here, struck, out, doubtful. */
		wordState?: (word: number) => string;
		/** The number of a speaker's colour. */
		tone?: (speaker: string) => number | undefined;
		/** Pauses to show with their length before and after. */
		pauses?: Pauses;
		onpause?: (pause: PauseChip) => void;
		edges?: Edges | null;
		onedge?: (edge: Edge, word: number) => void;
		onword: (word: number) => void;
		onedit?: (word: number) => void;
		onview?: (fromMs: number, toMs: number) => void;
		/** The room beside the words for lanes, in pixels. */
		besidePx?: number;
		children?: Snippet;
	};
	let {
		talk, peaks, shade, spoken, atMs, follow = false, selection, wordState = () => '', tone = () => undefined, pauses = new Map(), onpause,
		edges = null, onedge, onword, onedit, onview, besidePx = 56, children
	}: Props = $props();

	let scroller: HTMLDivElement;
	let textWidth = $state(0);
	let height = $state(600);
	let top = $state(0);
	let faceReady = $state(false);
	onMount(() => void readingFace().then(() => (faceReady = true)));

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
	shareSheet(
		new Sheet({
			get talk() { return talk; },
			get laid() { return laid; },
			get top() { return top; },
			get height() { return height; }
		})
	);
	const dragging = new Dragging({
		get selection() { return selection; },
		get edges() { return edges; },
		onword: (word) => onword(word),
		onedge: (edge, word) => onedge?.(edge, word)
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

	function wordUnder(event: MouseEvent): number | null {
		const at = document.elementFromPoint(event.clientX, event.clientY)?.closest<HTMLElement>('[data-word]');
		return at ? Number(at.dataset.word) : null;
	}

	function pressed(event: PointerEvent): void {
		const word = wordUnder(event);
		if (word !== null && event.button === 0 && dragging.press(word, event.shiftKey)) scroller.setPointerCapture(event.pointerId);
	}

	function gripped(event: PointerEvent, edge: Edge): void {
		event.stopPropagation();
		if (event.button === 0 && dragging.grip(edge)) scroller.setPointerCapture(event.pointerId);
	}

	function dragged(event: PointerEvent): void {
		if (!dragging.going) return;
		const box = scroller.getBoundingClientRect();
		if (event.clientY > box.bottom - 28) scroller.scrollTop += 14;
		if (event.clientY < box.top + 28) scroller.scrollTop -= 14;
		dragging.over(wordUnder(event));
	}
</script>

<div class="page" class:pulling={dragging.pulled} style:--beside="{besidePx}px" bind:clientHeight={height}>
	<Wave {peaks} {shade} />
	<!-- The words are reached and chosen by keys that the place listens to; the page itself takes the focus. -->
	<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
	<div
		class="scroller" bind:this={scroller} tabindex="0" role="document" aria-label="Transcript"
		onscroll={(event) => (top = event.currentTarget.scrollTop)} onpointerdown={pressed} onpointermove={dragged}
		onpointerup={() => dragging.release()} onpointercancel={() => dragging.cancel()}
		ondblclick={(event) => { const word = wordUnder(event); if (word !== null) onedit?.(word); }}
	>
		<div class="sheet" style:height="{laid.height}px">
			<div class="measure" bind:clientWidth={textWidth}></div>
			{#if laid.lines.length}<div class="playhead" style:top="{yAt(laid, atMs)}px"></div>{/if}
			{@render children?.()}
			<Between {pauses} {onpause} {tone} />
			<Words {selection} {dragging} {spoken} {wordState} {edges} ongrip={gripped} {pauses} {inLine} {onpause} />
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
		right: var(--beside);
	}
	.playhead {
		position: absolute;
		left: 58px;
		width: 60px;
		height: 2px;
		margin-top: -1px;
		background: var(--struck);
	}
	.pulling {
		cursor: col-resize;
	}
</style>
