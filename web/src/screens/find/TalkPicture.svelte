<script lang="ts">
	import AudioLines from '@lucide/svelte/icons/audio-lines';
	import { isLive, type Recording } from '$api/client';
	import type { Player } from '$player/player.svelte';

	let { player, recording }: { player: Player; recording: Recording } = $props();
	let canvas = $state<HTMLCanvasElement>();

	$effect(() => {
		const pen = canvas?.getContext('2d', { alpha: false });
		if (!canvas || !pen) return;
		return player.draws(() => {
			const { video } = player;
			if (!canvas || !video.videoWidth) return;
			const fit = Math.min(canvas.width / video.videoWidth, canvas.height / video.videoHeight);
			const [width, height] = [video.videoWidth * fit, video.videoHeight * fit];
			pen.drawImage(video, (canvas.width - width) / 2, (canvas.height - height) / 2, width, height);
		});
	});
</script>

<!-- The picture is a second way to what Space does, so it needs no place of its own among the keys. -->
<!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions -->
<div class="picture" onclick={() => player.toggle()}>
	{#if player.failed}
		<p>This recording can't be played yet: {recording.work.some((one) => one.kind === 'prepare' && isLive(one)) ? 'a copy that plays is being made.' : 'no copy of it plays here.'}</p>
	{:else if recording.width}
		<canvas bind:this={canvas} width="864" height="486"></canvas>
	{:else}
		<p><AudioLines size={40} /><br />Sound only</p>
	{/if}
</div>

<style>
	.picture {
		display: grid;
		place-items: center;
		aspect-ratio: 16 / 9;
		max-height: 25vh;
		width: 100%;
		background: var(--stage);
		color: var(--stage-text);
		text-align: center;
		cursor: pointer;
	}
	canvas {
		max-width: 100%;
		height: 100%;
		max-height: 25vh;
		aspect-ratio: 16 / 9;
		display: block;
	}
	p {
		padding: 24px;
	}
</style>
