<script lang="ts">
	import type { Sequence } from '$player/sequence.svelte';

	/** The picture of what is playing, small in a corner. */
	let { sequence }: { sequence: Sequence } = $props();
	let canvas = $state<HTMLCanvasElement>();

	$effect(() => {
		const pen = canvas?.getContext('2d', { alpha: false });
		const { player } = sequence;
		if (!canvas || !pen || !player) return;
		return player.draws(() => {
			if (canvas && player.video.videoWidth) pen.drawImage(player.video, 0, 0, canvas.width, canvas.height);
		});
	});
</script>

<canvas bind:this={canvas} width="480" height="270" aria-label="What is playing"></canvas>

<style>
	canvas {
		position: absolute;
		right: 24px;
		bottom: 24px;
		width: 240px;
		border-radius: var(--radius);
		background: var(--stage);
		box-shadow: var(--shadow);
	}
</style>
