<script lang="ts">
	/** Has all quotes that are shown follow a finish of the house. */
	import { api, ask } from '$api/client';
	import { house } from '$api/house.svelte';
	import { many } from '$ui/say';
	import type { Shortlist } from './shortlist.svelte';

	let { list }: { list: Shortlist } = $props();

	const offered = $derived(house.finishes.filter((one) => !one.retired));

	async function apply(field: HTMLSelectElement): Promise<void> {
		const chosen = offered.find((one) => one.id === field.value);
		field.value = '';
		if (!chosen) return;
		const quotes = list.shown.map((one) => one.id);
		if (!confirm(`Have ${many(quotes.length, 'quote')} follow the finish ${chosen.name}?`)) return;
		const done = await house.trying(() =>
			ask(api.POST('/api/finishes/{finish}/apply', { params: { path: { finish: chosen.id } }, body: { quotes, by: house.person || null } }))
		);
		if (done) house.tell('good', done.changed ? `${many(done.changed, 'quote')} ${done.changed === 1 ? 'follows' : 'follow'} ${chosen.name} now. Undo takes it back in each.` : `They follow ${chosen.name} already.`);
	}
</script>

<label>Finish <select aria-label="Finish for these quotes" disabled={!list.shown.length} onchange={(event) => void apply(event.currentTarget)}><option value="">for these quotes …</option>{#each offered as one (one.id)}<option value={one.id}>{one.name}</option>{/each}</select></label>

<style>
	label {
		display: flex;
		align-items: center;
		gap: 6px;
	}
</style>
