<script lang="ts">
	/** When a thing shows: all the time, at an end of the clip, or with words. */
	import type { Overlay, Shows } from '$api/client';
	import Button from '$ui/Button.svelte';
	import Fields from '$ui/Fields.svelte';
	import type { Finish } from './finish.svelte';

	let { finish, one }: { finish: Finish; one: Overlay } = $props();

	const KINDS = [['whole', 'Whole clip'], ['start', 'At the start'], ['end', 'At the end']] as const;
	const USUAL_MS = 3000;
	const when = $derived(one.when);
	const selected = $derived(finish.bench.selection.range);

	function kind(to: Shows['kind']): void {
		void finish.time(one.id, { kind: to, first: null, last: null, offset_ms: 0, length_ms: to === 'whole' ? null : (when.length_ms ?? USUAL_MS) });
	}
	function seconds(field: 'length_ms' | 'offset_ms', box: HTMLInputElement): void {
		const value = box.value.trim() === '' && field === 'length_ms' ? null : Math.round(Number(box.value) * 1000);
		if (value === null || (Number.isFinite(value) && value >= (field === 'length_ms' ? 100 : 0) && value <= 600_000)) void finish.time(one.id, { [field]: value });
		else box.value = String(((when[field] ?? 0) / 1000).toFixed(1));
	}
</script>

<Fields name="When">
	<div class="row" role="group" aria-label="When it shows">
		{#each KINDS as [value, says] (value)}<Button pressed={when.kind === value} onclick={() => kind(value)}>{says}</Button>{/each}
		<Button pressed={when.kind === 'words'} disabled={!selected && when.kind !== 'words'} title={selected ? 'With the selected words (W)' : 'Select words first'} onclick={() => finish.withSelected()}>With words</Button>
	</div>
	{#if when.kind !== 'whole'}
		<label>Length, s <input inputmode="decimal" placeholder={when.kind === 'words' ? 'these words' : 'all of it'} value={when.length_ms ? (when.length_ms / 1000).toFixed(1) : ''} onchange={(event) => seconds('length_ms', event.currentTarget)} /></label>
		<label>{when.kind === 'end' ? 'Ends early by, s' : 'Starts late by, s'} <input inputmode="decimal" value={((when.offset_ms ?? 0) / 1000).toFixed(1)} onchange={(event) => seconds('offset_ms', event.currentTarget)} /></label>
	{/if}
</Fields>

<style>
	input {
		width: 96px;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 4px;
	}
	label {
		display: flex;
		align-items: center;
		justify-content: space-between;
		gap: 8px;
	}
</style>
