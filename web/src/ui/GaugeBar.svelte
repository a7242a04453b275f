<script lang="ts">
	import type { Gauge } from '$api/client';
	import { seconds } from './say';

	let { gauge, inUse = true, onchoose }: { gauge: Gauge; inUse?: boolean; onchoose?: (gauge: Gauge) => void } = $props();

	/** Where the limit stands on the bar: fixed, so that lengths are compared by eye. */
	const LIMIT = 0.74;
	const filled = $derived(Math.min(1, (gauge.length_ms / gauge.limit_ms) * LIMIT));
	const over = $derived(gauge.fit === 'over');
	const does = $derived(over ? `Make it fit ${gauge.name}` : inUse ? `Show ${gauge.name}` : `Add ${gauge.name}`);
	const facts = $derived(`${gauge.name}: ${seconds(gauge.length_ms)} of ${seconds(gauge.limit_ms)}, ${gauge.text}`);
</script>

{#snippet bar()}
	<span class="name">{gauge.name}</span>
	<span class="bar" aria-hidden="true">
		<span class="fill" style:width="{Math.min(filled, LIMIT) * 100}%"></span>
		{#if over}<span class="over" style:left="{LIMIT * 100}%" style:width="{(filled - LIMIT) * 100}%"></span>{/if}
		<span class="limit" style:left="{LIMIT * 100}%"></span>
	</span>
	<span class="said">{over ? gauge.text.replace(` ${gauge.name}`, '') : gauge.text}</span>
{/snippet}

{#if onchoose}
	<button
		type="button" class="gauge" data-fit={gauge.fit} data-in-use={inUse} title="{facts}. {does}" aria-label="{facts}. {does}"
		onclick={() => onchoose(gauge)}>{@render bar()}</button>
{:else}
	<div class="gauge" data-fit={gauge.fit} data-in-use={inUse} title={facts}>{@render bar()}</div>
{/if}

<style>
	.gauge {
		display: grid;
		gap: 3px;
		min-width: 0;
		flex: 1 1 0;
		max-width: 260px;
	}
	button.gauge {
		padding: 4px 6px;
		border: 0;
		border-radius: 6px;
		background: none;
		text-align: left;
		cursor: pointer;
	}
	button.gauge:hover {
		background: var(--paper-sunk);
	}
	.name {
		font-weight: 700;
		font-size: 13px;
		line-height: 16px;
		white-space: nowrap;
	}
	.bar {
		position: relative;
		height: 10px;
		border-radius: 3px;
		background: var(--paper-sunk);
		overflow: hidden;
		box-shadow: inset 0 0 0 1px var(--rule);
	}
	.fill,
	.over {
		position: absolute;
		inset-block: 0;
		left: 0;
		background: var(--kept);
	}
	.over {
		background: repeating-linear-gradient(-45deg, var(--struck) 0 3px, var(--struck-wash) 3px 5px);
	}
	.limit {
		position: absolute;
		inset-block: 0;
		width: 2px;
		background: var(--ink);
	}
	.said {
		font-size: 13px;
		line-height: 16px;
		color: var(--good);
		white-space: nowrap;
		overflow: hidden;
		text-overflow: ellipsis;
	}
	[data-fit='over'] .said {
		color: var(--struck);
		font-weight: 700;
	}
	[data-in-use='false'] .name {
		font-weight: 400;
	}
	[data-in-use='false'] .fill {
		background: var(--stage-soft);
	}
</style>
