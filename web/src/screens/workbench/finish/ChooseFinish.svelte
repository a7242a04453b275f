<script lang="ts">
	/** The finish that the quote follows: chosen, held, made of what is here, or changed to it. */
	import { api, ask } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Dialog from '$ui/Dialog.svelte';
	import { many } from '$ui/say';
	import type { Finish } from './finish.svelte';

	let { finish }: { finish: Finish } = $props();

	const bench = $derived(finish.bench);
	const told = $derived(bench.quote!.document);
	const followed = $derived(house.finishes.find((one) => one.id === told.finish));
	const offered = $derived(house.finishes.filter((one) => !one.retired || one.id === told.finish));
	const own = $derived(finish.overlays.some((one) => one.when.kind !== 'words' && !one.hidden));
	let naming = $state(false);
	let name = $state('');

	async function make(): Promise<void> {
		const made = await house.trying(() => ask(api.POST('/api/finishes', { body: { name: name.trim(), said: '', quote: bench.id } })));
		if (!made) return;
		naming = false;
		await house.refreshCatalogue();
		await bench.edit({ kind: 'choose-finish', finish: made.id, instead: true });
		house.tell('good', `${made.name} is a finish of the house now. This quote follows it.`);
	}

	async function change(): Promise<void> {
		if (!followed) return;
		const path = { finish: followed.id };
		const { follow, exported } = await ask(api.GET('/api/finishes/{finish}/follows', { params: { path } }));
		const others = Math.max(0, follow + exported - (told.finish_held ? 0 : 1));
		const says = others ? ` ${many(others, 'other quote')} ${others === 1 ? 'follows' : 'follow'} it${exported ? `; ${exported} exported ${exported === 1 ? 'one holds' : 'ones hold'} what it was` : ''}.` : '';
		if (!confirm(`Change the finish ${followed.name} to what stands here?${says}`)) return;
		const body = { name: followed.name, said: followed.said ?? '', quote: bench.id };
		const changed = await house.trying(() => ask(api.PUT('/api/finishes/{finish}', { params: { path }, body })));
		if (!changed) return;
		await house.refreshCatalogue();
		await bench.edit({ kind: 'choose-finish', finish: followed.id, instead: true });
		house.tell('good', `${followed.name} is at version ${changed.finish.version}. ${many(changed.follow, 'quote')} ${changed.follow === 1 ? 'follows' : 'follow'} it.`);
	}
</script>

<section aria-label="Finish of the house">
	<label>Finish
		<select value={told.finish ?? ''} onchange={(event) => void bench.edit({ kind: 'choose-finish', finish: event.currentTarget.value || null, instead: false })}>
			<option value="">none</option>
			{#each offered as one (one.id)}<option value={one.id}>{one.name}</option>{/each}
		</select>
	</label>
	{#if followed}
		<p>
			{followed.said ? `For ${followed.said}. ` : ''}{told.finish_held ? `Holds version ${told.finish_held}.` : `Follows version ${followed.version}.`}
			{#if told.finish_held}<Button kind="quiet" onclick={() => void bench.edit({ kind: 'hold-finish', held: null })}>Follow it again</Button>
			{:else}<Button kind="quiet" onclick={() => void bench.edit({ kind: 'hold-finish', held: followed.version ?? 1 })}>Hold this version</Button>{/if}
		</p>
	{/if}
	<div class="row">
		<Button disabled={!own} title="Everything here that is not tied to words, for other quotes too" onclick={() => { name = ''; naming = true; }}>Make a finish of this</Button>
		{#if followed}<Button disabled={!own} onclick={change}>Change “{followed.name}” to this</Button>{/if}
	</div>
</section>
{#if naming}
	<Dialog name="Make a finish" onclose={() => (naming = false)}>
		<form onsubmit={(event) => { event.preventDefault(); void make(); }}>
			<p>Everything here that is not tied to words becomes a finish that any quote can follow.</p>
			<!-- svelte-ignore a11y_autofocus -->
			<label>Name <input required maxlength="40" autofocus bind:value={name} /></label>
			<div class="row"><Button kind="main" type="submit">Make it</Button><Button onclick={() => (naming = false)}>Cancel</Button></div>
		</form>
	</Dialog>
{/if}

<style>
	section,
	form {
		display: grid;
		gap: 8px;
	}
	label {
		display: grid;
		grid-template-columns: 60px minmax(0, 1fr);
		align-items: center;
		gap: 8px;
		font-weight: 600;
	}
	select,
	input {
		font-weight: 400;
	}
	p {
		color: var(--ink-soft);
		font-size: 14px;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 4px;
	}
</style>
