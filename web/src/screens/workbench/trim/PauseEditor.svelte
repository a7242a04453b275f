<script lang="ts">
	/** The pause in hand: how long it was said, how long it is kept, and another length. */
	import type { Pause } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Slider from '$ui/Slider.svelte';
	import Pace from './Pace.svelte';
	import type { Trim } from './trim.svelte';

	let { trim, pause }: { trim: Trim; pause: Pause } = $props();
	let looked = $state<number | null>(null);
	const shown = $derived(looked ?? pause.kept_ms);
	const most = $derived(pause.join ? Math.max(house.ranges.join_pause_ms.most, pause.kept_ms) : pause.said_ms);
	const word = $derived(trim.bench.talk!.texts[pause.before]);
</script>

<section aria-label="Pause">
	<h2>Pause before “{word}”</h2>
	<p class="hint">{pause.join ? 'At a join' : `Said ${(pause.said_ms / 1000).toFixed(2)} s`}</p>
	<Slider
		name="Kept" says="{(shown / 1000).toFixed(2)} s" min={0} max={most} step={10} value={shown} onlook={(value) => (looked = value)}
		onset={async (value) => { await trim.setPause(value); looked = null; }}
	/>
	<div class="row">
		<Button title="50 ms shorter (−)" onclick={() => trim.nudgePause(-50)}>Shorter</Button>
		<Button title="50 ms longer (=)" onclick={() => trim.nudgePause(50)}>Longer</Button>
		{#if !pause.join && pause.kept_ms < pause.said_ms}<Button onclick={() => trim.setPause(null)}>As said</Button>{/if}
	</div>
	{#if !pause.join && pause.kept_ms > 0}<Pace {trim} {...trim.gapOf(pause)} />{/if}
</section>

<style>
	h2 {
		font-size: 15px;
	}
	.row {
		display: flex;
		gap: 6px;
		margin-top: 4px;
	}
</style>
