<script lang="ts">
	/** A correction of a caption made in the talk's words as well: here, and each time the same was misheard, with the places listed
	 * before it happens. */
	import { api, ask, type Occurrence } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Dialog from '$ui/Dialog.svelte';
	import { clock, many } from '$ui/say';
	import type { Captions } from './captions.svelte';

	type Props = { captions: Captions; heard: string; said: string; first: number; onclose: () => void };
	let { captions, heard, said, first, onclose }: Props = $props();

	const path = $derived({ recording_id: captions.bench.quote!.recording_id });
	let places = $state.raw<Occurrence[] | null>(null);
	let left = $state<number[]>([]);
	const chosen = $derived((places ?? []).filter((one) => !left.includes(one.first)));

	$effect(() => {
		void ask(api.GET('/api/recordings/{recording_id}/places', { params: { path, query: { find: heard } } })).then((found) => (places = found));
	});

	async function write(): Promise<void> {
		const done = await house.trying(async () => {
			const { revision } = await ask(api.GET('/api/recordings/{recording_id}/transcript', { params: { path } }));
			const correction = { kind: 'replace-all' as const, find: heard, text: said, places: chosen.map((one) => one.first) };
			return ask(api.POST('/api/recordings/{recording_id}/corrections', { params: { path }, body: { on_revision: revision, correction } }));
		});
		if (!done) return;
		await captions.bench.wordsChanged();
		house.tell('good', `Written as “${said}” in ${many(chosen.length, 'place')} of the talk.`);
		onclose();
	}
</script>

<Dialog name="Also in the talk’s words" {onclose}>
	<p>Write “{said}” for “{heard}” in the transcript, so that every quote and every search has it.</p>
	{#if places}
		<ul aria-label="Places in the talk">
			{#each places as one (one.first)}
				<li>
					<label>
						<input type="checkbox" checked={!left.includes(one.first)} onchange={() => (left = left.includes(one.first) ? left.filter((at) => at !== one.first) : [...left, one.first])} />
						<span class="at">{clock(one.start_ms)}</span> {one.before} <b>{one.text}</b> {one.after}{one.first === first ? ' (here)' : ''}
					</label>
				</li>
			{:else}<li>No longer in the transcript.</li>{/each}
		</ul>
	{/if}
	{#snippet actions()}
		<Button kind="main" disabled={!chosen.length} onclick={() => void write()}>Write in {many(chosen.length, 'place')}</Button>
		<Button onclick={onclose}>Cancel</Button>
	{/snippet}
</Dialog>

<style>
	ul {
		max-height: 320px;
		margin: 8px 0;
		padding: 0;
		overflow-y: auto;
		list-style: none;
	}
	label {
		display: block;
		padding: 3px 0;
	}
	.at {
		color: var(--ink-soft);
		font-size: 13px;
	}
</style>
