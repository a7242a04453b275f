<script lang="ts">
	/** Finding a text in the captions and replacing it: every place is listed before it happens. */
	import { api, ask, type CaptionPlace } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Fold from '$ui/Fold.svelte';
	import { many } from '$ui/say';
	import type { Captions } from './captions.svelte';

	let { captions }: { captions: Captions } = $props();

	let find = $state('');
	let to = $state('');
	let places = $state.raw<CaptionPlace[] | null>(null);
	let left = $state<number[]>([]);
	const chosen = $derived((places ?? []).filter((one) => !left.includes(one.first)));

	async function look(): Promise<void> {
		left = [];
		const text = find.trim();
		places = text
			? ((await house.trying(() => ask(api.GET('/api/quotes/{quote_id}/captions/find', { params: { path: { quote_id: captions.bench.id }, query: { text } } })))) ?? null)
			: null;
	}
	async function replace(): Promise<void> {
		const at = chosen.map((one) => one.first);
		if (await captions.bench.edit({ kind: 'replace-in-captions', find: find.trim(), to: to.trim(), at, match_case: false })) {
			house.tell('good', `Replaced in ${many(at.length, 'place')}.`);
			places = null;
		}
	}
	function goTo(place: CaptionPlace): void {
		const slip = captions.slips.find((one) => one.cue.lines.flat().some((word) => word.index === place.first));
		if (slip) captions.goTo(slip.cue);
	}
</script>

<Fold says="Find and replace">
	<form onsubmit={(event) => { event.preventDefault(); void look(); }}>
		<input aria-label="Find in the captions" placeholder="Find" maxlength="200" bind:value={find} oninput={() => void look()} />
		<input aria-label="Replace with" placeholder="Replace with" maxlength="200" bind:value={to} />
	</form>
	{#if places}
		<ul aria-label="Places">
			{#each places as one (one.first)}
				<li>
					<input type="checkbox" aria-label="Replace here" checked={!left.includes(one.first)} onchange={() => (left = left.includes(one.first) ? left.filter((first) => first !== one.first) : [...left, one.first])} />
					<button type="button" onclick={() => goTo(one)}>{one.before} <b>{one.said}</b> {one.after}</button>
				</li>
			{:else}<li class="none">Not found in the captions.</li>{/each}
		</ul>
		{#if places.length}<Button disabled={!chosen.length} onclick={replace}>Replace in {many(chosen.length, 'place')}</Button>{/if}
	{/if}
</Fold>

<style>
	form {
		display: grid;
		gap: 4px;
	}
	form input {
		min-height: 32px;
		padding: 0 8px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
		font: inherit;
	}
	ul {
		max-height: 180px;
		margin: 6px 0;
		padding: 0;
		overflow-y: auto;
		list-style: none;
		font-size: 14px;
	}
	li {
		display: flex;
		gap: 6px;
		align-items: start;
	}
	li button {
		padding: 2px 0;
		border: 0;
		background: none;
		font: inherit;
		text-align: left;
		cursor: pointer;
	}
	.none {
		color: var(--ink-soft);
	}
</style>
