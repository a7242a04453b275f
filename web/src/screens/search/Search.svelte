<script lang="ts">
	import Bookmark from '@lucide/svelte/icons/bookmark';
	import ListChecks from '@lucide/svelte/icons/list-checks';
	import { onDestroy, untrack } from 'svelte';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import type { Asked, Passage } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import { keys } from '$ui/keys.svelte';
	import { many, quoted } from '$ui/say';
	import { trail } from '$ui/trail.svelte';
	import { typedWith } from './asking';
	import Filters from './Filters.svelte';
	import PassageCard from './PassageCard.svelte';
	import { nameOf, Searching } from './searching.svelte';

	const searching = new Searching();
	const typed = $derived(page.url.searchParams.get('q') ?? '');
	let cards = $state<HTMLElement>();

	trail.set([{ name: 'Shelf', href: '/' }, { name: 'Search' }]);
	void house.trying(() => searching.load());
	onDestroy(() => searching.sequence.stop());

	$effect(() => {
		const q = typed;
		untrack(() => void house.trying(() => searching.begin(q)));
	});

	const search = (text: string) => goto(text.trim() ? `/search?q=${encodeURIComponent(text)}` : '/search', { keepFocus: true, noScroll: true });
	function change(changed: Partial<Asked>): void {
		if (searching.answer) void search(typedWith(searching.answer.asked, changed));
	}
	async function keep(passage: Passage | undefined): Promise<void> {
		if (!passage) return;
		const id = await house.trying(() => searching.keep(passage));
		if (id !== undefined) house.tell('good', 'Kept as a quote.', { name: 'Trim it', run: () => void goto(`/quote/${id}/trim`) });
	}
	function go(step: number): void {
		searching.at = Math.min(Math.max(0, searching.at + step), searching.passages.length - 1);
		cards?.children[searching.at]?.scrollIntoView({ block: 'nearest' });
	}
	const here = () => searching.passages[searching.at];
	$effect(() =>
		keys.use('Search', [
			{ keys: ['ArrowDown', 'n'], does: 'Next passage', run: () => go(1) },
			{ keys: ['ArrowUp', 'shift+n'], does: 'Passage before', run: () => go(-1) },
			{ keys: ['Space'], does: 'Play it, pause', run: () => { const one = here(); if (one) searching.play(one); } },
			{ keys: ['q'], does: 'Keep it as quote', run: () => void keep(here()) },
			{ keys: ['Enter'], does: 'Open the page there', run: () => {
				const one = here();
				if (one) void goto(`/talk/${one.recording_id}?t=${(one.start_ms / 1000).toFixed(2)}&q=${encodeURIComponent(typed)}`);
			} }
		])
	);
	const saved = $derived(searching.isSaved(typed));
	const talks = $derived(new Set(searching.passages.map((one) => one.recording_id)).size);
</script>

<div class="search">
	<div class="title">
		<h1>{typed ? `${quoted(typed)} in all talks` : 'Search all talks'}</h1>
		{#if searching.answer}
			<Button pressed={saved} onclick={() => searching.setSaved(typed, !saved)}>
				{#snippet icon()}<Bookmark size={16} />{/snippet}{saved ? 'Saved' : 'Save this search'}
			</Button>
			{#if searching.passages.some((one) => one.quotes.length)}
				<Button onclick={() => goto(`/shortlist?q=${encodeURIComponent(typed)}`)}>
					{#snippet icon()}<ListChecks size={16} />{/snippet}Shortlist
				</Button>
			{/if}
		{/if}
	</div>
	<p class="hint">
		Type words that were said, or say what was meant. Also: a "phrase in quotes", -without, begin*, storm ~ harbour for words near each other.
	</p>
	{#if searching.answer && searching.choices}
		<Filters asked={searching.answer.asked} choices={searching.choices} order={searching.order} onchange={change} onorder={(order) => { searching.order = order; void house.trying(() => searching.ask(typed)); }} />
		{#each searching.answer.notes as note (note)}<p class="note">{note}</p>{/each}
		{#if searching.passages.length}
			<p class="count" aria-live="polite">
				{searching.answer.more ? 'The best ' : ''}{many(searching.passages.length, 'passage')} in {many(talks, 'talk')}
			</p>
		{:else}
			<p class="count" aria-live="polite">{searching.answer.notes.length ? '' : 'No talk has this. Try fewer words, or take a filter off.'}</p>
		{/if}
		<div bind:this={cards}>
			{#each searching.passages as passage, i (nameOf(passage))}
				<PassageCard {passage} {searching} {typed} current={i === searching.at} onkeep={keep} />
			{/each}
		</div>
		{#if searching.answer.more && searching.count < 100}<Button onclick={() => house.trying(() => searching.more(typed))}>Show more</Button>{/if}
	{:else if searching.choices}
		{#each [{ name: 'Saved searches', list: searching.choices.saved }, { name: 'Recent searches', list: searching.choices.recent }] as group (group.name)}
			{#if group.list.length}
				<h2>{group.name}</h2>
				<ul>
					{#each group.list as one (one)}
						<li>
							<a href="/search?q={encodeURIComponent(one)}">{one}</a>
							<Button kind="quiet" aria-label="Forget {quoted(one)}" onclick={() => searching.setSaved(one, false)}>Forget</Button>
						</li>
					{/each}
				</ul>
			{/if}
		{/each}
	{/if}
</div>

<style>
	.search {
		height: 100%;
		overflow-y: auto;
		padding: 24px max(28px, calc(50% - 520px));
	}
	.title {
		display: flex;
		gap: 12px;
		align-items: start;
	}
	h1 {
		flex: 1;
		font: 600 24px/32px var(--reading);
		overflow-wrap: anywhere;
	}
	h2 {
		padding-top: 20px;
		font-size: 16px;
	}
	.hint,
	.count {
		margin-top: 8px;
		color: var(--ink-soft);
	}
	.note {
		margin-top: 10px;
		padding: 6px 12px;
		border-radius: var(--radius);
		background: var(--warn-wash);
	}
	li {
		display: flex;
		align-items: center;
		justify-content: space-between;
		border-bottom: 1px solid var(--rule);
	}
	li a {
		padding: 8px 0;
	}
</style>
