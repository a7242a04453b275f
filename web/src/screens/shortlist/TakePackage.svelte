<script lang="ts">
	/** A package from another house is looked at before it is taken in. */
	import { api, ask, asBody, type Package } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Dialog from '$ui/Dialog.svelte';
	import { many } from '$ui/say';

	let { file, onclose }: { file: File; onclose: (changed: boolean) => void } = $props();
	let found = $state.raw<Package | null>(null);
	let busy = $state(false);
	const ready = $derived(found?.quotes.filter((one) => one.recording_id !== null) ?? []);

	$effect(() => {
		void house.trying(() => ask(api.POST('/api/packages/look', asBody(file)))).then((looked) => {
			if (looked) found = looked;
			else onclose(false);
		});
	});
	async function take(): Promise<void> {
		busy = true;
		const taken = await house.trying(() => ask(api.POST('/api/packages', asBody(file))));
		busy = false;
		if (!taken) return;
		house.tell('good', `${many(taken.quotes.length, 'quote')} imported.`);
		await house.refreshCatalogue();
		onclose(true);
	}
</script>

<Dialog name="Import a package" wide onclose={() => onclose(false)}>
	{#if found}
		<p class="soft">{file.name}</p>
		<ul>
			{#each found.quotes as one, i (i)}
				<li data-missing={one.recording_id === null}>
					<b>{one.title}</b>
					<span class="soft">from {one.recording}{one.versions.length ? ` · ${one.versions.join(', ')}` : ''}</span>
					{#if one.here_already}<p class="warn">A quote just like this is here already. <a href="/quote/{one.here_already}/trim">Open it</a></p>{/if}
					{#each one.notes as note, n (n)}<p class="warn">{note}</p>{/each}
				</li>
			{/each}
		</ul>
		{#each found.missing as one (one)}<p class="bad">{one}</p>{/each}
		{#if found.brings.length}<p>Comes along, since it isn't in this house: {found.brings.join(', ')}.</p>{/if}
	{:else}<p role="status">Looking into {file.name}…</p>{/if}
	{#snippet actions()}
		{#if found}<Button kind="main" disabled={!ready.length || busy} onclick={take}>{busy ? 'Importing…' : `Import ${many(ready.length, 'quote')}`}</Button>{/if}
	{/snippet}
</Dialog>

<style>
	ul {
		padding: 8px 0;
	}
	li {
		padding: 6px 0;
		border-bottom: 1px solid var(--rule);
	}
	li[data-missing='true'] b {
		color: var(--ink-soft);
		font-weight: 400;
	}
	.soft {
		color: var(--ink-soft);
		font-size: 14px;
	}
	.warn {
		color: var(--warn);
	}
	.bad {
		color: var(--bad);
	}
</style>
