<script lang="ts">
	/** Limits that a style has otherwise in a shape, in a language, or in a language in one shape. */
	import type { CaptionLook } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Fields from '$ui/Fields.svelte';
	import LimitsFields from './LimitsFields.svelte';

	type Own = NonNullable<CaptionLook['limits_in']>;
	let { look, shapes, onset }: { look: CaptionLook; shapes: string[]; onset: (own: Own) => void } = $props();

	const own = $derived(look.limits_in ?? []);
	const languages = $derived(Object.entries(house.languages).filter(([code]) => code.length <= 3));
	let shape = $state('');
	let language = $state('');
	const there = $derived(own.some((one) => (one.shape ?? '') === shape && (one.language ?? '') === language));
	const called = (one: Own[number]) => [one.language && (house.languages[one.language] ?? one.language), one.shape && `in ${one.shape}`].filter(Boolean).join(' ');

	function add(): void {
		onset([...own, { shape: shape || null, language: language || null, limits: { ...look.limits } }]);
		shape = language = '';
	}
</script>

{#each own as one, at (called(one))}
	<Fields name="Limits: {called(one)}" across>
		<LimitsFields limits={one.limits} onset={(limits) => onset(own.with(at, { ...one, limits }))} />
		<Button onclick={() => onset(own.filter((other) => other !== one))}>Remove these limits</Button>
	</Fields>
{/each}
<div class="row" role="group" aria-label="Other limits">
	Other limits in
	<select aria-label="Language" bind:value={language}><option value="">every language</option>{#each languages as [code, name] (code)}<option value={code}>{name}</option>{/each}</select>
	<select aria-label="Shape" bind:value={shape}><option value="">every shape</option>{#each shapes as one (one)}<option>{one}</option>{/each}</select>
	<Button disabled={there || (!shape && !language)} onclick={add}>Add limits</Button>
</div>

<style>
	select {
		max-width: 170px;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 6px;
	}
</style>
