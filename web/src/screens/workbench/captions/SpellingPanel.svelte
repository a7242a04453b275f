<script lang="ts">
	/** Words that no word list knows, each with what may be meant. */
	import { api, ask, type Spelling } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Fold from '$ui/Fold.svelte';
	import { many } from '$ui/say';
	import type { Captions } from './captions.svelte';

	let { captions }: { captions: Captions } = $props();

	let open = $state(false);
	let found = $state.raw<Spelling | null>(null);

	$effect(() => {
		void captions.bench.resolved?.revision;
		if (!open) return;
		const params = { path: { quote_id: captions.bench.id } };
		void house.trying(() => ask(api.GET('/api/quotes/{quote_id}/captions/spelling', { params }))).then((told) => (found = told ?? null));
	});

	function goTo(word: number): void {
		const slip = captions.slips.find((one) => one.cue.lines.flat().some((other) => other.index === word));
		if (slip) captions.goTo(slip.cue);
	}
	const write = (word: number, text: string, to: string) =>
		void captions.bench.edit({ kind: 'replace-in-captions', find: text, to, at: [word], match_case: true });
</script>

<Fold says="Spelling{found?.checked && open ? ` · ${found.words.length ? many(found.words.length, 'word') : 'nothing odd'}` : ''}" bind:open>
	{#if found && !found.checked}<p>There is no word list for {found.language}, so spelling is not checked.</p>{/if}
	{#if found?.words.length}
		<ul aria-label="Spelling">
			{#each found.words as one, i (i)}
				<li>
					<button type="button" onclick={() => goTo(one.word)}>{one.text}</button>
					{#each one.meant as meant (meant)}<Button onclick={() => write(one.word, one.text, meant)}>{meant}</Button>{/each}
				</li>
			{/each}
		</ul>
	{/if}
</Fold>

<style>
	p {
		color: var(--ink-soft);
		font-size: 14px;
	}
	ul {
		max-height: 220px;
		margin: 0;
		padding: 0;
		overflow-y: auto;
		list-style: none;
	}
	li {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 4px;
		padding: 2px 0;
	}
	li button:first-child {
		padding: 2px 6px 2px 0;
		border: 0;
		background: none;
		color: var(--warn);
		font: inherit;
		font-weight: 600;
		cursor: pointer;
	}
</style>
