<script lang="ts">
	/** What one version does with its cut: its speed, and how the picture's jumps are eased. Listening, too. */
	import Ear from '@lucide/svelte/icons/ear';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Check from '$ui/Check.svelte';
	import Slider from '$ui/Slider.svelte';
	import type { Bench } from '../bench.svelte';

	let { bench }: { bench: Bench } = $props();
	const version = $derived(bench.quote!.document.versions?.find((one) => one.destination === bench.shown));
	const name = $derived(house.destination(bench.shown)?.name ?? '');
	let looked = $state<number | null>(null);
	const speed = $derived(looked ?? version?.speed ?? 1);
	const says = $derived(speed === 1 ? 'as said' : `${Math.abs(Math.round((speed - 1) * 100))} % ${speed > 1 ? 'faster' : 'slower'}`);
</script>

<section aria-label="Of this version">
	<h2>{name}</h2>
	<Slider
		name="Speed" {says} min={house.ranges.speed.least} max={house.ranges.speed.most} step={0.01} value={speed} onlook={(value) => (looked = value)}
		onset={async (value) => { await bench.edit({ kind: 'set-speed', destination: bench.shown, speed: value }); looked = null; }}
	/>
	{#if bench.recording?.width && (bench.cut?.joins.length ?? 0) > 0}
		<Check
			name="Ease the picture’s jumps at joins" checked={version?.soften === 'scale'}
			onset={(eased) => bench.edit({ kind: 'soften-joins', destination: bench.shown, soften: eased ? 'scale' : 'none' })}
		/>
	{/if}
	<div class="row">
		<Button pressed={!bench.asSaid} onclick={() => bench.playAsSaid(false)}>As cut</Button>
		<Button pressed={bench.asSaid} onclick={() => bench.playAsSaid(true)}>
			{#snippet icon()}<Ear size={16} />{/snippet}As said
		</Button>
	</div>
</section>

<style>
	h2 {
		margin-bottom: 4px;
		font-size: 15px;
	}
	.row {
		display: flex;
		gap: 6px;
		margin-top: 4px;
	}
</style>
