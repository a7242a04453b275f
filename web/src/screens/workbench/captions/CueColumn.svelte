<script lang="ts">
	/** The cues down the page, in the order they are spoken; between two of them a bar that words are moved over. */
	import ChevronDown from '@lucide/svelte/icons/chevron-down';
	import ChevronUp from '@lucide/svelte/icons/chevron-up';
	import Button from '$ui/Button.svelte';
	import { many } from '$ui/say';
	import type { Captions } from './captions.svelte';
	import CueSlip from './CueSlip.svelte';

	let { captions, translation }: { captions: Captions; translation: string | null } = $props();

	const slips = $derived(captions.slips);
	const WORD_PX = 18;
	const PUT_IN_FROM_MS = 700;
	let drag = $state<{ at: number; y: number; words: number } | null>(null);

	const joinable = (at: number) => at > 0 && !slips[at]!.cue.added && !slips[at - 1]!.cue.added && !slips[at]!.hidden && !slips[at - 1]!.hidden;

	function moved(at: number, words: number): void {
		if (words) captions.moveBreak(slips[at - 1]!.cue, slips[at]!.cue, words);
	}
	function keyed(at: number, event: KeyboardEvent): void {
		const by = { ArrowUp: -1, ArrowDown: 1 }[event.key];
		if (!by) return;
		event.preventDefault();
		event.stopPropagation();
		moved(at, by);
	}
	function released(): void {
		if (drag) moved(drag.at, drag.words);
		drag = null;
	}
	const roomMs = (at: number) => captions.msOf((slips[at]?.cue.first_frame ?? captions.bench.version!.assembly.frames) - (slips[at - 1]?.cue.end_frame ?? 0));
</script>

<section class="cues" aria-label="Caption cues">
	{#if !captions.track}
		<p class="hint">Captions are not burned in. Switch them on to see and correct them.</p>
	{:else}
		<div class="head">
			<p class="hint">Type to correct. Enter begins a new caption at the caret, Shift+Enter a new line; Backspace at the start joins it with the one before.</p>
			<div class="problems">
				{#if captions.problems.length}
					<span>{many(captions.problems.length, 'problem')}</span>
					<Button title="Previous problem (Shift+N)" aria-label="Previous problem" onclick={() => captions.step(-1)}>{#snippet icon()}<ChevronUp size={16} />{/snippet}</Button>
					<Button title="Next problem (N)" aria-label="Next problem" onclick={() => captions.step(1)}>{#snippet icon()}<ChevronDown size={16} />{/snippet}</Button>
				{:else}<span class="fine">No problems</span>{/if}
			</div>
		</div>
		<ol>
			{#each slips as slip, at (slip.key)}
				{#if at > 0 || roomMs(0) >= PUT_IN_FROM_MS}
					<div class="between">
						{#if joinable(at)}
							<!-- A slider by its keys: up and down move a word over the boundary. -->
							<div
								class="bar" role="slider" tabindex="0" aria-label="Boundary before the caption “{slip.cue.lines.flat().slice(0, 3).map((word) => word.text).join(' ')}”"
								aria-valuenow={drag?.at === at ? drag.words : 0} title="Drag, or use the up and down keys, to move words over" data-held={drag?.at === at}
								onkeydown={(event) => keyed(at, event)}
								onpointerdown={(event) => { drag = { at, y: event.clientY, words: 0 }; event.currentTarget.setPointerCapture(event.pointerId); }}
								onpointermove={(event) => { if (drag) drag.words = Math.round((event.clientY - drag.y) / WORD_PX); }}
								onpointerup={released} onpointercancel={() => (drag = null)}
							>{#if drag?.at === at && drag.words}<i>{many(Math.abs(drag.words), 'word')} {drag.words > 0 ? 'up' : 'down'}</i>{/if}</div>
						{:else}<span></span>{/if}
						{#if roomMs(at) >= PUT_IN_FROM_MS}
							<button type="button" class="put" onclick={() => captions.putIn(slips[at - 1]?.cue, slip.cue)}>+ caption</button>
						{/if}
					</div>
				{/if}
				<CueSlip {captions} {slip} before={joinable(at) ? slips[at - 1]?.cue : undefined} after={at + 1 < slips.length && joinable(at + 1) ? slips[at + 1]?.cue : undefined} {translation} />
			{/each}
		</ol>
		{#if roomMs(slips.length) >= PUT_IN_FROM_MS}
			<button type="button" class="put" onclick={() => captions.putIn(slips.at(-1)?.cue, undefined)}>+ caption</button>
		{/if}
	{/if}
</section>

<style>
	.cues {
		overflow-y: auto;
		padding: 12px 18px 40px;
		min-height: 0;
	}
	.head {
		display: grid;
		grid-template-columns: minmax(0, 1fr) auto;
		align-items: start;
		gap: 12px;
		margin-bottom: 6px;
	}
	.hint {
		color: var(--ink-soft);
		font-size: 14px;
	}
	.problems {
		display: flex;
		align-items: center;
		gap: 4px;
		white-space: nowrap;
		color: var(--warn);
		font-size: 14px;
	}
	.fine {
		color: var(--kept);
	}
	ol {
		margin: 0;
		padding: 0;
		list-style: none;
	}
	.between {
		display: grid;
		grid-template-columns: minmax(0, 1fr) auto;
		align-items: center;
		gap: 10px;
		min-height: 10px;
		padding-left: 84px;
	}
	.bar {
		position: relative;
		height: 10px;
		cursor: ns-resize;
		touch-action: none;
	}
	.bar::before {
		content: '';
		position: absolute;
		inset: 4px 0 auto;
		height: 2px;
		border-radius: 1px;
		background: var(--rule);
	}
	.bar:hover::before,
	.bar:focus-visible::before,
	.bar[data-held='true']::before {
		background: var(--found);
	}
	.bar i {
		position: absolute;
		top: -8px;
		left: 40%;
		padding: 0 8px;
		border-radius: var(--radius);
		background: var(--ink);
		color: var(--paper);
		font: 13px/24px var(--ui);
	}
	.put {
		min-height: 24px;
		padding: 0 8px;
		border: 1px dashed var(--rule);
		border-radius: var(--radius);
		background: none;
		color: var(--ink-soft);
		font-size: 13px;
		cursor: pointer;
	}
	.put:hover {
		color: var(--ink);
	}
</style>
