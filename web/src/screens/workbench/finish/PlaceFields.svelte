<script lang="ts">
	/** Where a thing stands: where it should in every shape, and where it was put in this one. */
	import type { Overlay } from '$api/client';
	import Button from '$ui/Button.svelte';
	import Fields from '$ui/Fields.svelte';
	import type { Finish } from './finish.svelte';

	let { finish, one }: { finish: Finish; one: Overlay } = $props();

	const WISHES = [
		['', 'automatic'], ['top', 'at the top'], ['middle', 'in the middle'], ['bottom', 'at the bottom'], ['above-captions', 'above the captions'],
		['top-left', 'top left'], ['top-right', 'top right'], ['bottom-left', 'bottom left'], ['bottom-right', 'bottom right']
	] as const;
	const box = $derived(finish.boxOf(one.id));
	const byHand = $derived(Boolean(one.placed?.[finish.shape]));
	const percent = (value: number) => Math.round(value * 1000) / 10;
	function typed(side: 'x' | 'y', field: HTMLInputElement): void {
		const value = Number(field.value) / 100;
		if (!box || !Number.isFinite(value)) return;
		const at = { x: box.x + box.width / 2, y: box.y + box.height / 2, [side]: value };
		void finish.bench.edit(finish.placing(at));
	}
</script>

<Fields name="Place">
	<label>Position
		<select value={one.wish ?? ''} onchange={(event) => void finish.bench.edit({ kind: 'place-overlay', id: one.id, wish: (event.currentTarget.value || null) as Overlay['wish'] })}>
			{#each WISHES as [value, says] (value)}<option {value}>{says}</option>{/each}
		</select>
	</label>
	{#if box}
		<p>In {finish.shape}: {byHand ? 'placed by hand' : 'placed automatically'}</p>
		<label>Centre across, % <input type="number" min="0" max="100" step="0.5" value={percent(box.x + box.width / 2)} onchange={(event) => typed('x', event.currentTarget)} /></label>
		<label>Centre down, % <input type="number" min="0" max="100" step="0.5" value={percent(box.y + box.height / 2)} onchange={(event) => typed('y', event.currentTarget)} /></label>
		{#if byHand}<Button onclick={() => void finish.bench.edit({ kind: 'place-overlay', id: one.id, shape: finish.shape })}>Place it automatically</Button>{/if}
	{/if}
</Fields>

<style>
	label {
		display: flex;
		align-items: center;
		justify-content: space-between;
		gap: 8px;
	}
	p {
		color: var(--ink-soft);
		font-size: 14px;
	}
	input {
		width: 84px;
	}
</style>
