<script lang="ts">
	import type { Snippet } from 'svelte';
	import { house } from '$api/house.svelte';
	import ShapeView from '$player/ShapeView.svelte';
	import Transport from '$player/Transport.svelte';
	import type { Bench } from './bench.svelte';

	let { bench, covered = false, over }: { bench: Bench; covered?: boolean; over?: Snippet<[{ width: number; height: number }]> } = $props();

	let width = $state(320);
	let height = $state(480);
	const version = $derived(bench.version!);
	const room = $derived({ width: width - 32, height: height - 32 });
	const scale = $derived(
		Math.min(room.width / version.assembly.destination.width, room.height / version.assembly.destination.height)
	);
	const size = $derived({
		width: Math.round(version.assembly.destination.width * scale),
		height: Math.round(version.assembly.destination.height * scale)
	});
</script>

<section class="stage" aria-label="Stage">
	<div class="tabs" role="tablist" aria-label="Versions">
		{#each bench.quote!.versions as one (one.destination)}
			<button
				type="button" role="tab" aria-selected={one.destination === version.destination}
				onclick={() => bench.show(one.destination)}
			>{house.destination(one.destination)?.name}</button>
		{/each}
	</div>
	<div class="room" bind:clientWidth={width} bind:clientHeight={height}>
		<div class="shape" style:width="{size.width}px" style:height="{size.height}px">
			<ShapeView
				player={bench.player!} assembly={version.assembly} script={version.script} faces={house.faces} named={version.faces} {covered}
				maxWidth={room.width} maxHeight={room.height} label="{version.assembly.destination.name} as it will be"
			/>
			{@render over?.(size)}
		</div>
	</div>
	<Transport player={bench.player!} what={bench.asSaid ? 'the talk' : 'the cut'} loop openingMs={3000} />
</section>

<style>
	.stage {
		display: grid;
		grid-template-rows: auto minmax(0, 1fr) auto;
		grid-template-columns: minmax(0, 1fr);
		min-width: 0;
		min-height: 0;
		height: 100%;
		background: var(--stage);
		color: var(--stage-text);
	}
	.tabs {
		display: flex;
		flex-wrap: wrap;
		gap: 2px;
		padding: 6px 10px 0;
	}
	.tabs button {
		min-height: 28px;
		padding: 0 10px;
		border: 0;
		border-radius: var(--radius);
		background: none;
		color: var(--stage-soft);
		font-size: 13px;
		cursor: pointer;
	}
	.tabs button:hover {
		color: var(--stage-text);
	}
	.tabs [aria-selected='true'] {
		background: var(--stage-raised);
		color: var(--stage-text);
		font-weight: 700;
	}
	.room {
		display: grid;
		place-items: center;
		min-height: 0;
		min-width: 0;
		overflow: hidden;
	}
	.shape {
		position: relative;
	}
</style>
