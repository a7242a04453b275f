<script lang="ts">
	/** Captions as files: brought in and matched to the words, or taken away for the version on the stage. */
	import { api, ask, asBody } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Fold from '$ui/Fold.svelte';
	import { many } from '$ui/say';
	import type { Captions } from './captions.svelte';

	let { captions, language }: { captions: Captions; language: string | null } = $props();

	const KINDS = ['srt', 'vtt', 'ttml', 'ass', 'json', 'txt'];
	let chooser: HTMLInputElement;
	let asTranslation = $state(false);
	const bench = $derived(captions.bench);
	const url = (kind: string) => `/api/quotes/${bench.id}/captions.${kind}?destination=${encodeURIComponent(bench.shown)}${asTranslation ? '&translated=true' : ''}`;

	async function bring(file: File | undefined): Promise<void> {
		if (!file) return;
		const query = { name: file.name, language: asTranslation ? language : null };
		const read = await house.trying(() =>
			ask(api.POST('/api/quotes/{quote_id}/captions/read', { params: { path: { quote_id: bench.id }, query }, ...asBody(file) }))
		);
		chooser.value = '';
		if (!read) return;
		if (!read.edit) return house.tell('bad', `${file.name} says nothing of what is said in this quote. Choose the file of this talk.`);
		const left = read.left.length ? ` ${many(read.left.length, 'caption')} of the file found no words here: “${read.left[0]!.slice(0, 60)}”.` : '';
		if (await bench.edit(read.edit)) house.tell('good', `Brought in ${many(read.matched, 'caption')}.${left}`);
	}
</script>

<Fold says="Files">
	{#if language}
		<label class="which"><input type="checkbox" bind:checked={asTranslation} /> of the translation</label>
	{/if}
	<div class="row">
		<Button onclick={() => chooser.click()}>Bring in captions …</Button>
		<input bind:this={chooser} type="file" hidden accept={house.transcripts.join(',')} aria-label="File of captions" onchange={(event) => void bring(event.currentTarget.files?.[0])} />
	</div>
	<p>Save as {#each KINDS as kind, i (kind)}{i ? ' · ' : ''}<a href={url(kind)} download>{kind.toUpperCase()}</a>{/each}</p>
</Fold>

<style>
	.which {
		display: flex;
		align-items: center;
		gap: 6px;
	}
	.row {
		display: flex;
		gap: 6px;
	}
	p {
		font-size: 14px;
	}
</style>
