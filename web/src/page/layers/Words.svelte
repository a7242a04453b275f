<script lang="ts">
	/** The words themselves, with the grips of the edges and the pauses within a line. */
	import { clock } from '$ui/say';
	import type { Dragging, Edge, Edges } from '../dragging.svelte';
	import type { Line } from '../layout';
	import type { PauseChip, Pauses } from '../pauses';
	import type { WordSelection } from '../selection.svelte';
	import { theSheet } from '../sheet';
	import PauseButton from './PauseButton.svelte';

	type Props = {
		selection: WordSelection;
		dragging: Dragging;
		spoken: number;
		wordState: (word: number) => string;
		edges: Edges | null;
		ongrip: (event: PointerEvent, edge: Edge) => void;
		pauses: Pauses;
		/** The words that have a pause after them in their line. */
		inLine: Set<number>;
		onpause?: (pause: PauseChip) => void;
	};
	let { selection, dragging, spoken, wordState, edges, ongrip, pauses, inLine, onpause }: Props = $props();

	const sheet = theSheet();
	const lines = $derived(sheet.near(sheet.laid.lines));
	const classes = (word: number): string => {
		let out = wordState(word);
		if (selection.holds(word)) out += ' chosen';
		if (word === spoken) out += ' spoken';
		return out + dragging.fate(word);
	};
	const endsInDoubt = (line: Line) => {
		const sentence = sheet.talk.sentences[line.sentence]!;
		return sentence.doubtfulEnd && line.end === sentence.end && line.end < sheet.talk.texts.length;
	};
	const startsSentence = (line: Line) => line.first === sheet.talk.sentences[line.sentence]!.first;
</script>

{#snippet grip(edge: Edge)}<button
		type="button" tabindex="-1" class="grip" data-edge={edge} aria-label={edge === 'in' ? 'Drag the in point' : 'Drag the out point'}
		title={edge === 'in' ? 'Drag to start elsewhere' : 'Drag to end elsewhere'} onpointerdown={(event) => ongrip(event, edge)}
	></button>{/snippet}

{#each lines as line (line.first)}
	<div class="line" style:top="{line.y}px">
		{#if startsSentence(line)}<span class="time">{clock(line.startMs)}</span>{/if}
		<p>{#each { length: line.end - line.first } as _, i (i)}{@const word = line.first + i}<span
					data-word={word} class={classes(word)}>{#if word === edges?.first}{@render grip('in')}{/if}{sheet.talk.texts[word]}{#if word === edges?.last}{@render grip('out')}{/if}{i < line.end - line.first - 1 ? ' ' : ''}</span>{#if inLine.has(word) && pauses.has(word)}<PauseButton pause={pauses.get(word)!} {onpause} />{/if}{/each}{#if endsInDoubt(line)}<span class="unsure" title="No mark tells that a sentence ends here. B joins it with the next, or ends one at another word."></span>{/if}</p>
	</div>
{/each}

<style>
	.line {
		position: absolute;
		left: 132px;
		right: var(--beside);
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
	.unsure {
		display: inline-block;
		width: 8px;
		height: 18px;
		margin-left: 4px;
		border-right: 2px dotted var(--warn);
		vertical-align: -3px;
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
	:global([data-word].fast) {
		font-style: italic;
		text-decoration: underline double var(--ink-soft) 1px;
		text-underline-offset: 4px;
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
	:global(.pulling) [data-word] {
		cursor: col-resize;
	}
</style>
