<script lang="ts">
	/** The sound beside the words, down the page. It stays where it is, and what it shows moves. */
	import { onMount } from 'svelte';
	import { between, LINE_PX } from '../layout';
	import { theSheet } from '../sheet';
	import { drawWave, type Shade } from '../wave';

	let { peaks, shade = () => 'plain' }: { peaks: Uint8Array | null; shade?: (ms: number) => Shade } = $props();

	const WAVE_PX = 56;
	const sheet = theSheet();
	const ratio = devicePixelRatio || 1;
	let canvas: HTMLCanvasElement;
	let inks = $state.raw<Record<Shade, string> | null>(null);
	onMount(() => {
		// Once: asking for them while scrolling would have every style computed at once.
		const styles = getComputedStyle(canvas);
		const colour = (name: string) => styles.getPropertyValue(name).trim();
		inks = { plain: colour('--ink-soft'), kept: colour('--kept'), struck: colour('--struck'), out: colour('--rule') };
	});

	$effect(() => {
		const pen = canvas.getContext('2d');
		if (!pen || !peaks || !inks) return;
		pen.setTransform(ratio, 0, 0, ratio, 0, 0);
		const bands = between(sheet.laid.bands, sheet.top - LINE_PX, sheet.top + sheet.height);
		drawWave(pen, bands, sheet.top, peaks, { width: WAVE_PX, height: sheet.height }, shade, inks);
	});
</script>

<canvas bind:this={canvas} width={WAVE_PX * ratio} height={Math.round(sheet.height * ratio)} style:height="{sheet.height}px" aria-hidden="true"></canvas>

<style>

	canvas {
		position: absolute;
		left: 60px;
		top: 0;
		width: 56px;
		pointer-events: none;
	}
</style>
