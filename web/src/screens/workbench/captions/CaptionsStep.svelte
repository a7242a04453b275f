<script lang="ts">
	import { onMount } from 'svelte';
	import { colourUnder } from '$player/colours';
	import { frameAt } from '$player/stretches';
	import Button from '$ui/Button.svelte';
	import Check from '$ui/Check.svelte';
	import Slider from '$ui/Slider.svelte';
	import Stage from '../Stage.svelte';
	import type { Captions } from './captions.svelte';
	import CueColumn from './CueColumn.svelte';
	import FilePanel from './FilePanel.svelte';
	import FindPanel from './FindPanel.svelte';
	import SpellingPanel from './SpellingPanel.svelte';
	import StylePanel from './StylePanel.svelte';
	import TranslationPanel from './TranslationPanel.svelte';

	let { captions }: { captions: Captions } = $props();

	const bench = $derived(captions.bench);
	const version = $derived(bench.version!);
	const track = $derived(captions.track);
	const shown = $derived(bench.quote!.document.captions?.shown ?? true);
	let language = $state<string | null>(null);
	/** Where captions stand beside a picture that does not fill its shape. */
	const bands = $derived(track ? version.bands.filter((one) => one.captions !== null) : []);
	const edit = (height: number) => ({ kind: 'place-captions' as const, destination: version.destination, height });

	// At rest on something to see: the first cue, where there is none at the place.
	onMount(() => {
		language = bench.quote!.document.captions?.translation ?? null;
		const player = bench.player;
		const cues = track?.cues ?? [];
		if (!player || player.playing || !cues.length) return;
		const frame = frameAt(version.assembly, player.outMs);
		if (!cues.some((cue) => frame >= cue.first_frame && frame < cue.end_frame)) player.seekOut(captions.msOf(cues[0]!.first_frame) + 1);
	});
	// What is behind the captions is looked at once nothing has changed for a moment.
	$effect(() => {
		void bench.resolved?.revision;
		const later = setTimeout(() => void bench.measure(), 400);
		return () => clearTimeout(later);
	});

	/** The colour of the picture, without its captions, where it is clicked. */
	function pick(event: MouseEvent): void {
		const canvas = (event.currentTarget as HTMLElement).parentElement!.querySelector('canvas')!;
		const take = captions.picking;
		captions.picking = null;
		take?.(colourUnder(canvas, event));
	}

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
	<CueColumn {captions} translation={language} />
	<Stage {bench} covered={bench.covered}>
		{#snippet over(size: { width: number; height: number })}
			{#if captions.picking}
				<button type="button" class="pick" aria-label="Pick a colour from the picture" onclick={pick}></button>
			{:else if track}
				<!-- The slider beside the stage does the same by keys. -->
				<!-- svelte-ignore a11y_no_static_element_interactions -->
				<div
					class="handle" title="Drag to move the captions" style:top="{track.height * 100}%"
					onpointerdown={(event) => { grabbed = { y: event.clientY, from: track.height }; event.currentTarget.setPointerCapture(event.pointerId); }}
					onpointermove={(event) => dragged(event, size.height)} onpointerup={released} onpointercancel={released}
				></div>
			{/if}
		{/snippet}
	</Stage>
	<aside aria-label="Captions">
		<StylePanel {captions} />
		<h2>Place in {version.assembly.destination.name}</h2>
		<Slider
			name="Vertical position" says="{Math.round((track?.height ?? 0) * 100)} %" min={0} max={1} step={0.005}
			value={track?.height ?? 0.7} disabled={!track} onlook={(height) => bench.try(edit(height))}
			onset={(height) => void bench.edit(edit(height))}
		/>
		{#if bands.length}
			<div class="bands" role="group" aria-label="Beside the picture">
				{#each bands as one (one.place)}
					<Button pressed={Math.abs((track?.height ?? 0) - one.captions!) < 0.004} onclick={() => void bench.edit(edit(one.captions!))}>In the band {one.place}</Button>
				{/each}
			</div>
		{/if}
		<Check name="Show safe areas" checked={bench.covered} onset={(on) => (bench.covered = on)} />
		<Check name="Burn captions in" checked={shown} onset={(on) => void bench.edit({ kind: 'show-captions', shown: on })} />
		{#if track}
			<FindPanel {captions} />
			<SpellingPanel {captions} />
			<TranslationPanel {captions} bind:language />
			<FilePanel {captions} {language} />
			<p class="limits">
				{track.limits.lines === 1 ? '1 line' : `${track.limits.lines} lines`} of {track.limits.line_characters} characters,
				{track.limits.shortest_ms / 1000} to {track.limits.longest_ms / 1000} s each.
			</p>
		{/if}
	</aside>
</div>

<style>
	.captions {
		display: grid;
		grid-template-columns: minmax(0, 1fr) 340px 290px;
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
	.pick {
		position: absolute;
		inset: 0;
		border: 2px solid var(--found);
		background: none;
		cursor: crosshair;
	}
	aside {
		overflow-y: auto;
		padding: 12px 14px;
		border-left: 1px solid var(--rule);
		background: var(--paper-raised);
	}
	h2 {
		margin: 4px 0 6px;
		font-size: 15px;
	}
	.limits {
		margin-top: 8px;
		color: var(--ink-soft);
		font-size: 13px;
	}
</style>
