<script lang="ts">
	import type { Gauge } from '$api/client';
	import GaugeBar from './GaugeBar.svelte';
	import { seconds } from './say';

	type Props = { gauges: Gauge[]; lengthMs: number | null; inUse?: string[]; hint?: string; onchoose?: (gauge: Gauge) => void };
	let { gauges, lengthMs, inUse, hint = '', onchoose }: Props = $props();
</script>

<section class="gauges" aria-label="Fit gauges">
	{#if lengthMs === null}
		<p class="hint">{hint}</p>
	{:else}
		<p class="length" aria-live="polite"><strong>{seconds(lengthMs)}</strong><span>long</span></p>
		{#each gauges as gauge (gauge.destination)}
			<GaugeBar {gauge} inUse={!inUse || inUse.includes(gauge.destination)} {onchoose} />
		{/each}
	{/if}
</section>

<style>
	.gauges {
		display: flex;
		align-items: center;
		gap: 18px;
		height: 64px;
		padding: 0 16px;
		border-top: 1px solid var(--rule);
		background: var(--paper-raised);
	}
	.hint {
		color: var(--ink-soft);
	}
	.length {
		display: grid;
		min-width: 62px;
		line-height: 18px;
	}
	.length strong {
		font-size: 18px;
		line-height: 22px;
	}
	.length span {
		color: var(--ink-soft);
		font-size: 13px;
	}
</style>
