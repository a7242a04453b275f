<script lang="ts">
	import { tick, untrack } from 'svelte';
	import EyeOff from '@lucide/svelte/icons/eye-off';
	import Pin from '@lucide/svelte/icons/pin';
	import type { CaptionLook, Cue, Edit } from '$api/client';
	import Button from '$ui/Button.svelte';
	import { fineClock } from '$ui/say';
	import { firstOf, lastOf, type Captions, type Slip } from './captions.svelte';
	import CueBars from './CueBars.svelte';
	import Everywhere from './Everywhere.svelte';
	import LookControls from './LookControls.svelte';
	import { differs, placeAt, placesIn, saidIn, textOf, typedTime, wordsBefore } from './tokens';

	type Props = { captions: Captions; slip: Slip; before?: Cue; after?: Cue; translation: string | null };
	let { captions, slip, before, after, translation }: Props = $props();

	const cue = $derived(slip.cue);
	const told = $derived(textOf(cue));
	const faults = $derived(slip.hidden ? [] : captions.problemsOf(cue));
	const inHand = $derived(captions.hand === firstOf(cue));
	const here = $derived(!slip.hidden && captions.here >= cue.first_frame && captions.here < cue.end_frame);
	const shownS = $derived(captions.msOf(cue.end_frame - cue.first_frame) / 1000);
	const limits = $derived(captions.track!.limits);
	const heard = $derived(cue.added ? [] : heardIn());
	const misheard = $derived(heard.length ? differs(heard, saidIn(told.text).split(' ')) : null);
	/** What is written otherwise in the talk's words too, once somebody asks: as it was then, since it is no other after that. */
	let everywhere = $state.raw<{ heard: string; said: string; first: number } | null>(null);
	const contrast = $derived(captions.contrastOf(cue));
	let field = $state<HTMLTextAreaElement>();

	function heardIn(): string[] {
		const talk = captions.bench.talk;
		if (!talk) return [];
		const kept = new Set(captions.bench.cut?.kept_words);
		const words: string[] = [];
		for (let index = firstOf(cue); index <= lastOf(cue); index++) if (kept.has(index)) words.push(talk.texts[index]!);
		return saidIn(told.text).replace(/\s/g, '') === words.join('') ? [] : words;
	}

	// After the cues were made anew the caret is where somebody works on.
	$effect(() => {
		const caret = captions.caret;
		const now = told;
		if (!caret || !field || slip.hidden || captions.bench.resolved?.revision === caret.after) return;
		const at = now.tokens.find((one) => one.word.index === caret.word);
		if (!at) return;
		const box = field;
		untrack(() => (captions.caret = null));
		void tick().then(() => {
			box.focus();
			const place = caret.end ? at.end : at.start;
			box.setSelectionRange(place, place);
		});
	});

	async function commit(): Promise<boolean> {
		const text = saidIn(field!.value);
		if (text === saidIn(told.text)) return true;
		return captions.correct(cue, text);
	}

	/** The word at which a caret parts the cue; none where that is not known any more. */
	function wordAtCaret(caret: number): number | null {
		const text = field!.value;
		if (saidIn(text) === saidIn(told.text)) {
			const place = placeAt(told.tokens, caret);
			return place === null || place === 0 ? null : told.tokens[place]!.word.index;
		}
		const place = wordsBefore(text, caret);
		const same = saidIn(text).split(' ').length === told.tokens.length;
		return same && place > 0 && place < told.tokens.length ? told.tokens[place]!.word.index : null;
	}

	async function part(at: 'cue' | 'line'): Promise<void> {
		const word = wordAtCaret(field!.selectionStart);
		if (!(await commit()) || word === null || word === firstOf(cue)) return;
		void captions.edit({ kind: 'part-caption', word, at }, { word, end: false });
	}

	function emphasise(): void {
		const places = placesIn(told.tokens, field!.selectionStart, field!.selectionEnd) ?? placesIn(told.tokens, field!.selectionStart - 1, field!.selectionStart + 1);
		if (!places) return;
		const [first, last] = [told.tokens[places.first]!.word, told.tokens[places.last]!.word];
		void captions.edit({ kind: 'emphasise-words', first: first.index, last: last.index, on: !first.emphasised }, { word: last.index, end: true });
	}

	function keyed(event: KeyboardEvent): void {
		const box = event.currentTarget as HTMLTextAreaElement;
		const alone = box.selectionStart === box.selectionEnd;
		const other = (by: 1 | -1) => {
			const all = [...(box.closest('ol')?.querySelectorAll<HTMLTextAreaElement>('textarea.said') ?? [])];
			all[all.indexOf(box) + by]?.focus();
		};
		if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) void commit().then(() => other(1));
		else if (event.key === 'Enter') void part(event.shiftKey ? 'line' : 'cue');
		else if (event.key === 'Backspace' && alone && box.selectionStart === 0) void commit().then(() => before && captions.join(cue, before));
		else if (event.key === 'Delete' && alone && box.selectionStart === box.value.length) void commit().then(() => after && captions.join(cue, after));
		else if (event.key === 'ArrowUp' && alone && box.value.lastIndexOf('\n', box.selectionStart - 1) < 0) other(-1);
		else if (event.key === 'ArrowDown' && alone && box.value.indexOf('\n', box.selectionStart) < 0) other(1);
		else if (event.key === 'e' && (event.ctrlKey || event.metaKey)) emphasise();
		else if (event.key === 'Escape') {
			box.value = told.text;
			box.blur();
		} else return;
		event.preventDefault();
	}

	/** What is being typed as a time: an answer that comes meanwhile does not write over it. */
	let typing = $state.raw<{ in?: string; out?: string; asked?: boolean }>({});

	function timed(edge: 'in' | 'out', event: KeyboardEvent | Event): void {
		const box = event.currentTarget as HTMLInputElement;
		const frame = edge === 'in' ? cue.first_frame : cue.end_frame;
		if (event instanceof KeyboardEvent) {
			const by = { ArrowUp: 1, ArrowDown: -1 }[event.key];
			if (!by) return;
			event.preventDefault();
			typing = {};
			void captions.time(cue, edge, captions.msOf(frame + by));
			return;
		}
		const ms = typedTime(box.value);
		// What was typed stays until it is answered, but for what is no time.
		if (ms === null) box.value = fineClock(captions.msOf(frame));
		const begun = (typing = ms === null ? {} : { ...typing, asked: true });
		if (ms !== null) void captions.time(cue, edge, ms).finally(() => typing === begun && (typing = {}));
	}

	const range = $derived({ first: firstOf(cue), last: lastOf(cue) });

	let looks = $state(false);
	const ownLook = $derived(Object.keys(cue.look ?? {}).length > 0);
	const dressed = (change: Partial<CaptionLook>): Edit => ({ kind: 'change-cue-look', ...range, look: change });
	const dress = (change: Partial<CaptionLook>) => void captions.edit(dressed(change));
