<script lang="ts">
	import { SvelteSet } from 'svelte/reactivity';
	import { api, ask, type Occurrence } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Dialog from '$ui/Dialog.svelte';
	import Field from '$ui/Field.svelte';
	import { clock, many } from '$ui/say';
	import type { Wording } from './wording.svelte';

	/** Writing the same words otherwise wherever they are said; every place is shown before it happens. */
	let { wording, onreveal }: { wording: Wording; onreveal: (word: number, last?: number) => void } = $props();
	let find = $state('');
	let text = $state('');
	let places = $state.raw<Occurrence[] | null>(null);
	const chosen = new SvelteSet<number>();

	async function list(): Promise<void> {
		const params = { path: { recording_id: wording.recordingId }, query: { find } };
		places = (await house.trying(() => ask(api.GET('/api/recordings/{recording_id}/places', { params })))) ?? null;
		chosen.clear();
		for (const place of places ?? []) chosen.add(place.first);
	}
	async function replace(): Promise<void> {
		const kept = [...chosen].sort((a, b) => a - b);
		if (await wording.correct({ kind: 'replace-all', find, text, places: kept })) {
			house.tell('good', `Corrected at ${many(kept.length, 'place')}.`, { name: 'Undo', run: () => void wording.undo() });
			places = null;
		}
	}
	function turn(first: number): void {
		if (!chosen.delete(first)) chosen.add(first);
	}
</script>

<section aria-label="Replace everywhere">
	<h3>Replace everywhere</h3>
	<form onsubmit={(event) => { event.preventDefault(); void list(); }}>
		<Field name="Written now"><input bind:value={find} maxlength="200" /></Field>
		<Field name="As it was said"><input bind:value={text} maxlength="200" /></Field>
		<Button type="submit" disabled={!find.trim()}>Show each one</Button>
	</form>
</section>
{#if places}
	<Dialog name={places.length ? `“${find}” is written at ${many(places.length, 'place')}` : `“${find}” is not written here`} wide onclose={() => (places = null)}>
		<ul>
			{#each places as place (place.first)}
				<li>
					<label>
						<input type="checkbox" checked={chosen.has(place.first)} onchange={() => turn(place.first)} />
						<span class="time">{clock(place.start_ms)}</span>
						<span class="text">… {place.before} <del>{place.text}</del> <ins>{text}</ins> {place.after} …</span>
					</label>
				</li>
			{/each}
		</ul>
		{#snippet actions()}
			<Button kind="main" disabled={!chosen.size} onclick={replace}>Replace at {many(chosen.size, 'place')}</Button>
			<Button onclick={() => { const first = places?.[0]; places = null; if (first) onreveal(first.first, first.last); }}>Show the first</Button>
			<Button onclick={() => (places = null)}>Cancel</Button>
		{/snippet}
	</Dialog>
{/if}

<style>
	form {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 8px;
		align-items: end;
	}
	label {
		display: grid;
		grid-template-columns: 24px 60px 1fr;
		gap: 8px;
		align-items: start;
		padding: 6px 0;
		border-bottom: 1px solid var(--rule);
	}
	input[type='checkbox'] {
		width: 18px;
		height: 18px;
		margin: 2px 0;
		accent-color: var(--kept);
	}
	.time {
		color: var(--ink-soft);
	}
	.text {
		font: 16px/24px var(--reading);
		overflow-wrap: anywhere;
	}
	del {
		color: var(--struck);
	}
	ins {
		background: var(--kept-wash);
		text-decoration: none;
	}
</style>
