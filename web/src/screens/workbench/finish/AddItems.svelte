<script lang="ts">
	/** What can be put over a clip, before it, after it and under it. Where words are selected, it shows with those. */
	import { house } from '$api/house.svelte';
	import { housePictureUrl } from '$player/layers/backdrop';
	import BringPicture from '$screens/house/BringPicture.svelte';
	import BringSound from '$screens/house/BringSound.svelte';
	import Button from '$ui/Button.svelte';
	import type { Finish } from './finish.svelte';
	import { AROUND, OVER, UNDER, type Addable } from './items';

	let { finish }: { finish: Finish } = $props();

	const GROUPS = [['', OVER], ['Before and after', AROUND], ['Sound', UNDER]] as const;
	/** What waits for its picture, or its sound, to be chosen. */
	let waiting = $state.raw<Addable | null>(null);

	function add(one: Addable): void {
		if (one.needs === 'recording') void finish.loadRecordings();
		if (one.needs) waiting = waiting === one ? null : one;
		else void finish.add(one);
	}
	function chosen(asset: number): void {
		if (waiting) void finish.add(waiting, asset);
		waiting = null;
	}
</script>

<section aria-label="Add">
	<h2>Add{finish.bench.selection.range ? ' with the selected words' : ''}</h2>
	{#each GROUPS as [name, all] (name)}
		{#if name}<h3>{name}</h3>{/if}
		<div class="buttons" role="group" aria-label={name || 'Over the picture'}>
			{#each all as one (one.name)}
				<Button aria-expanded={one.needs ? waiting === one : undefined} onclick={() => add(one)}>{one.name}</Button>
			{/each}
		</div>
	{/each}
	{#if waiting?.needs === 'sound'}
		<div class="buttons" role="group" aria-label="{waiting.name}: choose a piece">
			{#each house.sounds as one (one.id)}<Button onclick={() => chosen(one.id)}>{one.name}</Button>{/each}
			<BringSound onbrought={(sound) => chosen(sound.id)} />
		</div>
	{:else if waiting?.needs === 'recording'}
		<div class="buttons" role="group" aria-label="{waiting.name}: choose a recording">
			{#each finish.recordings as one (one.id)}<Button onclick={() => chosen(one.id)}>{one.title}</Button>
			{:else}<p>No other recording with a picture is on the shelf.</p>{/each}
		</div>
	{:else if waiting}
		<div class="pictures" role="group" aria-label="{waiting.name}: choose a picture">
			{#each house.pictures as one (one.id)}
				<button type="button" class="picture" title={one.name} aria-label={one.name} onclick={() => chosen(one.id)}><img src={housePictureUrl(one.id)} alt="" /></button>
			{/each}
			<BringPicture onbrought={(picture) => chosen(picture.id)} />
		</div>
	{/if}
</section>

<style>
	h2 {
		margin-bottom: 6px;
		font-size: 15px;
	}
	h3 {
		margin: 8px 0 4px;
		color: var(--ink-soft);
		font-size: 13px;
		font-weight: 400;
	}
	.buttons,
	.pictures {
		display: flex;
		flex-wrap: wrap;
		gap: 4px;
	}
	.pictures {
		margin-top: 8px;
	}
	.picture {
		width: 64px;
		height: 48px;
		padding: 2px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: repeating-conic-gradient(var(--rule) 0 25%, var(--paper-raised) 0 50%) 0 0 / 12px 12px;
		cursor: pointer;
	}
	.picture img {
		width: 100%;
		height: 100%;
		object-fit: contain;
	}
</style>
