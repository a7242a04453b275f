<script lang="ts">
	/** The picture of a destination with what the posting app covers in it: areas are drawn by dragging, over a screenshot if one is at
	 * hand. The screenshot is only looked at here, and not kept. */
	import type { Area } from '$api/client';
	import { areaBetween, type Point } from './wanted';

	type Props = { width: number; height: number; covered: Area[]; onadd: (area: Area) => void };
	let { width, height, covered, onadd }: Props = $props();

	const HIGH_PX = 300;
	const scale = $derived(HIGH_PX / Math.max(1, height, width));
	let picture: HTMLElement;
	let from = $state.raw<Point | null>(null);
	let to = $state.raw<Point | null>(null);
	let screenshot = $state('');
	const drawn = $derived(from && to ? areaBetween(from, to) : null);

	function at(event: PointerEvent): Point {
		const box = picture.getBoundingClientRect();
		return { x: (event.clientX - box.left) / box.width, y: (event.clientY - box.top) / box.height };
	}
	function begin(event: PointerEvent): void {
		if (covered.length >= 12) return;
		event.preventDefault();
		picture.setPointerCapture(event.pointerId);
		from = to = at(event);
	}
	function end(): void {
		if (drawn) onadd(drawn);
		from = to = null;
	}
	function chosen(file: File | undefined): void {
		if (screenshot) URL.revokeObjectURL(screenshot);
		screenshot = file ? URL.createObjectURL(file) : '';
	}
	$effect(() => () => { if (screenshot) URL.revokeObjectURL(screenshot); });
</script>

<div class="whole">
	<!-- What is drawn here can be typed beside it, by keys too. -->
	<!-- svelte-ignore a11y_no_static_element_interactions -->
	<div
		class="picture" title="Drag to add a covered area" style:width="{width * scale}px" style:height="{height * scale}px" bind:this={picture}
		onpointerdown={begin} onpointermove={(event) => { if (from) to = at(event); }} onpointerup={end} onpointercancel={() => (from = to = null)}
	>
		{#if screenshot}<img src={screenshot} alt="" draggable="false" />{/if}
		{#each covered as area, i (i)}
			<i style:left="{area.x * 100}%" style:top="{area.y * 100}%" style:width="{area.width * 100}%" style:height="{area.height * 100}%"><span>{area.name}</span></i>
		{/each}
		{#if drawn}<i class="drawn" style:left="{drawn.x * 100}%" style:top="{drawn.y * 100}%" style:width="{drawn.width * 100}%" style:height="{drawn.height * 100}%"></i>{/if}
	</div>
	<p>Drag over the picture to add an area.</p>
	<label>Draw over a screenshot <input type="file" accept="image/*" onchange={(event) => chosen(event.currentTarget.files?.[0])} /></label>
</div>

<style>
	.whole {
		flex: none;
		display: grid;
		align-content: start;
		gap: 6px;
		width: 300px;
	}
	.picture {
		position: relative;
		justify-self: center;
		background: var(--stage);
		overflow: hidden;
		cursor: crosshair;
		touch-action: none;
		user-select: none;
	}
	img {
		position: absolute;
		inset: 0;
		width: 100%;
		height: 100%;
		object-fit: fill;
		pointer-events: none;
	}
	i {
		position: absolute;
		display: grid;
		place-items: center;
		background: repeating-linear-gradient(-45deg, var(--cover) 0 8px, transparent 8px 14px);
		box-shadow: inset 0 0 0 1px var(--struck-wash);
		color: var(--stage-text);
		font-size: 12px;
		font-style: normal;
		line-height: 14px;
		text-align: center;
		overflow: hidden;
		pointer-events: none;
	}
	.drawn {
		box-shadow: inset 0 0 0 2px var(--found);
	}
	p,
	label {
		color: var(--ink-soft);
		font-size: 13px;
	}
	input {
		width: 100%;
		font-size: 13px;
	}
</style>
