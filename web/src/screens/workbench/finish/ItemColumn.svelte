<script lang="ts">
	/** The words of the cut down the page, and beside them what stands over the picture while they are said. */
	import EyeOff from '@lucide/svelte/icons/eye-off';
	import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
	import type { Overlay } from '$api/client';
	import Button from '$ui/Button.svelte';
	import ChevronDown from '@lucide/svelte/icons/chevron-down';
	import ChevronUp from '@lucide/svelte/icons/chevron-up';
	import { fineClock, many } from '$ui/say';
	import type { Finish } from './finish.svelte';
	import { isAlone, lanesOf, nameOf, textOf, whenOf, type Stretch } from './items';

	let { finish }: { finish: Finish } = $props();

	const bench = $derived(finish.bench);
	let tops = $state<number[]>([]);
	let height = $state(0);
	let list = $state<HTMLElement>();
	/** Beside the words there is room for so much, however many stand there together. */
	const LANES_PX = 330;
	const WIDEST_PX = 118;
	/** As high as what it is called, says and when. */
	const LEAST_PX = 66;

	// Where each sentence begins on the page, once it is laid out, and again when the page changes its size.
	$effect(() => {
		void finish.rows;
		void height;
		if (list) tops = [...list.children].map((row) => (row as HTMLElement).offsetTop);
	});

	/** Where a moment of the clip is on the page. */
	function yOf(ms: number): number {
		const { rows } = finish;
		const at = Math.max(0, rows.findLastIndex((row) => row.fromMs <= ms));
		const [row, top] = [rows[at], tops[at] ?? 0];
		if (!row) return 0;
		const below = tops[at + 1] ?? height;
		const until = rows[at + 1]?.fromMs ?? Math.max(row.toMs, bench.lengthMs);
		return top + (below - top) * Math.min(1, Math.max(0, (ms - row.fromMs) / Math.max(1, until - row.fromMs)));
	}

	const throughout = $derived(finish.overlays.filter((one) => one.what.kind !== 'speaking-sound' && (one.when.kind === 'whole' || isAlone(one.what))));
	const blocks = $derived.by(() => {
		const shown = finish.overlays.filter((one) => one.when.kind !== 'whole' && !isAlone(one.what)).map((one) => ({ one, time: finish.timeOf(one.id) }));
		const stretches: Stretch[] = shown.map(({ one, time }) => {
			const from = time ? yOf(time.fromMs) : 0;
			return { id: one.id, from, to: Math.max(from + LEAST_PX, time ? yOf(time.toMs) : 0) };
		});
		const lanes = lanesOf(stretches);
		return shown.map(({ one, time }, at) => ({ one, time, ...stretches[at]!, lane: lanes.get(one.id)! }));
	});
	const lanes = $derived(Math.max(0, ...blocks.map((one) => one.lane + 1)));
	const lanePx = $derived(Math.min(WIDEST_PX, LANES_PX / Math.max(1, lanes)));
	const wrong = (id: number) => finish.problemsOf(id).length > 0;

	function chose(index: number, event: MouseEvent): void {
		const range = bench.selection.range;
		if (event.shiftKey && range) bench.selection.set(range.first, index);
		else bench.selection.set(index, index);
		bench.cursor = index;
	}
	/** What a thing says, with the quote's title where that stands. */
	const says = (one: Overlay) => textOf(one.what).replaceAll('{title}', bench.quote!.document.title);
	const calledWith = (one: Overlay) => `${[nameOf(one.what), says(one)].filter(Boolean).join(' ')}, ${whenOf(one)}`;
	let dragged = false;
</script>

