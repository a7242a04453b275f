<script lang="ts">
	/** A second text for each cue: typed beside it, burned in below or instead, or not at all. */
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Fold from '$ui/Fold.svelte';
	import type { Captions } from './captions.svelte';

	let { captions, language = $bindable() }: { captions: Captions; language: string | null } = $props();

	const told = $derived(captions.bench.quote!.document.captions!);
	const known = $derived((told.translations ?? []).map((one) => one.language));
	const offered = $derived(Object.entries(house.languages).filter(([code]) => code.length <= 3));
	const shown = $derived(told.translation_shown ?? 'none');
	const name = (code: string) => house.languages[code] ?? code;

	function choose(code: string): void {
		language = code || null;
		if (code && known.includes(code) && told.translation !== code) void captions.edit({ kind: 'show-translation', language: code, shown });
	}
</script>

<Fold says="Translation{told.translation && shown !== 'none' ? ` · ${name(told.translation)} ${shown}` : ''}" open={language !== null}>
	<label>
		Into
		<select value={language ?? ''} onchange={(event) => choose(event.currentTarget.value)}>
			<option value="">no other language</option>
			{#each offered as [code, called] (code)}<option value={code}>{called}{known.includes(code) ? ' ✓' : ''}</option>{/each}
		</select>
	</label>
	{#if language}
		<div class="row" role="group" aria-label="Burn the translation in">
			{#each [['none', 'Not burned in'], ['below', 'Below'], ['instead', 'Instead']] as const as [value, says] (value)}
				<Button pressed={shown === value} disabled={!known.includes(language)} onclick={() => void captions.edit({ kind: 'show-translation', language, shown: value })}>{says}</Button>
			{/each}
		</div>
		{#if !known.includes(language)}<p>Type the translation under a caption to begin.</p>{/if}
	{/if}
</Fold>

<style>
	label {
		display: flex;
		align-items: center;
		gap: 8px;
	}
	select {
		min-height: 32px;
		font: inherit;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 4px;
	}
	p {
		color: var(--ink-soft);
		font-size: 14px;
	}
</style>
