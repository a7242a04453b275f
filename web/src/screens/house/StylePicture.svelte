<script lang="ts">
	/** A style as it will be burned in, on a half light, half dark picture, playing by itself. */
	import { onDestroy, untrack } from 'svelte';
	import { api, ask, Problem, type Destination, type WantedStyle } from '$api/client';
	import { house } from '$api/house.svelte';
	import { CaptionPainter } from '$player/layers/captions';

	let { style, destination }: { style: WantedStyle; destination: Destination } = $props();

	let canvas = $state<HTMLCanvasElement>();
	let faces = $state('');
	let problem = $state('');
	let seconds = 4;
	let script = '';
	let painter: CaptionPainter | null = null;
	let asked = 0;
	const width = $derived(destination.width > destination.height ? 380 : 214);
	const height = $derived(Math.round((width * destination.height) / destination.width));

	$effect(() => {
		const wanted = $state.snapshot(style) as WantedStyle;
		const later = setTimeout(() => void look(wanted), 120);
		return () => clearTimeout(later);
	});

	async function look(wanted: WantedStyle): Promise<void> {
		const number = ++asked;
		try {
			const made = await ask(api.POST('/api/styles/sample', { body: { style: { ...wanted, name: wanted.name || 'Style' }, destination: destination.id, text: '' } }));
			if (number !== asked) return;
			problem = '';
			seconds = made.seconds;
			script = made.script;
			if (faces !== made.faces.join('\n')) faces = made.faces.join('\n');
			else await painter?.change(script);
		} catch (refused) {
			if (!(refused instanceof Problem)) throw refused;
			problem = refused.message;
		}
	}

	// A canvas is given to one painter for good; other faces bring a new canvas.
	$effect(() => {
		if (!canvas || !faces) return;
		const mine = canvas;
		const named = untrack(() => house.faces.filter((one) => faces.split('\n').includes(one.name)));
		const made = untrack(() => new CaptionPainter(mine, script, { width: destination.width, height: destination.height }, named));
		painter = made;
		const began = performance.now();
		let drawn = -1;
		const timer = setInterval(() => {
			const now = Math.floor((((performance.now() - began) / 1000) % seconds) * 12) / 12;
			if (now !== drawn) void made.show((drawn = now));
		}, 80);
		return () => {
			clearInterval(timer);
			painter = null;
			made.close();
		};
	});
	onDestroy(() => (asked = -1));
</script>

<figure style:width="{width}px" style:height="{height}px" aria-label="The style in {destination.name}">
	{#key faces}<canvas bind:this={canvas} style:width="{width}px" style:height="{height}px"></canvas>{/key}
	{#if problem}<p>{problem}</p>{/if}
</figure>

<style>
	figure {
		position: relative;
		margin: 0;
		overflow: hidden;
		border-radius: var(--radius);
		background: linear-gradient(100deg, var(--stage-raised) 0 42%, var(--stage-soft) 58%, var(--paper) 74%);
	}
	canvas {
		position: absolute;
		inset: 0;
	}
	p {
		position: absolute;
		inset: auto 8px 8px;
		padding: 4px 8px;
		border-radius: var(--radius);
		background: var(--paper-raised);
		color: var(--struck);
		font-size: 13px;
	}
</style>
