<script lang="ts">
	import { untrack } from 'svelte';
	import { page } from '$app/state';
	import { api, ask, type Hit } from '$api/client';
	import { house } from '$api/house.svelte';
	import { clock, many, quoted } from '$ui/say';
	import { trail } from '$ui/trail.svelte';

	let hits = $state.raw<Hit[] | null>(null);
	let note = $state<string | null>(null);
	const typed = $derived(page.url.searchParams.get('q') ?? '');

	trail.set([{ name: 'Shelf', href: '/' }, { name: 'Search' }]);

	$effect(() => {
		const q = typed;
		untrack(() => void house.trying(() => search(q)));
	});

	async function search(q: string): Promise<void> {
		if (!q.trim()) {
			hits = null;
			return;
		}
		const found = await ask(api.GET('/api/search', { params: { query: { q } } }));
		if (q !== typed) return;
		hits = found.hits;
		note = found.note;
	}

	const talks = $derived.by(() => {
		const byTalk = new Map<number, { title: string; hits: Hit[] }>();
		for (const hit of hits ?? []) {
			const talk = byTalk.get(hit.recording_id) ?? { title: hit.title, hits: [] };
			talk.hits.push(hit);
			byTalk.set(hit.recording_id, talk);
		}
		return [...byTalk.entries()];
	});
	const isMarked = (hit: Hit, word: number) => hit.marks.some((mark) => word >= mark.first && word < mark.end);
	const address = (hit: Hit) => `/talk/${hit.recording_id}?t=${(hit.start_ms / 1000).toFixed(2)}&q=${encodeURIComponent(typed)}`;
</script>

<div class="search">
	<h1>{typed ? `${quoted(typed)} in all talks` : 'Search all talks'}</h1>
	{#if hits === null}
		<p class="hint">Type words that were said, or a phrase in "double quotes". A - before a word leaves it out.</p>
	{:else if hits.length === 0}
		<p class="hint">{note ?? 'No talk has a sentence with all of this in it. Try fewer words.'}</p>
	{:else}
		<p class="hint" aria-live="polite">{many(hits.length, 'sentence')} in {many(talks.length, 'talk')}. {note ?? ''}</p>
		{#each talks as [id, talk] (id)}
			<section>
				<h2>{talk.title} <span>{talk.hits.length}</span></h2>
				<ul>
					{#each talk.hits as hit (hit.first_word)}
						<li>
							<a href={address(hit)}>
								<time>{clock(hit.start_ms)}</time>
								<p>{#each hit.words as word, i (i)}{#if isMarked(hit, i)}<mark>{word}</mark>{:else}{word}{/if}{' '}{/each}</p>
							</a>
						</li>
					{/each}
				</ul>
			</section>
		{/each}
	{/if}
</div>

<style>
	.search {
		height: 100%;
		overflow-y: auto;
		padding: 24px max(28px, calc(50% - 420px));
	}
	h1 {
		font: 600 24px/32px var(--reading);
		overflow-wrap: anywhere;
	}
	.hint {
		margin: 8px 0 20px;
		color: var(--ink-soft);
	}
	h2 {
		font-size: 16px;
		padding: 8px 0;
		border-bottom: 1px solid var(--rule);
	}
	h2 span {
		color: var(--ink-soft);
		font-weight: 400;
	}
	li a {
		display: grid;
		grid-template-columns: 64px 1fr;
		padding: 8px 0;
		border-bottom: 1px solid var(--rule);
		text-decoration: none;
	}
	li a:hover {
		background: var(--paper-sunk);
	}
	time {
		color: var(--ink-soft);
		line-height: 28px;
	}
	li p {
		font: 17px/28px var(--reading);
	}
	mark {
		background: var(--found-wash);
		box-shadow: inset 0 -2px var(--found);
		color: inherit;
	}
</style>
