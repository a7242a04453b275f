<script lang="ts">
	import Pause from '@lucide/svelte/icons/pause';
	import Play from '@lucide/svelte/icons/play';
	import { untrack } from 'svelte';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import { many, megabytes } from '$ui/say';
	import { trail } from '$ui/trail.svelte';
	import type { Shown } from './cards';
	import Clearing from './Clearing.svelte';
	import { Outbox } from './outbox.svelte';
	import QuoteCard from './QuoteCard.svelte';

	trail.set([{ name: 'Shelf', href: '/' }, { name: 'Outbox' }]);
	const outbox = new Outbox();
	$effect(() => untrack(() => void outbox.load()));
	let clearing = $state(false);

	const STATES: [Shown, string][] = [['all', 'All'], ['going', 'Exporting'], ['done', 'Done'], ['faults', 'With a fault'], ['changed', 'Changed since']];
	const done = $derived(house.exports.filter((one) => one.state === 'done').length);
</script>

<div class="outbox">
	<header>
		<h1>Outbox</h1>
		{#if house.exports.length && outbox.whole}
			<Button title="What is being made is made to its end" onclick={() => outbox.pause(!outbox.whole!.paused)}>
				{#snippet icon()}{#if outbox.whole!.paused}<Play size={16} />{:else}<Pause size={16} />{/if}{/snippet}{outbox.whole.paused ? 'Resume exports' : 'Pause exports'}
			</Button>
		{/if}
	</header>
	{#if house.exports.length}
		<p class="sum" aria-live="polite">
			{house.working.length} exporting{outbox.whole?.paused ? ', paused' : ''}, {done} done.
			{#if outbox.whole}{many(outbox.whole.files, 'file')}, {megabytes(outbox.whole.bytes)}; {megabytes(outbox.whole.free_bytes)} free. <button type="button" class="link" onclick={() => (clearing = true)}>Clear out…</button>{/if}
		</p>
		<div class="filter" role="search" aria-label="Filter exports">
			{#each STATES as [id, name] (id)}<Button kind="quiet" pressed={outbox.wanted.state === id} onclick={() => (outbox.wanted.state = id)}>{name}</Button>{/each}
			<select aria-label="Talk" value={String(outbox.wanted.talk ?? '')} onchange={(event) => (outbox.wanted.talk = Number(event.currentTarget.value) || null)}>
				<option value="">Every talk</option>
				{#each outbox.talks as [id, title] (id)}<option value={String(id)}>{title}</option>{/each}
			</select>
			<label>since <input type="date" bind:value={outbox.wanted.since} /></label>
			<input type="text" aria-label="Words in the title" placeholder="Words in the title" bind:value={outbox.wanted.text} />
		</div>
		<ul>
			{#each outbox.cards as card (card.quoteId)}<QuoteCard {outbox} {card} />{:else}<li class="none">Nothing here is like that.</li>{/each}
		</ul>
	{:else}
		<p class="sum">Nothing was exported yet. Keep a quote, and “Export” on its workbench makes all its versions at once.</p>
	{/if}
</div>
{#if clearing}<Clearing {outbox} onclose={() => (clearing = false)} />{/if}

<style>
	.outbox {
		height: 100%;
		overflow-y: auto;
		padding: 24px max(28px, calc(50% - 560px));
	}
	header {
		display: flex;
		align-items: center;
		justify-content: space-between;
	}
	h1 {
		font: 600 28px/36px var(--reading);
	}
	.sum,
	.none {
		padding-bottom: 10px;
		color: var(--ink-soft);
	}
	.link {
		min-height: 24px;
		padding: 0;
		border: 0;
		background: none;
		color: var(--note);
		text-decoration: underline;
		cursor: pointer;
	}
	.filter {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 4px 8px;
		padding-bottom: 12px;
		border-bottom: 1px solid var(--rule);
	}
	.filter input {
		min-height: 32px;
		padding: 0 8px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
		font: inherit;
	}
	.filter select {
		max-width: 220px;
	}
</style>
