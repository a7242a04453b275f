<script lang="ts">
	import { house } from '$api/house.svelte';
	import { seconds } from '$ui/say';
	import ShapeMark from '$ui/ShapeMark.svelte';
	import type { Bench } from './bench.svelte';

	let { bench }: { bench: Bench } = $props();

	const chosen = $derived(new Set(bench.quote!.versions.map((one) => one.destination)));

	const listed = $derived(house.everyDestination.filter((one) => !one.retired || chosen.has(one.id)));

	async function choose(id: string, on: boolean, box: HTMLInputElement): Promise<void> {
		const done = await bench.edit({ kind: on ? 'add-version' : 'remove-version', destination: id });
		if (!done) box.checked = !on;
		else if (on) bench.show(id);
	}
</script>

<section aria-label="Destinations">
	<ul>
		{#each listed as one (one.id)}
			{@const over = (bench.quote!.gauges.find((gauge) => gauge.destination === one.id)?.over_ms ?? 0) > 0}
			<li>
				<label>
					<input type="checkbox" checked={chosen.has(one.id)} onchange={(event) => choose(one.id, event.currentTarget.checked, event.currentTarget)} />
					<span class="shape"><ShapeMark width={one.width} height={one.height} size={21} /></span>
					<span class="name">{one.name}</span>
					<span class="facts">{one.width}×{one.height}</span>
					<span class="limit" data-over={over} title="{over ? 'The cut is over' : 'The cut is within'} {seconds(one.limit_ms)}">{over ? 'over' : 'fits'}</span>
				</label>
			</li>
		{/each}
	</ul>
</section>

<style>
	section {
		padding-bottom: 10px;
		border-bottom: 1px solid var(--rule);
	}
	label {
		display: grid;
		grid-template-columns: 18px 22px 1fr auto 34px;
		align-items: center;
		gap: 8px;
		min-height: 28px;
		cursor: pointer;
	}
	input {
		width: 18px;
		height: 18px;
		margin: 0;
		accent-color: var(--kept);
	}
	.shape {
		display: grid;
		place-items: center;
		height: 22px;
	}
	.facts {
		color: var(--ink-soft);
		font-size: 13px;
	}
	.limit {
		color: var(--good);
		font-size: 13px;
		text-align: right;
	}
	.limit[data-over='true'] {
		color: var(--struck);
		font-weight: 700;
	}
</style>
