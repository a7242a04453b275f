<script lang="ts">
	import { untrack } from 'svelte';
	import X from '@lucide/svelte/icons/x';
	import { api, ask, type NameSuggestion } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import { clock, many } from '$ui/say';
	import type { Wording } from './wording.svelte';

	/** The names of this house, and where something sounds like them but is written otherwise. */
	let { wording, onreveal }: { wording: Wording; onreveal: (word: number, last?: number) => void } = $props();
	let names = $state.raw<string[]>([]);
	let found = $state.raw<NameSuggestion[]>([]);
	let added = $state('');
	const params = $derived({ path: { recording_id: wording.recordingId } });

	$effect(() => {
		void wording.talk;
		untrack(() => void house.trying(look));
	});
	async function look(): Promise<void> {
		names = await ask(api.GET('/api/names'));
		found = await ask(api.GET('/api/recordings/{recording_id}/name-suggestions', { params }));
	}
	async function add(): Promise<void> {
		const name = added.trim();
		if (!name) return;
		await house.trying(() => ask(api.POST('/api/names', { body: { name } })));
		added = '';
		await house.trying(look);
	}
	async function drop(name: string): Promise<void> {
		await house.trying(() => ask(api.POST('/api/names/drop', { body: { name } })));
		await house.trying(look);
	}
	/** The name with the marks that stand around what was heard. */
	const dressed = (one: NameSuggestion) => one.name + (/[.,?!;:…]+$/.exec(one.place.text)?.[0] ?? '');
</script>

<section aria-label="Names">
	<h3>Your names</h3>
	{#if found.length}
		<p>{many(found.length, 'place')} may be one of them:</p>
		<ul>
			{#each found as one (one.place.first)}
				<li>
					<button type="button" class="where" onclick={() => onreveal(one.place.first, one.place.last)}>
						{clock(one.place.start_ms)} <q>{one.place.text}</q>
					</button>
					<Button onclick={() => wording.correct({ kind: 'correct-words', first: one.place.first, last: one.place.last, text: dressed(one) })}>
						{one.name}
					</Button>
				</li>
			{/each}
		</ul>
	{:else if names.length}
		<p>Nothing here sounds like one of your names spelled another way.</p>
	{/if}
	<details>
		<summary>{many(names.length, 'name')} in the list</summary>
		<ul class="list">
			{#each names as name (name)}
				<li>{name} <Button kind="quiet" aria-label="Take {name} off the list" onclick={() => drop(name)}>{#snippet icon()}<X size={14} />{/snippet}</Button></li>
			{/each}
		</ul>
	</details>
	<form onsubmit={(event) => { event.preventDefault(); void add(); }}>
		<input bind:value={added} aria-label="A name as this house spells it" placeholder="Add a name" maxlength="120" />
		<Button type="submit" disabled={!added.trim()}>Add</Button>
	</form>
</section>

<style>
	p {
		color: var(--ink-soft);
		font-size: 14px;
	}
	li {
		display: flex;
		gap: 8px;
		align-items: center;
		justify-content: space-between;
		min-height: 34px;
	}
	.list {
		display: flex;
		flex-wrap: wrap;
		gap: 0 14px;
	}
	.where {
		min-width: 0;
		padding: 4px 0;
		border: 0;
		background: none;
		text-align: left;
		cursor: pointer;
	}
	.where:hover q {
		text-decoration: underline;
	}
	q {
		font-family: var(--reading);
	}
	summary {
		color: var(--note);
		font-size: 14px;
		cursor: pointer;
	}
	form {
		display: flex;
		gap: 8px;
	}
	input {
		flex: 1;
		min-width: 0;
		padding: 3px 8px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper);
	}
</style>
