<script lang="ts">
	import { many } from '$ui/say';
	import type { Soundbite } from '$api/client';
	import Button from '$ui/Button.svelte';
	import type { Bites } from './bites.svelte';
	import BiteCard from './BiteCard.svelte';
	import BiteFilters from './BiteFilters.svelte';
	import Taste from './Taste.svelte';

	type Props = {
		bites: Bites;
		/** The words of a soundbite's first and last sentence. */
		text: (bite: Soundbite) => string;
		ontake: (at: number) => void;
		onhear: () => void;
		ongrow: (end: 'first' | 'last', step: number) => void;
		ondecide: (verdict: 'kept' | 'parked' | 'unlike') => void;
	};
	let { bites, text, ontake, onhear, ongrow, ondecide }: Props = $props();

	let list = $state<HTMLElement>();
	$effect(() => {
		list?.children[bites.at]?.scrollIntoView({ block: 'nearest' });
	});
</script>

<div class="bites">
	<BiteFilters {bites} />
	{#if bites.problem}
		<p class="problem">{bites.problem}</p>
	{:else if !bites.offer}
		<p class="soft">Reading the talk for soundbites…</p>
	{:else if !bites.list.length}
		<p class="soft">
			{#if bites.weaker || bites.offer.unjudged}
				Nothing here opens and lands by itself inside these limits. Choose longer limits, or another topic.
			{:else}
				Nothing here that an editor would likely keep, for these limits.
			{/if}
		</p>
	{:else}
		{#if bites.offer.unjudged}<p class="soft">{bites.offer.unjudged}</p>{/if}
		<p class="soft" aria-live="polite">
			{many(bites.list.length, 'soundbite')}, best first. None overlap. {bites.learned}
		</p>
		<ol bind:this={list}>
			{#each bites.list as bite, i (i)}
				<BiteCard {bite} rank={i + 1} text={text(bite)} current={i === bites.at} ontake={() => ontake(i)} {onhear} {ongrow} {ondecide} />
			{/each}
		</ol>
		{#if bites.list.length >= bites.count && bites.count < 300}
			<Button onclick={() => bites.choose({ count: Math.min(300, bites.count * 3) })}>Show more</Button>
		{/if}
	{/if}
	{#if bites.offer && !bites.offer.unjudged && (bites.weaker || bites.list.length < bites.count)}
		{#if bites.weaker}
			<p class="soft">Those of which an editor would keep fewer than {bites.least} in ten are shown too.</p>
		{:else}
			<p class="soft">Those of which an editor would keep fewer than {bites.least} in ten are left out.</p>
		{/if}
		<Button onclick={() => bites.choose({ weaker: !bites.weaker })}>{bites.weaker ? 'Leave the weaker out' : 'Show weaker ones'}</Button>
	{/if}
	{#if bites.offer?.passed.length}
		<details>
			<summary>Dismissed <span>{bites.offer.passed.length}</span></summary>
			<ul>
				{#each bites.offer.passed as one (one.bite.span.start_ms)}
					<li>
						<span>{one.verdict === 'parked' ? 'Parked' : 'Not this kind'}: {text(one.bite)}</span>
						<Button kind="quiet" onclick={() => bites.takeBack(one.bite)}>Put back</Button>
					</li>
				{/each}
			</ul>
		</details>
	{/if}
	{#if bites.offer}<Taste {bites} taste={bites.offer.taste} />{/if}
</div>

<style>
	.bites {
		min-height: 0;
		overflow-y: auto;
		padding: 8px 14px 16px;
	}
	.soft {
		padding: 6px 0;
		color: var(--ink-soft);
	}
	.problem {
		padding: 8px 12px;
		border-radius: var(--radius);
		background: var(--warn-wash);
	}
	details {
		margin-top: 12px;
	}
	summary {
		cursor: pointer;
	}
	summary span {
		color: var(--ink-soft);
	}
	li {
		display: flex;
		align-items: center;
		justify-content: space-between;
		gap: 8px;
		border-bottom: 1px solid var(--rule);
	}
	li span {
		overflow: hidden;
		white-space: nowrap;
		text-overflow: ellipsis;
	}
</style>
