<script lang="ts">
	import { untrack } from 'svelte';
	import { house } from '$api/house.svelte';
	import { trail } from '$ui/trail.svelte';
	import ExportRow from './ExportRow.svelte';

	trail.set([{ name: 'Shelf', href: '/' }, { name: 'Outbox' }]);
	$effect(() => untrack(() => void house.refreshExports()));

	const done = $derived(house.exports.filter((one) => one.state === 'done').length);
</script>

<div class="outbox">
	<h1>Outbox</h1>
	{#if house.exports.length}
		<p class="sum" aria-live="polite">{house.working.length} exporting, {done} done.</p>
		<ul>
			{#each house.exports as one (one.id)}<ExportRow {one} />{/each}
		</ul>
	{:else}
		<p class="sum">Nothing was exported yet. Keep a quote, and “Export” on its workbench makes all its versions at once.</p>
	{/if}
</div>

<style>
	.outbox {
		height: 100%;
		overflow-y: auto;
		padding: 24px max(28px, calc(50% - 560px));
	}
	h1 {
		font: 600 28px/36px var(--reading);
	}
	.sum {
		padding-bottom: 12px;
		border-bottom: 1px solid var(--rule);
		color: var(--ink-soft);
	}
</style>
