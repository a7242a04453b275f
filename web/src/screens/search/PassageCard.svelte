<script lang="ts">
	import Pause from '@lucide/svelte/icons/pause';
	import Play from '@lucide/svelte/icons/play';
	import Quote from '@lucide/svelte/icons/quote';
	import type { Passage } from '$api/client';
	import Button from '$ui/Button.svelte';
	import { clock, day, many, seconds } from '$ui/say';
	import Self from './PassageCard.svelte';
	import { nameOf, type Searching } from './searching.svelte';

	type Props = { passage: Passage; searching: Searching; typed: string; current?: boolean; onkeep: (passage: Passage) => void };
	let { passage, searching, typed, current = false, onkeep }: Props = $props();

	const address = $derived(`/talk/${passage.recording_id}?t=${(passage.start_ms / 1000).toFixed(2)}&q=${encodeURIComponent(typed)}`);
	const inHand = $derived(searching.sequence.current === nameOf(passage));
	const playing = $derived(inHand && searching.sequence.playing);
	const kept = $derived(searching.kept.get(nameOf(passage)));
	const lines = $derived.by(() => {
		let first = 0;
		return passage.lines.map((line, number) => {
			const words = line.words.map((text, i) => ({ text, marked: passage.marks.some((mark) => first + i >= mark.first && first + i < mark.end) }));
			first += words.length;
			return { speaker: line.speaker !== passage.lines[number - 1]?.speaker ? line.speaker : null, words };
		});
	});
</script>

<article data-current={current} aria-label="Passage at {clock(passage.start_ms)} in {passage.title}">
	<header>
		<a href={address}>{passage.title}</a>
		<span>{[passage.series, passage.held_on && day(passage.held_on), clock(passage.start_ms)].filter(Boolean).join(' · ')}</span>
	</header>
	<p class="words">
		{#each lines as line, i (i)}{#if line.speaker}<b>{line.speaker}</b>{' '}{/if}{#each line.words as word, j (j)}{#if word.marked}<mark>{word.text}</mark>{:else}{word.text}{/if}{' '}{/each}{/each}
	</p>
	{#if inHand && searching.sequence.player}
		<progress max={searching.sequence.player.lengthMs} value={searching.sequence.player.outMs} aria-label="Played so far"></progress>
	{/if}
	<footer>
		<Button aria-label={playing ? 'Pause' : 'Play this passage'} title="Play here (Space)" onclick={() => searching.play(passage)}>
			{#snippet icon()}{#if playing}<Pause size={16} />{:else}<Play size={16} />{/if}{/snippet}
		</Button>
		{#if kept === undefined}
			<Button title="Keep as quote (Q)" onclick={() => onkeep(passage)}>{#snippet icon()}<Quote size={16} />{/snippet}Keep as quote</Button>
		{:else}
			<a class="done" href="/quote/{kept}/trim">Kept. Trim</a>
		{/if}
		<span class="facts"><b>{seconds(passage.length_ms)}</b> · {passage.fits}</span>
		{#each passage.quotes.filter((one) => one.id !== kept) as quote (quote.id)}
			<a class="used" href="/quote/{quote.id}/trim">in the quote “{quote.title}”{quote.posted ? `, posted to ${quote.posted}` : quote.made ? ', exported' : ''}</a>
		{/each}
		{#if passage.by_meaning}<span class="close" title="Found by what it means, not by its words">close in meaning</span>{/if}
		{#if passage.missing.length}<span class="missing">without {passage.missing.map((one) => `“${one}”`).join(', ')}</span>{/if}
	</footer>
	{#if passage.also.length}
		<details>
			<summary>The same story in {many(passage.also.length, 'other talk')}</summary>
			{#each passage.also as other (nameOf(other))}<Self passage={other} {searching} {typed} {onkeep} />{/each}
		</details>
	{/if}
</article>

<style>
	article {
		padding: 14px 0 12px 14px;
		border-bottom: 1px solid var(--rule);
		border-left: 3px solid transparent;
	}
	[data-current='true'] {
		border-left-color: var(--kept);
	}
	header {
		display: flex;
		gap: 10px;
		align-items: baseline;
		color: var(--ink-soft);
		font-size: 13px;
	}
	header a {
		color: var(--ink);
		font-size: 15px;
		font-weight: 700;
		text-decoration-color: var(--rule);
		text-underline-offset: 3px;
	}
	.words {
		padding: 4px 0 8px;
		font: 17px/28px var(--reading);
		overflow-wrap: anywhere;
	}
	.words b {
		margin-right: 4px;
		color: var(--ink-soft);
		font: 700 13px var(--ui);
	}
	mark {
		background: var(--found-wash);
		box-shadow: inset 0 -2px var(--found);
		color: inherit;
	}
	footer {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 8px 12px;
	}
	.facts,
	.missing {
		color: var(--ink-soft);
	}
	.facts b {
		color: var(--ink);
	}
	.used {
		color: var(--kept);
	}
	.close {
		padding: 1px 8px;
		border: 1px solid var(--rule);
		border-radius: 10px;
		color: var(--ink-soft);
		font-size: 13px;
	}
	.done {
		color: var(--good);
	}
	progress {
		display: block;
		width: 100%;
		height: 4px;
		margin-bottom: 8px;
		accent-color: var(--kept);
	}
	details {
		margin-top: 10px;
	}
	summary {
		cursor: pointer;
		color: var(--note);
	}
</style>
