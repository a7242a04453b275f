<script lang="ts">
	import { onMount } from 'svelte';
	import { house } from '$api/house.svelte';
	import { fractionOf, frameAt } from '$player/stretches';
	import Button from '$ui/Button.svelte';
	import Check from '$ui/Check.svelte';
	import Slider from '$ui/Slider.svelte';
	import type { Bench } from './bench.svelte';
	import CueList from './CueList.svelte';
	import Stage from './Stage.svelte';

	let { bench }: { bench: Bench } = $props();

	const version = $derived(bench.version!);
	const captions = $derived(version.assembly.cue_tracks?.[0]);
	const shown = $derived(bench.quote!.document.captions?.shown ?? true);
	/** Where captions stand beside a picture that does not fill its shape. */
	const bands = $derived(captions ? version.bands.filter((one) => one.captions !== null) : []);
	const edit = (height: number) => ({ kind: 'place-captions' as const, destination: version.destination, height });

	// At rest on something to see: the first cue, where there is none at the place.
	onMount(() => {
		const player = bench.player;
		const cues = captions?.cues ?? [];
		if (!player || player.playing || !cues.length) return;
		const frame = frameAt(version.assembly, player.outMs);
		if (!cues.some((cue) => frame >= cue.first_frame && frame < cue.end_frame)) player.seekOut((cues[0]!.first_frame * 1000) / fractionOf(version.assembly.rate) + 1);
	});

	let grabbed: { y: number; from: number } | null = null;
	let wanted: number | null = null;

	function dragged(event: PointerEvent, stageHeight: number): void {
		if (!grabbed) return;
		wanted = Math.min(1, Math.max(0, grabbed.from + (event.clientY - grabbed.y) / stageHeight));
		bench.try(edit(wanted));
	}

	function released(): void {
		grabbed = null;
		if (wanted !== null) void bench.edit(edit(wanted));
		wanted = null;
	}
</script>

<div class="captions">
	<CueList {bench} />
	<Stage {bench} covered={bench.covered}>
		{#snippet over(size: { width: number; height: number })}
			{#if captions}
				<!-- The slider beside the stage does the same by keys. -->
				<!-- svelte-ignore a11y_no_static_element_interactions -->
				<div
					class="handle" title="Drag to move the captions" style:top="{captions.height * 100}%"
					onpointerdown={(event) => { grabbed = { y: event.clientY, from: captions.height }; event.currentTarget.setPointerCapture(event.pointerId); }}
					onpointermove={(event) => dragged(event, size.height)} onpointerup={released} onpointercancel={released}
				></div>
			{/if}
		{/snippet}
	</Stage>
	<aside aria-label="Captions">
		<h2>Style</h2>
		<div class="styles" role="radiogroup" aria-label="Caption style">
			{#each house.styles.filter((one) => !one.retired || one.id === captions?.style.id) as style (style.id)}
				<label class="style" data-chosen={captions?.style.id === style.id}>
					<input
						type="radio" name="style" class="unseen" checked={captions?.style.id === style.id}
						onchange={() => bench.edit({ kind: 'choose-caption-style', style: style.id })}
					/>
					<span class="sample" data-edge={style.edge} style:color={style.colour} style:font-family="'{style.font}'" style:--edge={style.edge_colour}>
						Keep the <i class:bar={style.spoken_bar} style:color={style.spoken ?? style.colour}>wick</i>
					</span>
					<span><b>{style.name}</b><br /><small>{style.said}</small></span>
				</label>
			{/each}
		</div>
		<h2>Place in {version.assembly.destination.name}</h2>
		<Slider
			name="Vertical position" says="{Math.round((captions?.height ?? 0) * 100)} %" min={0} max={1} step={0.005}
			value={captions?.height ?? 0.7} disabled={!captions} onlook={(height) => bench.try(edit(height))}
			onset={(height) => void bench.edit(edit(height))}
		/>
		{#if bands.length}
			<div class="bands" role="group" aria-label="Beside the picture">
				{#each bands as one (one.place)}
					<Button pressed={Math.abs((captions?.height ?? 0) - one.captions!) < 0.004} onclick={() => void bench.edit(edit(one.captions!))}>In the band {one.place}</Button>
				{/each}
			</div>
		{/if}
		<Check name="Show safe areas" checked={bench.covered} onset={(on) => (bench.covered = on)} />
		<Check name="Burn captions in" checked={shown} onset={(on) => void bench.edit({ kind: 'show-captions', shown: on })} />
		{#if captions}
			<p class="limits">
				{captions.style.name}: {captions.style.limits.lines} lines of {captions.style.limits.line_characters} characters,
				{captions.style.limits.shortest_ms / 1000} to {captions.style.limits.longest_ms / 1000} s each.
			</p>
		{/if}
	</aside>
</div>

<style>
	.captions {
		display: grid;
		grid-template-columns: minmax(0, 1fr) 360px 300px;
		height: 100%;
		min-height: 0;
	}
	.bands {
		display: flex;
		flex-wrap: wrap;
		gap: 4px;
	}
	.handle {
		position: absolute;
		inset-inline: 0;
		height: 15%;
		transform: translateY(-50%);
		border-block: 1px dashed transparent;
		cursor: ns-resize;
		touch-action: none;
	}
	.handle:hover {
		border-color: var(--found);
	}
	aside {
		overflow-y: auto;
		padding: 14px;
		border-left: 1px solid var(--rule);
		background: var(--paper-raised);
	}
	h2 {
		margin: 4px 0 6px;
		font-size: 15px;
	}
	.styles {
		display: grid;
		gap: 6px;
		margin-bottom: 14px;
	}
	.style {
		display: grid;
		grid-template-columns: 124px 1fr;
		gap: 10px;
		align-items: center;
		padding: 6px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		cursor: pointer;
		line-height: 17px;
	}
	.style:focus-within {
		outline: 2px solid var(--note);
	}
	.style[data-chosen='true'] {
		border-color: var(--kept);
		background: var(--kept-wash);
	}
	.sample {
		display: grid;
		place-content: center;
		grid-auto-flow: column;
		gap: 4px;
		height: 44px;
		border-radius: 4px;
		background: var(--stage);
		font-size: 14px;
	}
	.sample[data-edge='box'] {
		background: var(--stage-rule);
		box-shadow: inset 0 0 0 10px var(--stage-rule), inset 0 0 0 40px var(--edge);
	}
	.sample i.bar {
		box-shadow: inset 0 -0.1em currentcolor;
	}
	.sample i {
		font-style: normal;
	}
	small {
		color: var(--ink-soft);
		font-size: 13px;
	}
	.limits {
		margin-top: 10px;
		color: var(--ink-soft);
		font-size: 14px;
	}
</style>
