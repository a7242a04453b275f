<script lang="ts">
	import { house } from '$api/house.svelte';
	import type { FramingChange } from '$api/client';
	import { windowAt } from '$player/layers/panels';
	import { runAt } from '$player/layers/picture';
	import { frameAt } from '$player/stretches';
	import type { Bench } from './bench.svelte';

	type Props = { bench: Bench; onlook: (change: FramingChange) => void; onset: (change: FramingChange, destination: string) => void };
	let { bench, onlook, onset }: Props = $props();

	const STEP = 0.005;
	const SETTLE_MS = 400;
	let width = $state(600);
	let height = $state(400);
	let canvas: HTMLCanvasElement;

	const source = $derived({ width: bench.recording!.width, height: bench.recording!.height });
	const scale = $derived(Math.min((width - 32) / source.width, (height - 84) / source.height));
	const size = $derived({ width: Math.round(source.width * scale), height: Math.round(source.height * scale) });
	const treated = $derived(bench.version!.treated);
	const frame = $derived(windowNow());
	const shape = $derived(bench.version!.assembly.destination);

	/** The window of the first panel at the moment that is shown. */
	function windowNow() {
		const { assembly } = bench.version!;
		const frame = frameAt(assembly, bench.player!.outMs);
		return windowAt(runAt(assembly, frame).panels![0]!, frame);
	}

	$effect(() => {
		const ratio = devicePixelRatio || 1;
		canvas.width = size.width * ratio;
		canvas.height = size.height * ratio;
		const pen = canvas.getContext('2d', { alpha: false });
		const player = bench.player!;
		return player.draws(() => {
			if (player.video.videoWidth) pen?.drawImage(player.video, 0, 0, canvas.width, canvas.height);
		});
	});

	/** Where the middle of the window stands, so that a move begins at what is seen. */
	const middle = $derived({ x: frame.x + frame.width / 2, y: frame.y + frame.height / 2 });
	let grabbed: { x: number; y: number; from: { x: number; y: number } } | null = null;
	let wanted: FramingChange | null = null;
	let settling: ReturnType<typeof setTimeout> | undefined;

	const inside = (value: number) => Math.min(1, Math.max(0, value));

	function dragged(event: PointerEvent): void {
		if (!grabbed) return;
		of = shape.id;
		wanted = {
			x: inside(grabbed.from.x + (event.clientX - grabbed.x) / size.width),
			y: inside(grabbed.from.y + (event.clientY - grabbed.y) / size.height)
		};
		onlook(wanted);
	}

	/** The version that a change in small steps was begun in, whichever is shown when it is made. */
	let of = '';

	function released(): void {
		clearTimeout(settling);
		grabbed = null;
		if (wanted) onset(wanted, of);
		wanted = null;
	}

	/** Keys and the wheel move in small steps; the change is made once they rest. */
	function nudge(change: FramingChange): void {
		if (wanted && of !== shape.id) released();
		of = shape.id;
		wanted = { ...(wanted ?? {}), ...change };
		onlook(wanted);
		clearTimeout(settling);
		settling = setTimeout(released, SETTLE_MS);
	}

	const allowed = (zoom: number): number => Math.min(house.ranges.zoom.most, Math.max(house.ranges.zoom.least, zoom));

	function keyed(event: KeyboardEvent): void {
		const step = STEP * (event.shiftKey ? 6 : 1);
		const at = { x: wanted?.x ?? middle.x, y: wanted?.y ?? middle.y, zoom: wanted?.zoom ?? treated.zoom };
		const changes: Record<string, FramingChange> = {
			ArrowLeft: { x: inside(at.x - step) }, ArrowRight: { x: inside(at.x + step) },
			ArrowUp: { y: inside(at.y - step) }, ArrowDown: { y: inside(at.y + step) },
			'+': { zoom: allowed(at.zoom * 1.03) }, '=': { zoom: allowed(at.zoom * 1.03) }, '-': { zoom: allowed(at.zoom / 1.03) }
		};
		const change = changes[event.key];
		if (!change) return;
		event.preventDefault();
		nudge(change);
	}

	function wheeled(event: WheelEvent): void {
		event.preventDefault();
		const zoom = wanted?.zoom ?? treated.zoom;
		nudge({ zoom: allowed(zoom * (event.deltaY < 0 ? 1.04 : 1 / 1.04)) });
	}
</script>

<div class="room" bind:clientWidth={width} bind:clientHeight={height}>
	<h2>The recording, and what {shape.name} takes of it</h2>
	<div class="picture" style:width="{size.width}px" style:height="{size.height}px">
		<canvas bind:this={canvas} style:width="{size.width}px" style:height="{size.height}px"></canvas>
		<!-- svelte-ignore a11y_no_noninteractive_element_interactions, a11y_no_noninteractive_tabindex -->
		<div
			class="window" role="application" tabindex="0" data-own-keys aria-label="Crop window of {shape.name}. Arrow keys move it, plus and minus scale it."
			style:left="{frame.x * 100}%" style:top="{frame.y * 100}%" style:width="{frame.width * 100}%" style:height="{frame.height * 100}%"
			onpointerdown={(event) => { grabbed = { x: event.clientX, y: event.clientY, from: middle }; event.currentTarget.setPointerCapture(event.pointerId); }}
			onpointermove={dragged} onpointerup={released} onpointercancel={released} onkeydown={keyed} onwheel={wheeled}
		></div>
	</div>
	<p>Drag the window, or focus it and press the arrow keys (Shift for more); + and − scale it.</p>
</div>

<style>
	.room {
		display: grid;
		place-content: center;
		justify-items: center;
		gap: 10px;
		min-width: 0;
		min-height: 0;
		overflow: hidden;
	}
	h2 {
		font-size: 14px;
		font-weight: 400;
		color: var(--stage-soft);
	}
	p {
		color: var(--stage-soft);
		font-size: 13px;
	}
	.picture {
		position: relative;
		overflow: hidden;
	}
	canvas {
		display: block;
	}
	.window {
		position: absolute;
		outline: 2px solid var(--found);
		outline-offset: -2px;
		box-shadow: 0 0 0 4000px var(--veil);
		cursor: move;
		touch-action: none;
	}
	.window:focus-visible {
		outline: 4px solid var(--found);
		outline-offset: -4px;
	}
</style>
