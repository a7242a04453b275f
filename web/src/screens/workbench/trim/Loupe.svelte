<script lang="ts">
	/** A close look at one side of a cut: the sound around it, its words, frames and quietest points; it can be moved. */
	import Volume2 from '@lucide/svelte/icons/volume-2';
	import { api, ask, type Loupe } from '$api/client';
	import { LatestWins } from '$api/latest';
	import { wordAt } from '$page/talk';
	import Button from '$ui/Button.svelte';
	import { fineClock } from '$ui/say';
	import type { Bench } from '../bench.svelte';

	type Props = { bench: Bench; name: string; atMs: number; keptAfter: boolean; hears: string; onnudge: (byMs: number) => Promise<unknown>; onhear: () => void };
	let { bench, name, atMs, keptAfter, hears, onnudge, onhear }: Props = $props();

	const AROUND_MS = 750;
	const HEIGHT = 190;
	const WIDTH = 50;
	/** Words said fast stand below one another all the same. */
	const LEAST_PX = 13;
	const perMs = HEIGHT / (2 * AROUND_MS);

	let canvas: HTMLCanvasElement;
	let near = $state.raw<Loupe | null>(null);
	/** How far a drag has moved the edge, before it is let go. */
	let moved = $state(0);
	let from: number | null = null;

	const startMs = $derived(atMs - AROUND_MS);
	const lineY = $derived((AROUND_MS + moved) * perMs);
	const frameMs = $derived(1000 / (bench.recording?.rate ?? 25));
	const quiet = $derived(near?.quiet_ms.filter((ms) => Math.abs(ms - atMs) < AROUND_MS) ?? []);
	const words = $derived.by(() => {
		const talk = bench.talk!;
		const found: { word: number; y: number; text: string; heard: boolean }[] = [];
		for (let word = Math.max(0, wordAt(talk, startMs)); word < talk.texts.length && talk.startsMs[word]! < startMs + 2 * AROUND_MS; word++) {
			if (talk.endsMs[word]! > startMs) found.push({ word, y: Math.max((found.at(-1)?.y ?? -LEAST_PX) + LEAST_PX, (talk.startsMs[word]! - startMs) * perMs), text: talk.texts[word]!, heard: !bench.isStruck(word) });
		}
		return found;
	});

	const loupes = new LatestWins<number, Loupe>();
	$effect(() => {
		const params = { path: { recording_id: bench.quote!.recording_id }, query: { at_ms: Math.max(0, atMs) } };
		void loupes
			.ask(atMs, () => ask(api.GET('/api/recordings/{recording_id}/loupe', { params })))
			.then((found) => (near = found ?? near))
			.catch(() => undefined);
	});

	$effect(() => {
		const pen = canvas.getContext('2d');
		if (!pen) return;
		const ratio = devicePixelRatio || 1;
		canvas.width = WIDTH * ratio;
		canvas.height = HEIGHT * ratio;
		pen.scale(ratio, ratio);
		const styles = getComputedStyle(canvas);
		const colour = (token: string) => styles.getPropertyValue(token);
		pen.fillStyle = colour('--rule');
		for (let ms = Math.ceil(startMs / frameMs) * frameMs; ms < startMs + 2 * AROUND_MS; ms += frameMs) pen.fillRect(0, (ms - startMs) * perMs, 5, 1);
		if (!near) return;
		for (let y = 0; y < HEIGHT; y++) {
			const first = Math.floor((startMs + y / perMs - near.from_ms) / near.step_ms);
			const last = Math.max(first + 1, Math.floor((startMs + (y + 1) / perMs - near.from_ms) / near.step_ms));
			const loud = Math.max(0, ...near.peaks.slice(Math.max(0, first), Math.max(0, last)));
			const half = Math.max(0.5, (loud / 255) * (WIDTH / 2 - 4));
			pen.fillStyle = colour(keptAfter === y >= lineY ? '--kept' : '--ink-soft');
			pen.fillRect(WIDTH / 2 + 2 - half, y, half * 2, 1);
		}
		pen.fillStyle = colour('--good');
		for (const ms of quiet) pen.fillRect(WIDTH - 7, (ms - startMs) * perMs - 1, 7, 2);
	});

	const toQuiet = (step: 1 | -1): number => {
		const there = step > 0 ? quiet.find((ms) => ms > atMs + 4) : quiet.findLast((ms) => ms < atMs - 4);
		return there === undefined ? 0 : there - atMs;
	};
	const frame = $derived(Math.round(frameMs));
	const earlier = $derived.by(() => toQuiet(-1));
	const later = $derived.by(() => toQuiet(1));
	const nudge = (by: number) => void (by && onnudge(by));

	function dragged(event: PointerEvent): void {
		if (from === null) return;
		moved = Math.min(AROUND_MS, Math.max(-AROUND_MS, Math.round((event.clientY - from) / perMs / 10) * 10));
	}

	async function released(): Promise<void> {
		if (from === null) return;
		from = null;
		if (moved) await onnudge(moved);
		moved = 0;
	}

	function keyed(event: KeyboardEvent): void {
		const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
		if (!step) return;
		event.preventDefault();
		nudge(event.altKey ? toQuiet(step) : step * (event.shiftKey ? frame : 10));
	}
