<script lang="ts">
	/** Striking by rule: what a rule finds is counted and marked on the page before it goes; clicks except places. */
	import type { Rule } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import { many, seconds } from '$ui/say';
	import type { Trim } from './trim.svelte';

	let { trim }: { trim: Trim } = $props();
	const NAMES: Record<Rule['name'], [string, string]> = {
		fillers: ['Fillers', 'filler'],
		repeats: ['False starts', 'repeated start'],
		stammers: ['Stammers', 'stammer'],
		pauses: ['Long pauses', 'pause'],
		interjections: ['Interjections', 'interjection']
	};
	const ranges = $derived(house.ranges);
	let over = $state(600);
	let to = $state(350);
	const speakers = $derived([...new Set(trim.bench.talk!.sentences.map((one) => one.speaker))].filter((one): one is string => one !== null));
	let speaker = $state('');
	const going = $derived(trim.found.filter((one) => !trim.but.has(one.id)));
	const gain = $derived(going.reduce((sum, one) => sum + one.gain_ms, 0));

	function choose(name: string): void {
		if (!name) return void trim.tryRule(null);
		speaker ||= speakers.at(-1) ?? '';
		void trim.tryRule({ name: name as Rule['name'], over_ms: over, to_ms: Math.min(to, over), speaker: speaker || null });
	}
	const again = () => trim.rule && choose(trim.rule.name);
</script>

<section aria-label="Strike by rule">
	<div class="row">
		<label for="rule">Strike by rule</label>
		<select id="rule" value={trim.rule?.name ?? ''} onchange={(event) => choose(event.currentTarget.value)}>
			<option value="">Choose…</option>
			{#each Object.entries(NAMES) as [id, [name]] (id)}
				{#if id !== 'interjections' || speakers.length > 1}<option value={id}>{name}</option>{/if}
			{/each}
		</select>
	</div>
	{#if trim.rule}
		{#if trim.rule.name === 'pauses'}
			<div class="row numbers">
				<label>over <input type="number" min={ranges.pause_over_ms.least / 1000} max={ranges.pause_over_ms.most / 1000} step="0.05" value={over / 1000} onchange={(event) => { over = Number(event.currentTarget.value) * 1000 || 600; again(); }} /> s</label>
				<label>down to <input type="number" min={ranges.pause_to_ms.least / 1000} max={ranges.pause_to_ms.most / 1000} step="0.05" value={to / 1000} onchange={(event) => { to = Number(event.currentTarget.value) * 1000; again(); }} /> s</label>
			</div>
		{:else if trim.rule.name === 'interjections'}
			<label class="row">of <select bind:value={speaker} onchange={again}>{#each speakers as one (one)}<option>{one}</option>{/each}</select></label>
		{/if}
		{#if trim.found.length}
			<ul>
				{#each trim.found as one (one.id)}
					<li><label><input type="checkbox" checked={!trim.but.has(one.id)} onchange={() => trim.except(one.id)} /> <span>{one.text}</span> <i>{seconds(one.gain_ms)}</i></label></li>
				{/each}
			</ul>
			<Button kind="main" disabled={!going.length} onclick={() => trim.strikeByRule()}>
				{trim.rule.name === 'pauses' ? 'Shorten' : 'Strike'} {many(going.length, NAMES[trim.rule.name][1])}, {seconds(gain)}
			</Button>
		{:else}
			<p class="hint">There is nothing of that kind in the cut.</p>
		{/if}
	{/if}
</section>

<style>
	.row {
		display: flex;
		align-items: center;
		gap: 8px;
	}
	.row > label[for] {
		font-weight: 700;
		font-size: 15px;
		flex: 1;
		white-space: nowrap;
	}
	select,
	input[type='number'] {
		min-height: 30px;
		min-width: 0;
		padding: 2px 6px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper);
	}
	input[type='number'] {
		width: 58px;
	}
	.numbers {
		margin-top: 6px;
		white-space: nowrap;
	}
	ul {
		max-height: 168px;
		margin: 6px 0;
		overflow-y: auto;
	}
	li label {
		display: grid;
		grid-template-columns: 20px 1fr auto;
		align-items: center;
		min-height: 26px;
	}
	li span {
		overflow: hidden;
		font-family: var(--reading);
		text-overflow: ellipsis;
		white-space: nowrap;
	}
	li i {
		padding-left: 6px;
		color: var(--ink-soft);
		font-style: normal;
	}
	input[type='checkbox'] {
		width: 16px;
		height: 16px;
		margin: 0;
		accent-color: var(--struck);
	}
</style>