</script>

{#snippet time(name: string, edge: 'in' | 'out', frame: number)}
	<label>{name} <input
		value={typing[edge] ?? fineClock(captions.msOf(frame))} title="Type a time, or go by frames with the up and down keys" oninput={(event) => (typing = { [edge]: event.currentTarget.value })}
		onchange={(event) => timed(edge, event)} onkeydown={(event) => timed(edge, event)} onblur={() => typing.asked || (typing = {})}
	/></label>
{/snippet}

<li data-here={here} data-hidden={slip.hidden} data-wrong={faults.length > 0}>
	<button type="button" class="time" title="Go there" onclick={() => captions.goTo(cue)}>{fineClock(captions.msOf(cue.first_frame))}</button>
	<div class="text">
		<textarea
			bind:this={field} class="said" aria-label="Caption at {fineClock(captions.msOf(cue.first_frame))}" rows={cue.lines.length} spellcheck="true" maxlength="1000"
			readonly={slip.hidden} value={told.text} onfocus={() => captions.goTo(cue)} onchange={() => void commit()} onkeydown={keyed}
		></textarea>
		{#if cue.lines.flat().some((word) => word.emphasised)}
			<p class="note">Emphasised: {cue.lines.flat().filter((word) => word.emphasised).map((word) => word.text).join(' ')}</p>
		{/if}
		{#if heard.length}
			<p class="heard">
				<span title="What the transcript says">{heard.join(' ')}</span>
				{#if misheard}<Button kind="quiet" title="Write “{misheard.said}” for “{misheard.heard}” in the transcript too" onclick={() => (everywhere = { heard: misheard.heard, said: misheard.said, first: range.first + misheard.at })}>Also in the talk’s words …</Button>{/if}
			</p>
		{/if}
		{#if translation !== null && !cue.added}
			<textarea
				class="other" rows="1" maxlength="1000" aria-label="Translation of the caption at {fineClock(captions.msOf(cue.first_frame))}" lang={translation} value={cue.translated ?? ''}
				onchange={(event) => void captions.edit({ kind: 'translate-caption', language: translation, ...range, text: event.currentTarget.value })}
			></textarea>
		{/if}
	</div>
	<CueBars
		speed={cue.characters / shownS} fastest={limits.fastest_cps} longest={cue.longest} room={limits.line_characters} {contrast}
	/>
	<span class="marks">
		<span>{shownS.toFixed(1)} s</span>
		{#if slip.hidden}<EyeOff size={15} aria-label="Hidden" />{/if}
		{#if cue.fixed}<Pin size={14} aria-label="Fixed by hand" />{/if}
	</span>
	{#each faults as fault, i (`${fault.check} ${i}`)}
		<p class="fault" data-severity={fault.severity}>
			<span><b>{fault.says}</b> {fault.do}</span>
			{#if fault.check === 'contrast' && contrast}<Button onclick={() => captions.bench.player!.seekOut(captions.msOf(contrast.worst_frame) + 1)}>Show the worst frame</Button>{/if}
			{#if fault.mend}<Button onclick={() => void captions.edit(fault.mend!)}>{fault.mend_says}</Button>{/if}
		</p>
	{/each}
	{#if inHand}
		<div class="tools" role="group" aria-label="This caption">
			{@render time('In', 'in', cue.first_frame)}
			{@render time('Out', 'out', cue.end_frame)}
			{#if cue.added}
				<Button onclick={() => void captions.edit({ kind: 'remove-added-caption', id: cue.added! })}>Remove</Button>
			{:else}
				<Button title="Emphasise the selected words (Ctrl+E)" onmousedown={(event: MouseEvent) => event.preventDefault()} onclick={emphasise}>Emphasise</Button>
				<Button onclick={() => void captions.edit({ kind: 'hide-caption', ...range, hidden: !slip.hidden })}>{slip.hidden ? 'Show' : 'Hide'}</Button>
				<Button title="A height of its own" pressed={cue.height !== null && cue.height !== undefined} onclick={() => void captions.edit({ kind: 'place-caption', ...range, height: cue.height == null ? Math.max(0.1, captions.track!.height - 0.15) : null })}>{cue.height == null ? 'Own height' : 'With the others'}</Button>
				{#if cue.height != null}
					<label>Height, % <input type="number" min="5" max="95" value={Math.round(cue.height * 100)} onchange={(event) => void captions.edit({ kind: 'place-caption', ...range, height: Math.min(0.95, Math.max(0.05, Number(event.currentTarget.value) / 100)) })} /></label>
				{/if}
				<Button title="A look of its own" aria-expanded={looks} pressed={ownLook} onclick={() => (looks = !looks)}>Look</Button>
				{#if cue.fixed}<Button title="Go back to the automatic breaks, times and place" onclick={() => void captions.edit({ kind: 'let-go-captions', ...range })}>Let go</Button>{/if}
			{/if}
		</div>
	{/if}
	{#if inHand && looks && !cue.added}
		<div class="look" role="group" aria-label="Look of this caption">
			<LookControls look={{ ...captions.track!.look, ...cue.look } as CaptionLook} {captions} onset={dress} onlook={(change) => captions.bench.try(dressed(change))} />
			{#if ownLook}<Button onclick={() => void captions.edit({ kind: 'change-cue-look', ...range, look: {} })}>Look of the others</Button>{/if}
		</div>
	{/if}
	{#if everywhere}<Everywhere {captions} {...everywhere} onclose={() => (everywhere = null)} />{/if}
</li>

<style>
	li {
		display: grid;
		grid-template-columns: 62px minmax(0, 1fr) 46px 58px;
		align-items: start;
		gap: 0 10px;
		padding: 3px 8px;
		border-left: 4px solid transparent;
	}
	li[data-here='true'] {
		border-left-color: var(--kept);
		background: var(--kept-wash);
	}
	li[data-wrong='true'] {
		border-left-color: var(--warn);
	}
	li[data-hidden='true'] textarea {
		color: var(--ink-soft);
		text-decoration: line-through;
	}
	.time {
		min-height: 32px;
		padding: 0;
		border: 0;
		background: none;
		color: var(--ink-soft);
		font-size: 13px;
		text-align: right;
		cursor: pointer;
	}
	.time:hover {
		text-decoration: underline;
	}
	textarea {
		width: 100%;
		padding: 2px 6px;
		border: 1px solid transparent;
		border-radius: var(--radius);
		background: none;
		font: 17px/26px var(--reading);
		resize: none;
		field-sizing: content;
	}
	textarea:hover,
	textarea:focus {
		border-color: var(--rule);
		background: var(--paper-raised);
	}
	.other {
		font: 15px/22px var(--ui);
		border-color: var(--rule);
	}
	.heard,
	.note {
		padding: 0 6px 2px;
		color: var(--ink-soft);
		font-size: 13px;
	}
	.heard::before {
		content: 'heard: ';
	}
	.marks {
		display: flex;
		align-items: center;
		gap: 3px;
		min-height: 28px;
		color: var(--ink-soft);
		font-size: 13px;
		white-space: nowrap;
	}
	.fault {
		grid-column: 2 / -1;
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 4px 10px;
		padding: 2px 6px 4px;
		color: var(--warn);
		font-size: 14px;
	}
	.fault[data-severity='stop'] {
		color: var(--struck);
	}
	.fault b {
		font-weight: 600;
	}
	.tools {
		grid-column: 2 / -1;
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 6px;
		padding: 2px 6px 8px;
	}
	.look {
		grid-column: 2 / -1;
		display: grid;
		justify-items: start;
		gap: 6px;
		max-width: 320px;
		padding: 4px 6px 10px;
	}
	.tools label {
		display: flex;
		align-items: center;
		gap: 4px;
		color: var(--ink-soft);
		font-size: 13px;
	}
	.tools input {
		width: 74px;
		min-height: 28px;
		padding: 0 6px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
		font: inherit;
		font-variant-numeric: tabular-nums;
	}
</style>