</script>

<div class="loupe">
	<h3>{name}</h3>
	<p>{fineClock(atMs + moved)}</p>
	<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
	<div
		class="glass" role="slider" tabindex="0" data-own-keys aria-label="{name}: 10 ms a step, with Shift a frame, with Alt to the next quiet point" aria-orientation="vertical"
		aria-valuenow={Math.round(atMs / 10)} aria-valuetext={fineClock(atMs)} style:height="{HEIGHT}px"
		onpointerdown={(event) => { from = event.clientY; event.currentTarget.setPointerCapture(event.pointerId); }}
		onpointermove={dragged} onpointerup={released} onpointercancel={() => { from = null; moved = 0; }} onkeydown={keyed}
	>
		<canvas bind:this={canvas} style:width="{WIDTH}px" style:height="{HEIGHT}px"></canvas>
		{#each words as one (one.word)}<span class="word" data-heard={one.heard} style:top="{one.y}px">{one.text}</span>{/each}
		<span class="line" style:top="{lineY}px"></span>
	</div>
	<div class="row" role="group" aria-label="Move {name.toLowerCase()}">
		<Button title="To the quiet point before (Alt+↑)" aria-label="{name} to the quiet point before" disabled={!earlier} onclick={() => nudge(earlier)}>⇡</Button>
		<Button title="A frame earlier (Shift+↑)" aria-label="{name} a frame earlier" onclick={() => nudge(-frame)}>−f</Button>
		<Button title="10 ms earlier (↑)" aria-label="{name} 10 ms earlier" onclick={() => nudge(-10)}>−10</Button>
		<Button title="To the next quiet point (Alt+↓)" aria-label="{name} to the next quiet point" disabled={!later} onclick={() => nudge(later)}>⇣</Button>
		<Button title="A frame later (Shift+↓)" aria-label="{name} a frame later" onclick={() => nudge(frame)}>+f</Button>
		<Button title="10 ms later (↓)" aria-label="{name} 10 ms later" onclick={() => nudge(10)}>+10</Button>
	</div>
	<Button kind="quiet" onclick={onhear}>
		{#snippet icon()}<Volume2 size={16} />{/snippet}{hears}
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
		left: 56px;
		right: 2px;
		overflow: hidden;
		font: 13px/15px var(--reading);
		white-space: nowrap;
		pointer-events: none;
	}
	.word[data-heard='false'] {
		color: var(--struck);
		text-decoration: line-through;
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
		grid-template-columns: 1fr 1fr 1.4fr;
		gap: 3px;
	}
	.row :global(button) {
		min-height: 26px;
		padding: 2px;
		font-size: 13px;
	}
</style>
