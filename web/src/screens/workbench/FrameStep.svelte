<script lang="ts">
	import ScanFace from '@lucide/svelte/icons/scan-face';
	import { house } from '$api/house.svelte';
	import type { FramingChange } from '$api/client';
	import Button from '$ui/Button.svelte';
	import Check from '$ui/Check.svelte';
	import Slider from '$ui/Slider.svelte';
	import type { Bench } from './bench.svelte';
	import Destinations from './Destinations.svelte';
	import SourceView from './SourceView.svelte';
	import Stage from './Stage.svelte';

	let { bench }: { bench: Bench } = $props();

	const version = $derived(bench.version!);
	const treated = $derived(version.treated);
	const edit = (change: FramingChange, destination = version.destination) => ({ kind: 'set-framing' as const, destination, framing: change });
	const set = (change: FramingChange, destination?: string) => void bench.edit(edit(change, destination));
	const look = (change: FramingChange) => bench.try(edit(change));
</script>

<div class="frame">
	<div class="source">
		{#if bench.recording!.width}
			<SourceView {bench} onlook={look} onset={set} />
		{:else}
			<p class="hint">This recording has sound only. Its versions show the colour, with the captions on it.</p>
		{/if}
	</div>
	<Stage {bench} covered={bench.covered} />
	<aside aria-label="Frame">
		<Destinations {bench} />
		<section>
			<h2>{version.assembly.destination.name}{treated.shares.length && !treated.alone ? `, and ${treated.shares.join(', ')}` : ''}</h2>
			{#if bench.recording!.width}
				<div class="row" role="group" aria-label="Layout">
					<Button pressed={treated.layout === 'fill'} onclick={() => set({ layout: 'fill' })}>Fill the frame</Button>
					<Button pressed={treated.layout === 'fit'} onclick={() => set({ layout: 'fit', zoom: 1 })}>Fit the whole picture</Button>
				</div>
				<Slider
					name="Scale" says="{(treated.zoom).toFixed(2)}×" min={house.ranges.zoom.least} max={house.ranges.zoom.most} step={0.01} value={treated.zoom}
					onlook={(zoom) => look({ zoom })} onset={(zoom) => set({ zoom })}
				/>
				<Button title="Centre the window on the face that was found" onclick={() => bench.edit({ kind: 'frame-speaker', destination: version.destination })}>
					{#snippet icon()}<ScanFace size={16} />{/snippet}Centre on the speaker
				</Button>
			{/if}
			{#if treated.layout === 'fit' || !bench.recording!.width}
				<div class="row" role="group" aria-label="Behind the picture">
					{#if bench.recording!.width}
						<Button pressed={treated.backdrop === 'blur'} onclick={() => set({ backdrop: 'blur' })}>Blurred background</Button>
						<Button pressed={treated.backdrop === 'colour'} onclick={() => set({ backdrop: 'colour' })}>Colour</Button>
					{/if}
					{#if !bench.recording!.width}<span>Colour</span>{/if}
					<input
						type="color" aria-label="Colour behind the picture" value={treated.colour.toLowerCase()}
						onchange={(event) => set({ colour: event.currentTarget.value.toUpperCase(), backdrop: 'colour' })}
					/>
				</div>
			{/if}
			{#if treated.shares.length || treated.alone}
				<Check
					name="Frame {version.assembly.destination.name} by itself" checked={treated.alone}
					onset={(alone) => void bench.edit({ kind: 'treat-alone', destination: version.destination, alone })}
				/>
			{/if}
			<Check name="Show safe areas" checked={bench.covered} onset={(on) => (bench.covered = on)} />
		</section>
		{#if version.sharpness}
			<p class="sharp" data-grade={version.sharpness.grade}>{version.sharpness.says}</p>
		{/if}
	</aside>
</div>

<style>
	.frame {
		display: grid;
		grid-template-columns: minmax(0, 1fr) 330px 300px;
		height: 100%;
		min-height: 0;
	}
	.source {
		display: grid;
		min-width: 0;
		min-height: 0;
		background: var(--stage);
		color: var(--stage-text);
		border-right: 1px solid var(--stage-rule);
	}
	aside {
		overflow-y: auto;
		padding: 14px;
		border-left: 1px solid var(--rule);
		background: var(--paper-raised);
	}
	section {
		display: grid;
		gap: 10px;
		padding: 12px 0;
		justify-items: start;
	}
	h2 {
		font-size: 15px;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 6px;
	}
	.row :global(button) {
		padding-inline: 8px;
		font-size: 14px;
	}
	input[type='color'] {
		width: 40px;
		height: 32px;
		padding: 2px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
	}
	.sharp {
		padding: 8px 10px;
		border-left: 4px solid var(--good);
		border-radius: var(--radius);
		background: var(--paper);
		font-size: 14px;
	}
	.sharp[data-grade='visible'],
	.sharp[data-grade='soft'] {
		border-color: var(--warn);
		background: var(--warn-wash);
	}
	.hint {
		place-self: center;
		padding: 32px;
		text-align: center;
	}
</style>
