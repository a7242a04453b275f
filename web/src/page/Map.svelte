<script lang="ts">
	import { loudest } from './wave';
	import { clock } from '$ui/say';

	type Props = {
		durationMs: number;
		peaks: Uint8Array | null;
		atMs: number;
		view: { fromMs: number; toMs: number };
		/** Where quotes were taken; `made` once a clip was made. */
		quotes?: { fromMs: number; toMs: number; current?: boolean; made?: boolean }[];
		offers?: { fromMs: number; toMs: number; current?: boolean }[];
		/** Who speaks when: the number of a colour for each stretch. */
		turns?: { fromMs: number; toMs: number; tone: number }[];
		hits?: { atMs: number; current?: boolean }[];
		ongo: (ms: number) => void;
	};
	let { durationMs, peaks, atMs, view, quotes = [], offers = [], turns = [], hits = [], ongo }: Props = $props();

	let canvas: HTMLCanvasElement;
	let height = $state(600);
	const y = (ms: number) => (ms / durationMs) * height;
	const ROW_PX = 3;
	/** Hits that fall on one row are one mark: a common word has more of them than the map has rows. */
	const hitRows = $derived.by(() => {
		const rows = new Map<number, boolean>();
		for (const hit of hits) {
			const row = Math.round(y(hit.atMs) / ROW_PX);
			rows.set(row, rows.get(row) || Boolean(hit.current));
		}
		return [...rows];
	});

	$effect(() => {
		const pen = canvas.getContext('2d');
		if (!pen) return;
		const ratio = devicePixelRatio || 1;
		canvas.width = 56 * ratio;
		canvas.height = height * ratio;
		pen.scale(ratio, ratio);
		pen.clearRect(0, 0, 56, height);
		for (const turn of turns) {
			pen.fillStyle = getComputedStyle(canvas).getPropertyValue(`--speaker-${turn.tone}`);
			pen.fillRect(1, y(turn.fromMs), 3, Math.max(1, y(turn.toMs - turn.fromMs)));
		}
		if (!peaks) return;
		pen.fillStyle = getComputedStyle(canvas).getPropertyValue('--rule');
		const perPx = durationMs / height;
		for (let row = 0; row < height; row += 2) {
			const half = (loudest(peaks, row * perPx, (row + 2) * perPx) / 255) * 15;
			pen.fillRect(22 - half, row, half * 2, 1.5);
		}
	});

	function go(event: PointerEvent): void {
		if (event.type === 'pointermove' && !(event.buttons & 1)) return;
		const box = canvas.getBoundingClientRect();
		ongo(Math.min(durationMs, Math.max(0, ((event.clientY - box.top) / box.height) * durationMs)));
	}

	function keyed(event: KeyboardEvent): void {
		const steps: Record<string, number> = { ArrowDown: 10_000, ArrowUp: -10_000, PageDown: 60_000, PageUp: -60_000 };
		const step = steps[event.key];
		if (step === undefined) return;
		event.preventDefault();
		ongo(Math.min(durationMs, Math.max(0, view.fromMs + step)));
	}
</script>

<div
	class="map" bind:clientHeight={height} role="slider" tabindex="0" aria-label="Map of the talk" aria-orientation="vertical"
	data-own-keys aria-valuemin={0} aria-valuemax={Math.round(durationMs / 1000)} aria-valuenow={Math.round(view.fromMs / 1000)}
	aria-valuetext="{clock(view.fromMs)} of {clock(durationMs)}" onpointerdown={go} onpointermove={go} onkeydown={keyed}
>
	<canvas bind:this={canvas} style:height="{height}px" aria-hidden="true"></canvas>
	<span class="view" style:top="{y(view.fromMs)}px" style:height="{Math.max(8, y(view.toMs - view.fromMs))}px"></span>
	{#each quotes as quote, i (i)}
		<span class="quote" data-current={quote.current} data-made={quote.made} style:top="{y(quote.fromMs)}px" style:height="{Math.max(3, y(quote.toMs - quote.fromMs))}px"></span>
	{/each}
	{#each offers as offer, i (i)}
		<span class="offer" data-current={offer.current} style:top="{y(offer.fromMs)}px" style:height="{Math.max(3, y(offer.toMs - offer.fromMs))}px"></span>
	{/each}
	{#each hitRows as [row, current] (row)}
		<span class="hit" data-current={current} style:top="{row * ROW_PX}px"></span>
	{/each}
	<span class="at" style:top="{y(atMs)}px"></span>
</div>

<style>
	.map {
		position: relative;
		width: 56px;
		height: 100%;
		min-height: 0;
		overflow: hidden;
		border-right: 1px solid var(--rule);
		background: var(--paper-raised);
		cursor: pointer;
		touch-action: none;
	}
	.map:focus-visible {
		outline-offset: -3px;
	}
	canvas {
		width: 56px;
		display: block;
	}
	span {
		position: absolute;
		pointer-events: none;
	}
	.view {
		inset-inline: 2px;
		border: 1px solid var(--ink-soft);
		border-radius: 3px;
		background: color-mix(in srgb, var(--ink) 7%, transparent);
	}
	.quote {
		right: 5px;
		width: 7px;
		border-radius: 2px;
		background: var(--kept);
	}
	.quote[data-made='true'] {
		right: 2px;
		width: 12px;
	}
	.offer {
		right: 15px;
		width: 4px;
		border-radius: 2px;
		background: var(--found);
	}
	.offer[data-current='true'] {
		width: 8px;
	}
	.quote[data-current='true'] {
		background: var(--note);
	}
	.hit {
		left: 4px;
		width: 34px;
		height: 3px;
		margin-top: -1px;
		background: var(--found);
	}
	.hit[data-current='true'] {
		left: 2px;
		width: 42px;
		height: 5px;
		box-shadow: 0 0 0 1px var(--ink);
	}
	.at {
		inset-inline: 0;
		height: 2px;
		background: var(--struck);
	}
</style>