{#snippet named(one: Overlay, awake: boolean)}
	<span class="name">
		{nameOf(one.what)}
		{#if one.hidden}<EyeOff size={13} aria-label="Hidden" />{/if}
		{#if wrong(one.id)}<TriangleAlert size={13} aria-label="Has a problem" />{/if}
		{#if says(one)}<small>{says(one)}</small>{/if}
		<small class="when">{one.hidden ? 'hidden' : awake ? whenOf(one) : 'its words are struck'}</small>
	</span>
{/snippet}

<section class="column" aria-label="Over the picture">
	<div class="head">
		<p class="soft">Select words, and what you add shows with them. Drag over words, or use Shift and the arrow keys.</p>
		<div class="problems">
			{#if finish.problems.length}<span>{many(finish.problems.length, 'problem')}</span>{/if}
			<Button title="Previous (Up)" aria-label="Previous item" disabled={!finish.overlays.length} onclick={() => finish.step(-1)}>{#snippet icon()}<ChevronUp size={16} />{/snippet}</Button>
			<Button title="Next (Down)" aria-label="Next item" disabled={!finish.overlays.length} onclick={() => finish.step(1)}>{#snippet icon()}<ChevronDown size={16} />{/snippet}</Button>
		</div>
	</div>
	{#if throughout.length}
		<div class="throughout" role="group" aria-label="All through the clip">
			{#each throughout as one (one.id)}
				<button type="button" class="block" data-hand={finish.hand === one.id} aria-pressed={finish.hand === one.id} aria-label={calledWith(one)} onclick={() => finish.take(one.id)}>
					{@render named(one, true)}
				</button>
			{/each}
		</div>
	{/if}
	<div class="page" style:--lanes="{lanes * lanePx}px" bind:clientHeight={height}>
		<ol bind:this={list}>
			{#each finish.rows as row (row.words[0]!.index)}
				<li>
					<span class="time">{fineClock(row.fromMs)}</span>
					<!-- Words are selected by pointer here, by Shift and the arrow keys anywhere. -->
					<!-- svelte-ignore a11y_no_static_element_interactions, a11y_click_events_have_key_events -->
					<p onpointerup={() => (dragged = false)}>
						{#each row.words as word (word.index)}
							<span
								class="word" data-word={word.index} data-selected={bench.selection.holds(word.index)} data-spoken={bench.spoken === word.index}
								onpointerdown={(event) => { chose(word.index, event); dragged = true; }}
								onpointerenter={(event) => { if (dragged && event.buttons) bench.selection.set(bench.selection.range!.first === word.index ? word.index : (bench.cursor ?? word.index), word.index); }}
							>{word.text}</span>{' '}
						{/each}
					</p>
				</li>
			{/each}
		</ol>
		<div class="lanes">
			{#each blocks as { one, time, from, to, lane } (one.id)}
				<button
					type="button" class="block" data-hand={finish.hand === one.id} data-sleeps={!time} data-kind={one.what.kind}
					style:top="{from}px" style:height="{to - from - 4}px" style:left="{lane * lanePx}px" style:width="{lanePx - 6}px"
					aria-pressed={finish.hand === one.id} aria-label={calledWith(one)} onclick={() => finish.take(one.id)}
				>
					{@render named(one, time !== null)}
				</button>
			{/each}
		</div>
	</div>
	{#if !finish.overlays.length}<p class="soft none">Nothing stands over the picture yet. Add a title, a name or a progress line on the right.</p>{/if}
</section>

<style>
	.column {
		overflow-y: auto;
		min-height: 0;
		padding: 12px 14px 40px 18px;
	}
	.head {
		display: grid;
		grid-template-columns: minmax(0, 1fr) auto;
		gap: 12px;
		align-items: start;
		margin-bottom: 8px;
	}
	.soft {
		color: var(--ink-soft);
		font-size: 14px;
	}
	.none {
		margin-top: 16px;
	}
	.problems {
		display: flex;
		align-items: center;
		gap: 4px;
		white-space: nowrap;
		color: var(--warn);
		font-size: 14px;
	}
	.page {
		position: relative;
		padding-right: var(--lanes);
	}
	ol {
		position: relative;
		margin: 0;
		padding: 0;
		list-style: none;
	}
	li {
		display: grid;
		grid-template-columns: 62px minmax(0, 1fr);
		gap: 10px;
		min-height: 34px;
		padding: 3px 0;
	}
	.time {
		color: var(--ink-soft);
		font-size: 13px;
		line-height: 28px;
		text-align: right;
	}
	li p {
		font: 17px/28px var(--reading);
		user-select: none;
	}
	.word {
		padding: 2px 0;
		cursor: text;
	}
	.word[data-spoken='true'] {
		box-shadow: inset 0 -2px var(--kept);
	}
	.word[data-selected='true'] {
		background: var(--found);
		color: var(--ink);
	}
	.lanes {
		position: absolute;
		top: 0;
		right: 0;
		width: var(--lanes);
		height: 100%;
	}
	.throughout {
		display: flex;
		flex-wrap: wrap;
		gap: 6px;
		margin-bottom: 10px;
	}
	.throughout .block {
		max-width: 180px;
	}
	.lanes .block {
		position: absolute;
	}
	.block {
		display: flex;
		align-items: flex-start;
		padding: 5px 7px;
		border: 1px solid var(--rule);
		border-left: 3px solid var(--note);
		border-radius: var(--radius);
		background: var(--paper-raised);
		text-align: left;
		cursor: pointer;
		overflow: clip;
	}
	.block[data-hand='true'] {
		border-color: var(--kept);
		background: var(--kept-wash);
	}
	.block[data-sleeps='true'] {
		border-style: dashed;
		color: var(--ink-soft);
	}
	.name {
		position: sticky;
		top: 4px;
		display: block;
		min-width: 0;
		font-weight: 600;
		font-size: 13px;
		line-height: 17px;
	}
	.name small {
		display: block;
		font-weight: 400;
		font-size: 13px;
		overflow: hidden;
		text-overflow: ellipsis;
		white-space: nowrap;
	}
	.name .when {
		color: var(--ink-soft);
	}
</style>
