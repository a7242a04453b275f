<script lang="ts">
	import Volume2 from '@lucide/svelte/icons/volume-2';
	import { loudest } from '$page/wave';
	import { wordAt } from '$page/talk';
	import Button from '$ui/Button.svelte';
	import { fineClock } from '$ui/say';
	import type { Bench } from './bench.svelte';

	let { bench, edge, onhear }: { bench: Bench; edge: 'in' | 'out'; onhear: () => void } = $props();

	const AROUND_MS = 600;
	const HEIGHT = 180;
	const WIDTH = 44;
	const perMs = HEIGHT / (2 * AROUND_MS);
	const name = $derived(edge === 'in' ? 'In point' : 'Out point');

	let canvas: HTMLCanvasElement;
	/** How far a drag has moved the edge, before it is let go. */
	let moved = $state(0);
	let from: number | null = null;

	const edgeMs = $derived(edge === 'in' ? bench.quote!.document.span.start_ms : bench.quote!.document.span.end_ms);
	const startMs = $derived(edgeMs - AROUND_MS);
	const lineY = $derived((AROUND_MS + moved) * perMs);
	const words = $derived.by(() => {
		const talk = bench.talk!;
		const near = [];
		for (let word = Math.max(0, wordAt(talk, startMs)); word < talk.texts.length && talk.startsMs[word]! < startMs + 2 * AROUND_MS; word++) {
			if (talk.endsMs[word]! > startMs) near.push({ word, y: Math.max(0, (talk.startsMs[word]! - startMs) * perMs), text: talk.texts[word]! });
		}
		return near;
	});

	$effect(() => {
		const pen = canvas.getContext('2d');
		if (!pen || !bench.peaks) return;
		const ratio = devicePixelRatio || 1;
		canvas.width = WIDTH * ratio;
		canvas.height = HEIGHT * ratio;
		pen.scale(ratio, ratio);
		const styles = getComputedStyle(canvas);
		const [kept, out] = [styles.getPropertyValue('--kept'), styles.getPropertyValue('--ink-soft')];
		for (let y = 0; y < HEIGHT; y += 1.5) {
			const ms = startMs + y / perMs;
			const half = Math.max(0.5, (loudest(bench.peaks, ms, ms + 1.5 / perMs) / 255) * (WIDTH / 2 - 2));
			pen.fillStyle = (edge === 'in') === y >= lineY ? kept : out;
			pen.fillRect(WIDTH / 2 - half, y, half * 2, 1);
		}
	});

	const nudge = (by: number) => void bench.edit({ kind: 'nudge-edge', edge, by_ms: by });

	function dragged(event: PointerEvent): void {
		if (from === null) return;
		moved = Math.min(AROUND_MS, Math.max(-AROUND_MS, Math.round((event.clientY - from) / perMs / 10) * 10));
	}

	async function released(): Promise<void> {
		from = null;
		const by = moved;
		if (by) await bench.edit({ kind: 'nudge-edge', edge, by_ms: by });
		moved = 0;
	}

	function keyed(event: KeyboardEvent): void {
		if (event.key !== 'ArrowUp' && event.key !== 'ArrowDown') return;
		event.preventDefault();
		nudge((event.key === 'ArrowDown' ? 10 : -10) * (event.shiftKey ? 10 : 1));
	}
</script>

<div class="loupe">
	<h3>{name}</h3>
	<p>{fineClock(edgeMs + moved)}</p>
	<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
	<div
		class="glass" role="slider" tabindex="0" data-own-keys aria-label="{name}, 10 ms a step" aria-orientation="vertical"
		aria-valuenow={Math.round(edgeMs / 10)} aria-valuetext={fineClock(edgeMs)} style:height="{HEIGHT}px"
		onpointerdown={(event) => { from = event.clientY; event.currentTarget.setPointerCapture(event.pointerId); }}
		onpointermove={dragged} onpointerup={released} onpointercancel={() => { from = null; moved = 0; }} onkeydown={keyed}
	>
		<canvas bind:this={canvas} style:width="{WIDTH}px" style:height="{HEIGHT}px"></canvas>
		{#each words as one (one.word)}<span class="word" style:top="{one.y}px">{one.text}</span>{/each}
		<span class="line" style:top="{lineY}px"></span>
	</div>
	<div class="row">
		<Button aria-label="{name} 10 ms earlier" title="10 ms earlier" onclick={() => nudge(-10)}>−10</Button>
		<Button aria-label="{name} 10 ms later" title="10 ms later" onclick={() => nudge(10)}>+10</Button>
	</div>
	<Button kind="quiet" onclick={onhear}>
		{#snippet icon()}<Volume2 size={16} />{/snippet}{edge === 'in' ? 'Hear start' : 'Hear end'}
	</Button>
</div>

<style>
	.loupe {
		display: grid;
		gap: 4px;
		min-width: 0;
	}
	h3 {
		font-size: 14px;
	}
	p {
		color: var(--ink-soft);
		font-size: 13px;
	}
	.glass {
		position: relative;
		overflow: hidden;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper);
		cursor: ns-resize;
		touch-action: none;
	}
	.word {
		position: absolute;
		left: 48px;
		right: 2px;
		overflow: hidden;
		font: 13px/15px var(--reading);
		white-space: nowrap;
		pointer-events: none;
	}
	.line {
		position: absolute;
		inset-inline: 0;
		height: 2px;
		margin-top: -1px;
		background: var(--note);
	}
	.row {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 4px;
	}
	.row :global(button) {
		padding: 4px 2px;
	}
</style>
