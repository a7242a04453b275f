<script lang="ts">
	import { untrack } from 'svelte';
	import Check from '$ui/Check.svelte';
	import Stage from '../Stage.svelte';
	import AddItems from './AddItems.svelte';
	import ChooseFinish from './ChooseFinish.svelte';
	import type { Finish } from './finish.svelte';
	import Handle from './Handle.svelte';
	import ItemColumn from './ItemColumn.svelte';
	import ItemPanel from './ItemPanel.svelte';
	import VoiceChoice from './VoiceChoice.svelte';

	let { finish }: { finish: Finish } = $props();

	const bench = $derived(finish.bench);
	// What is behind the texts is looked at once nothing has changed for a moment.
	$effect(() => {
		void bench.resolved?.revision;
		const later = setTimeout(() => void bench.measure(), 400);
		return () => clearTimeout(later);
	});
	// What was added is gone to, once it is known when it shows.
	$effect(() => {
		const added = finish.added;
		if (added === null || !finish.timeOf(added)) return;
		finish.added = null;
		if (finish.hand === added) untrack(() => finish.take(added));
	});
</script>

<div class="finish">
	<ItemColumn {finish} />
	<Stage {bench} covered={bench.covered}>
		{#snippet over(size: { width: number; height: number })}<Handle {finish} {size} />{/snippet}
	</Stage>
	<aside aria-label="Finish">
		{#if finish.one}
			{#key finish.one.id}<ItemPanel {finish} one={finish.one} />{/key}
		{:else}
			<ChooseFinish {finish} />
			{#if finish.overlays.length}<p class="soft">Choose something beside the words, or on the picture, to change it.</p>{/if}
		{/if}
		<AddItems {finish} />
		<VoiceChoice {finish} />
		{#if finish.one}<ChooseFinish {finish} />{/if}
		<Check name="Show safe areas" checked={bench.covered} onset={(on) => (bench.covered = on)} />
	</aside>
</div>

<style>
	.finish {
		display: grid;
		grid-template-columns: minmax(0, 1fr) 340px 310px;
		height: 100%;
		min-height: 0;
	}
	aside {
		display: grid;
		align-content: start;
		gap: 12px;
		overflow-y: auto;
		padding: 12px 14px;
		border-left: 1px solid var(--rule);
		background: var(--paper-raised);
	}
	.soft {
		color: var(--ink-soft);
		font-size: 14px;
	}
</style>
