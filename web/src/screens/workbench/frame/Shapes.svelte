<script lang="ts">
	/** Every shape, playing together; the one in hand is marked. */
	import type { Version } from '$api/client';
	import { house } from '$api/house.svelte';
	import ShapeView from '$player/ShapeView.svelte';
	import type { Frame } from './frame.svelte';

	let { frame, shapes }: { frame: Frame; shapes: Version[] } = $props();

	let width = $state(560);
	let height = $state(240);
	const GAP = 12;
	const bench = $derived(frame.bench);
	const aspect = (one: Version) => one.assembly.destination.width / one.assembly.destination.height;
	/** They are shown equally large, as large as lets all stand side by side: the side of a square of that size. */
	const side = $derived.by(() => {
		const across = shapes.reduce((sum, one) => sum + Math.sqrt(aspect(one)), 0);
		const highest = Math.min(...shapes.map((one) => Math.sqrt(aspect(one))));
		return Math.max(30, Math.min((width - 24 - GAP * (shapes.length - 1)) / across, (height - 46) * highest));
	});

	const destinationName = (version: Version) => version.assembly.destination.name;
	function nameOf(destination: string, shares: string[]): string {
		const name = house.destination(destination)?.name ?? destination;
		return shares.length ? `${name} and ${shares.length} more` : name;
	}
</script>

<div class="row" class:alone={shapes.length === 1} role="tablist" aria-label="Shapes" bind:clientWidth={width} bind:clientHeight={height}>
	{#each shapes as version (version.destination)}
		{@const shot = frame.shot && frame.framedIn(version, frame.shot)}
		{@const { destination, treated } = version}
		{@const chosen = destination === bench.version?.destination}
		<button
			type="button" role="tab" aria-selected={chosen} aria-label={destinationName(version)} title={treated.shares.length && !treated.alone ? `Framed alike: ${treated.shares.join(', ')}` : ''}
			onclick={() => bench.show(destination)}
		>
			<ShapeView
				player={bench.player!} assembly={version.assembly} script={chosen ? version.script : undefined} faces={house.faces} named={version.faces} covered={chosen && bench.covered}
				maxWidth={side * Math.sqrt(aspect(version))} maxHeight={side / Math.sqrt(aspect(version))} label="{destinationName(version)} as it will be"
			/>
			<span class="name">{nameOf(destination, treated.alone ? [] : treated.shares)}</span>
			<span class="says" data-soft={shot && shot.sharpness.enlarged > 2}>{shot ? (shot.sharpness.enlarged > 1.05 ? `enlarged ${shot.sharpness.enlarged.toFixed(1)}×` : 'sharp') : ''}</span>
		</button>
	{/each}
</div>

<style>
	.row {
		display: flex;
		justify-content: center;
		align-items: safe end;
		gap: 12px;
		min-width: 0;
		min-height: 0;
		padding: 4px 12px;
		overflow: hidden;
	}
	.alone {
		align-items: safe center;
	}
	button {
		display: grid;
		justify-items: center;
		padding: 0;
		border: 0;
		background: none;
		color: var(--stage-soft);
		font-size: 13px;
		line-height: 17px;
		cursor: pointer;
	}
	button :global(figure) {
		outline: 1px solid var(--stage-rule);
	}
	[aria-selected='true'] {
		color: var(--stage-text);
		font-weight: 700;
	}
	[aria-selected='true'] :global(figure) {
		outline: 2px solid var(--found);
	}
	.name {
		min-width: 74px;
		max-width: 140px;
		overflow: hidden;
		text-overflow: ellipsis;
		white-space: nowrap;
	}
	.says {
		font-size: 12px;
		font-weight: 400;
		white-space: nowrap;
	}
	.says[data-soft='true'] {
		color: var(--found);
	}
</style>
