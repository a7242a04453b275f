<script lang="ts">
	/** Every version in its shape, playing together; one that is cut by itself plays when it is chosen. */
	import type { Version } from '$api/client';
	import { house } from '$api/house.svelte';
	import ShapeView from '$player/ShapeView.svelte';
	import { seconds } from '$ui/say';
	import type { Check } from './check.svelte';
	import { together } from './together';
	import Whole from './Whole.svelte';

	let { check }: { check: Check } = $props();

	let width = $state(700);
	let height = $state(500);
	const GAP = 14;
	const UNDER = 44;
	/** How wide the screen of a phone is, in CSS pixels: 68 mm. */
	const PHONE_PX = 257;
	const bench = $derived(check.bench);
	const recording = $derived(bench.recording!);
	type Cell = { id: string; aspect: number; version: Version | null };
	const cells = $derived<Cell[]>([
		...check.versions.map((version) => ({ id: version.destination, aspect: version.assembly.destination.width / version.assembly.destination.height, version })),
		...(check.comparing && recording.width ? [{ id: 'recording', aspect: recording.width / recording.height, version: null }] : [])
	]);
	/** As large as lets all of them stand in as many rows as show them largest: the side of a square of the same size. */
	const side = $derived.by(() => {
		const fits = (rows: number): number => {
			const each = Math.ceil(cells.length / rows);
			let largest = Infinity;
			for (let row = 0; row < rows; row++) {
				const some = cells.slice(row * each, (row + 1) * each);
				if (!some.length) continue;
				const across = some.reduce((sum, one) => sum + Math.sqrt(one.aspect), 0);
				const lowest = Math.min(...some.map((one) => Math.sqrt(one.aspect)));
				largest = Math.min(largest, (width - 24 - GAP * (some.length - 1)) / across, ((height - 16) / rows - UNDER) * lowest);
			}
			return largest;
		};
		return Math.max(40, ...[1, 2, 3].map(fits));
	});
	const sizeOf = (aspect: number) =>
		check.real ? { width: PHONE_PX, height: PHONE_PX * 2.2 } : { width: side * Math.sqrt(aspect), height: side / Math.sqrt(aspect) };
</script>

<div class="shapes" class:scrolls={check.real} role="tablist" aria-label="Versions" bind:clientWidth={width} bind:clientHeight={height}>
	{#each cells as { id, aspect, version } (id)}
		{@const size = sizeOf(aspect)}
		{#if version}
			{@const inStep = check.inStep(version)}
			{@const open = together(bench.findingsOf(version.destination))}
			{@const held = open.some((one) => one.severity === 'stop')}
			<button
				type="button" role="tab" aria-selected={id === bench.version?.destination} data-apart={!inStep} aria-label={version.assembly.destination.name}
				title={inStep ? '' : 'Has its own cut: choose it to play it'} onclick={() => bench.show(id)}
			>
				<ShapeView
					player={bench.player!} assembly={version.assembly} script={version.script} faces={house.faces} named={version.faces} covered={bench.covered}
					maxWidth={size.width} maxHeight={size.height} label="{version.assembly.destination.name} as it will be"
				/>
				<span class="name">{version.assembly.destination.name}</span>
				<span class="says" data-held={held}>{inStep ? (held ? 'would spoil the post' : open.length ? `${open.length} to look at` : 'fine') : 'its own cut'} · {seconds(bench.quote!.versions.find((one) => one.destination === id)?.length_ms ?? 0)}</span>
			</button>
		{:else}
			<Whole {bench} width={size.width} height={check.real ? size.width / aspect : size.height} />
		{/if}
	{/each}
</div>

<style>
	.shapes {
		display: flex;
		flex-wrap: wrap;
		justify-content: safe center;
		align-content: safe center;
		gap: 8px 14px;
		min-width: 0;
		min-height: 0;
		padding: 8px 12px;
		overflow: hidden;
	}
	.scrolls {
		overflow: auto;
	}
	button {
		display: grid;
		justify-items: center;
		align-content: start;
		padding: 0;
		border: 0;
		background: none;
		color: var(--stage-soft);
		font-size: 13px;
		line-height: 17px;
		cursor: pointer;
	}
	button :global(figure) {
		outline: 1px solid var(--stage-rule);
	}
	[aria-selected='true'] {
		color: var(--stage-text);
		font-weight: 700;
	}
	[aria-selected='true'] :global(figure) {
		outline: 2px solid var(--found);
	}
	[data-apart='true'] :global(figure) {
		opacity: 0.35;
	}
	.name {
		margin-top: 4px;
	}
	.says {
		font-size: 12px;
		font-weight: 400;
		white-space: nowrap;
	}
	.says[data-held='true'] {
		color: var(--found);
	}
</style>
