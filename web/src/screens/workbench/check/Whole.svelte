<script lang="ts">
	/** The recording's own picture, at the moment that the clip shows. */
	import type { Bench } from '../bench.svelte';

	let { bench, width, height }: { bench: Bench; width: number; height: number } = $props();
	let canvas: HTMLCanvasElement;

	$effect(() => {
		const ratio = devicePixelRatio || 1;
		canvas.width = Math.round(width * ratio);
		canvas.height = Math.round(height * ratio);
		const pen = canvas.getContext('2d', { alpha: false });
		const player = bench.player!;
		return player.draws(() => {
			if (player.video.videoWidth) pen?.drawImage(player.video, 0, 0, canvas.width, canvas.height);
		});
	});
</script>

<div class="whole">
	<canvas bind:this={canvas} style:width="{width}px" style:height="{height}px" aria-label="The recording, at the same moment"></canvas>
	<span>The recording</span>
</div>

<style>
	.whole {
		display: grid;
		justify-items: center;
		align-content: start;
		color: var(--stage-soft);
		font-size: 13px;
		line-height: 17px;
	}
	canvas {
		display: block;
		outline: 1px dashed var(--stage-rule);
	}
	span {
		margin-top: 4px;
	}
</style>
