<script lang="ts">
	/** Where the window in hand stands, in numbers, and the rests that it goes between. */
	import Plus from '@lucide/svelte/icons/plus';
	import Trash2 from '@lucide/svelte/icons/trash-2';
	import type { Edit, View } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import { fineClock } from '$ui/say';
	import type { Frame } from './frame.svelte';
	import { camerasOf, restsOf, viewAt } from './rests';

	let { frame }: { frame: Frame } = $props();

	const bench = $derived(frame.bench);
	const cameras = $derived(frame.framed ? camerasOf(frame.framed.layout) : []);
	let panel = $state(0);
	const at = $derived(Math.min(panel, cameras.length - 1));
	const camera = $derived(cameras[at]);
	const rests = $derived(camera ? restsOf(camera) : []);
	const view = $derived(camera ? viewAt(camera, bench.player!.sourceMs) : null);
	const resting = $derived(rests.findIndex((one) => bench.player!.sourceMs >= one.from_ms && bench.player!.sourceMs <= one.to_ms));
	const name = $derived(bench.version!.assembly.destination.name);
	const of = $derived({ destination: bench.shown, panel: at });

	function place(part: keyof View, percent: number): void {
		if (Number.isNaN(percent)) return;
		const value = Math.min(part === 'zoom' ? house.ranges.zoom.most : 1, Math.max(part === 'zoom' ? house.ranges.zoom.least : 0, percent / 100));
		void bench.edit({ kind: 'place-window', at_ms: frame.moment, ...of, [part]: value } as Edit);
	}

	const say = (value: number) => (value * 100).toFixed(1);
</script>

{#if camera && view}
	<details>
		<summary>Place in {name}{rests.length > 1 ? `, ${rests.length} rests` : ''}</summary>
		{#if cameras.length > 1}
			<div class="row" role="group" aria-label="Which picture">
				{#each cameras as _, number (number)}<Button pressed={number === at} onclick={() => (panel = number)}>Picture {number + 1}</Button>{/each}
			</div>
		{/if}
		<div class="numbers">
			{#each [['x', 'Across'], ['y', 'Down'], ['zoom', 'Scale']] as const as [part, told] (part)}
				<label>{told}
					<input type="number" step="0.1" min={part === 'zoom' ? 100 : 0} max={part === 'zoom' ? 800 : 100} value={say(view[part] ?? 0)} aria-label="{told} in percent" onchange={(event) => place(part, event.currentTarget.valueAsNumber)} /> %
				</label>
			{/each}
		</div>
		{#if rests.length > 1}
			<ol aria-label="Rests">
				{#each rests as rest, number (rest.from_ms)}
					<li aria-current={number === resting}>
						<button type="button" onclick={() => bench.player!.seekSource(rest.from_ms + 1)}>{fineClock(rest.from_ms)} to {fineClock(rest.to_ms)}</button>
						<Button kind="quiet" aria-label="Remove the rest at {fineClock(rest.from_ms)}" onclick={() => bench.edit({ kind: 'remove-rest', at_ms: rest.from_ms, ...of })}>{#snippet icon()}<Trash2 size={14} />{/snippet}</Button>
					</li>
				{/each}
			</ol>
		{/if}
		<div class="row">
			<Button title="Come to rest here, so that dragging the window here moves it from now on (A)" onclick={() => bench.edit({ kind: 'add-rest', at_ms: frame.moment, ...of })}>{#snippet icon()}<Plus size={16} />{/snippet}New rest here</Button>
			{#if resting >= 0 && rests.length > 1}
				<Button title="The move to this rest ends at the playhead" onclick={() => bench.edit({ kind: 'time-rest', at_ms: frame.moment, from_ms: frame.moment, ...of })}>Begin it here</Button>
				<Button title="The move from this rest begins at the playhead" onclick={() => bench.edit({ kind: 'time-rest', at_ms: frame.moment, to_ms: frame.moment, ...of })}>End it here</Button>
			{/if}
		</div>
	</details>
{/if}

<style>
	details {
		display: grid;
	}
	summary {
		min-height: 28px;
		cursor: pointer;
	}
	.numbers {
		display: grid;
		grid-template-columns: repeat(3, 1fr);
		gap: 6px;
		margin-bottom: 6px;
	}
	.numbers label {
		display: block;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 4px 8px;
		margin-bottom: 6px;
	}
	label {
		font-size: 14px;
	}
	input {
		width: 66px;
		min-height: 28px;
		padding: 0 4px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
	}
	li {
		display: flex;
		align-items: center;
		justify-content: space-between;
		border-bottom: 1px solid var(--rule);
	}
	li[aria-current='true'] {
		background: var(--note-wash);
	}
	li > button {
		flex: 1;
		min-height: 28px;
		border: 0;
		background: none;
		text-align: left;
		cursor: pointer;
	}
</style>
