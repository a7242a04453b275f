<script lang="ts">
	/** What stands over the picture, to be taken and dragged on it; or a mark to be drawn. The fields beside the stage do the same by keys. */
	import type { Finish } from './finish.svelte';
	import { nameOf } from './items';

	let { finish, size }: { finish: Finish; size: { width: number; height: number } } = $props();

	type Point = { x: number; y: number };
	const MOVED = ['lines', 'title', 'name-strap', 'time-left', 'sound-wave', 'logo', 'insert'];
	const boxes = $derived(
		finish.overlays.flatMap((one) => {
			const time = finish.timeOf(one.id);
			const now = finish.bench.player!.outMs;
			const box = time && now >= time.fromMs - 1 && now < time.toMs ? finish.boxOf(one.id) : null;
			return box && MOVED.includes(one.what.kind) ? [{ one, box }] : [];
		})
	);
	let grabbed: { from: Point; at: Point } | null = null;
	let wanted: Point | null = null;
	let line = $state<Point[]>([]);

	const pointOf = (event: PointerEvent): Point => {
		const box = (event.currentTarget as HTMLElement).closest('.handles')!.getBoundingClientRect();
		return { x: (event.clientX - box.left) / box.width, y: (event.clientY - box.top) / box.height };
	};

	function grab(id: number, box: Point & { width: number; height: number }, event: PointerEvent): void {
		finish.hand = id;
		grabbed = { from: pointOf(event), at: { x: box.x + box.width / 2, y: box.y + box.height / 2 } };
		(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
	}
	function drag(event: PointerEvent): void {
		if (!grabbed) return;
		const now = pointOf(event);
		wanted = { x: grabbed.at.x + now.x - grabbed.from.x, y: grabbed.at.y + now.y - grabbed.from.y };
		finish.bench.try(finish.placing(wanted));
	}
	function letGo(): void {
		if (wanted && finish.hand !== null) void finish.bench.edit(finish.placing(wanted));
		grabbed = wanted = null;
	}
	function drawn(): void {
		if (line.length > 1) finish.draw(line);
		line = [];
	}
</script>

<div class="handles" style:width="{size.width}px" style:height="{size.height}px">
	{#if finish.drawing}
		<!-- svelte-ignore a11y_no_static_element_interactions -->
		<div
			class="canvas" title="Drag to draw the mark"
			onpointerdown={(event) => { line = [pointOf(event)]; (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId); }}
			onpointermove={(event) => { if (line.length) line = [...line, pointOf(event)]; }} onpointerup={drawn} onpointercancel={() => (line = [])}
		>
			<svg viewBox="0 0 {size.width} {size.height}" aria-hidden="true"><polyline points={line.map((point) => `${point.x * size.width},${point.y * size.height}`).join(' ')} /></svg>
		</div>
	{:else}
		{#each boxes as { one, box } (one.id)}
			<!-- svelte-ignore a11y_no_static_element_interactions -->
			<div
				class="box" data-hand={finish.hand === one.id} title="Drag to move {nameOf(one.what)} in this shape"
				style:left="{box.x * 100}%" style:top="{box.y * 100}%" style:width="{box.width * 100}%" style:height="{box.height * 100}%"
				onpointerdown={(event) => grab(one.id, box, event)} onpointermove={drag} onpointerup={letGo} onpointercancel={letGo}
			></div>
		{/each}
	{/if}
</div>

<style>
	.handles {
		position: absolute;
		inset: 0;
		pointer-events: none;
	}
	.box,
	.canvas {
		position: absolute;
		pointer-events: auto;
		touch-action: none;
	}
	.box {
		border: 1px dashed transparent;
		cursor: move;
	}
	.box:hover,
	.box[data-hand='true'] {
		border-color: var(--found);
	}
	.canvas {
		inset: 0;
		border: 2px solid var(--found);
		cursor: crosshair;
	}
	polyline {
		fill: none;
		stroke: var(--found);
		stroke-width: 3;
	}
</style>
