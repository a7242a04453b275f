<script lang="ts">
	/** A box drawn on the picture, around what is to be followed: by the pointer, or with the arrow keys. */
	import type { Box } from './subjects';

	let { box, onbox, onfollow, oncancel }: { box: Box; onbox: (box: Box) => void; onfollow: () => void; oncancel: () => void } = $props();

	const STEP = 0.01;
	const LEAST = 0.015;
	let field: HTMLDivElement;
	let from: { x: number; y: number } | null = null;

	$effect(() => field.focus());

	const inside = (value: number, most = 1) => Math.min(most, Math.max(0, value));

	function at(event: PointerEvent): { x: number; y: number } {
		const all = field.getBoundingClientRect();
		return { x: inside((event.clientX - all.left) / all.width), y: inside((event.clientY - all.top) / all.height) };
	}

	function drawn(event: PointerEvent): void {
		if (!from) return;
		const to = at(event);
		const width = Math.max(LEAST, Math.abs(to.x - from.x));
		const height = Math.max(LEAST, Math.abs(to.y - from.y));
		onbox({ x: inside(Math.min(from.x, to.x), 1 - width), y: inside(Math.min(from.y, to.y), 1 - height), width, height });
	}

	function keyed(event: KeyboardEvent): void {
		const across = { ArrowLeft: -STEP, ArrowRight: STEP }[event.key] ?? 0;
		const down = { ArrowUp: -STEP, ArrowDown: STEP }[event.key] ?? 0;
		if (event.key === 'Enter') onfollow();
		else if (event.key === 'Escape') oncancel();
		else if (across || down) {
			const { x, y, width, height } = box;
			if (event.shiftKey) onbox({ x, y, width: Math.min(1 - x, Math.max(LEAST, width + across)), height: Math.min(1 - y, Math.max(LEAST, height + down)) });
			else onbox({ x: inside(x + across, 1 - width), y: inside(y + down, 1 - height), width, height });
		} else return;
		event.preventDefault();
		event.stopPropagation();
	}
</script>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions, a11y_no_noninteractive_tabindex -->
<div
	class="field" bind:this={field} role="application" tabindex="0" data-own-keys
	aria-label="Box around what to follow. Arrow keys move it, with Shift they change its size; Enter follows it, Escape leaves it."
	onpointerdown={(event) => { from = at(event); event.currentTarget.setPointerCapture(event.pointerId); }}
	onpointermove={drawn} onpointerup={() => (from = null)} onpointercancel={() => (from = null)} onkeydown={keyed}
>
	<div class="box" style:left="{box.x * 100}%" style:top="{box.y * 100}%" style:width="{box.width * 100}%" style:height="{box.height * 100}%"></div>
</div>

<style>
	.field {
		position: absolute;
		inset: 0;
		cursor: crosshair;
		touch-action: none;
	}
	.field:focus-visible {
		outline: 2px solid var(--found);
		outline-offset: -2px;
	}
	.box {
		position: absolute;
		border: 2px dashed var(--found);
		box-shadow: 0 0 0 4000px var(--veil);
		pointer-events: none;
	}
</style>
