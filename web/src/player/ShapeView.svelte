<script lang="ts">
	import { untrack } from 'svelte';
	import type { Assembly, Face } from '$api/client';
	import { CaptionPainter } from './layers/captions';
	import { picturesOver, shownPicture } from './layers/over';
	import { housePicture } from './layers/backdrop';
	import { coverStill, drawPicture } from './layers/picture';
	import type { Player } from './player.svelte';
	import { fractionOf, frameAt } from './stretches';

	type Props = {
		player: Player;
		assembly: Assembly;
		/** The caption script; none for a view without captions. */
		script?: string;
		/** The faces there are; those that the captions name are loaded. */
		faces?: Face[];
		named?: string[];
		covered?: boolean;
		maxWidth: number;
		maxHeight: number;
		label: string;
	};
	let { player, assembly, script, faces = [], named = [], covered = false, maxWidth, maxHeight, label }: Props = $props();

	let picture: HTMLCanvasElement;
	let captions = $state<HTMLCanvasElement>();
	let painter = $state.raw<CaptionPainter | null>(null);

	const destination = $derived(assembly.destination);
	const scale = $derived(Math.max(0.02, Math.min(maxWidth / destination.width, maxHeight / destination.height)));
	const width = $derived(Math.round(destination.width * scale));
	const height = $derived(Math.round(destination.height * scale));
	const captioned = $derived(Boolean(script));
	const names = $derived(named.join('\n'));
	const loaded = $derived(faces.filter((face) => names.split('\n').includes(face.name)));
	let drawnSecond = -1;

	$effect(() => {
		const ratio = devicePixelRatio || 1;
		picture.width = width * ratio;
		picture.height = height * ratio;
		const pen = picture.getContext('2d', { alpha: false });
		if (!pen) return;
		pen.imageSmoothingQuality = 'high';
		const now = assembly;
		const draw = () => drawPicture(pen, player, now, frameAt(now, player.outMs), { width: picture.width, height: picture.height });
		const late = [...new Set(now.picture.map((run) => run.behind.picture))].flatMap((number) => (number ? [housePicture(number)] : []))
			.concat(picturesOver(now).map(shownPicture), coverStill(player, now) ?? []).filter((one) => !one.complete);
		for (const one of late) one.addEventListener('load', draw);
		const stop = player.draws(draw);
		return () => {
			for (const one of late) one.removeEventListener('load', draw);
			stop();
		};
	});

	$effect(() => {
		if (!captions || !captioned) return;
		// A canvas is given to one painter for good; a new shape brings a new canvas.
		const canvas = captions;
		void names;
		const made = untrack(
			() => new CaptionPainter(canvas, script ?? '', { width: destination.width, height: destination.height }, untrack(() => loaded))
		);
		painter = made;
		return () => {
			painter = null;
			made.close();
		};
	});

	$effect(() => {
		const made = painter;
		if (!made || script === undefined) return;
		const fps = fractionOf(assembly.rate);
		drawnSecond = -1;
		void made.change(script).then(() => paint(made, fps, true));
		return player.draws(() => paint(made, fps, false));
	});

	function paint(made: CaptionPainter, fps: number, always: boolean): void {
		const second = Math.floor((player.outMs * fps) / 1000 + 0.001) / fps;
		if (!always && second === drawnSecond) return;
		drawnSecond = second;
		void made.show(second);
	}
</script>

<figure class="shape" style:width="{width}px" style:height="{height}px" aria-label={label}>
	<canvas bind:this={picture} style:width="{width}px" style:height="{height}px"></canvas>
	{#if captioned}
		{#key `${destination.id}\n${names}`}
			<canvas class="captions" data-captions bind:this={captions} style:width="{width}px" style:height="{height}px"></canvas>
		{/key}
	{/if}
	{#if covered}
		{#each destination.covered ?? [] as area (area.name)}
			<span
				class="area" data-narrow={area.width < 0.25} title="Covered by the {area.name}" style:left="{area.x * 100}%" style:top="{area.y * 100}%"
				style:width="{area.width * 100}%" style:height="{area.height * 100}%"
			><i>{area.name}</i></span>
		{/each}
	{/if}
</figure>

<style>
	.shape {
		position: relative;
		flex: none;
		overflow: hidden;
		background: var(--stage);
	}
	canvas {
		display: block;
	}
	.captions {
		position: absolute;
		inset: 0;
		pointer-events: none;
	}
	.area {
		position: absolute;
		display: grid;
		place-items: center;
		overflow: hidden;
		background: repeating-linear-gradient(-45deg, var(--cover) 0 8px, transparent 8px 14px);
		box-shadow: inset 0 0 0 1px var(--struck-wash);
	}
	.area i {
		padding: 0 4px;
		border-radius: 3px;
		background: var(--stage);
		color: var(--stage-text);
		font: 12px/16px var(--ui);
		text-align: center;
	}
	.area[data-narrow='true'] i {
		writing-mode: vertical-rl;
	}
</style>
