<script lang="ts">
	/** The thing in hand: what it is, when it shows, where it stands. */
	import type { Overlay } from '$api/client';
	import Button from '$ui/Button.svelte';
	import Fold from '$ui/Fold.svelte';
	import type { Change, Finish } from './finish.svelte';
	import DrawnFields from './DrawnFields.svelte';
	import { nameOf } from './items';
	import PlaceFields from './PlaceFields.svelte';
	import TextFields from './TextFields.svelte';
	import WhenFields from './WhenFields.svelte';

	let { finish, one }: { finish: Finish; one: Overlay } = $props();

	const what = $derived(one.what);
	const at = $derived(finish.overlays.findIndex((other) => other.id === one.id));
	const order = (to: number) => void finish.bench.edit({ kind: 'order-overlay', id: one.id, to });
	const mine = $derived(finish.problems.filter((problem) => Math.abs((problem.at_ms ?? -9) - Math.floor(finish.timeOf(one.id)?.fromMs ?? -1)) <= 1));
	const set = (change: Change) => void finish.change(one.id, change);
	const look = (change: Change) => finish.tryOut(one.id, change);
</script>

<section aria-label={nameOf(what)}>
	<h2>{nameOf(what)}</h2>
	{#each mine as problem (problem.says)}
		<p class="problem"><b>{problem.says}</b> {problem.do} {#if problem.mend}<Button onclick={() => void finish.bench.edit(problem.mend!)}>{problem.mend_says}</Button>{/if}</p>
	{/each}
	{#if what.kind === 'title' || what.kind === 'lines' || what.kind === 'name-strap' || what.kind === 'time-left'}
		<TextFields {what} onset={set} onlook={look} />
	{:else}
		<DrawnFields {what} {finish} onset={set} onlook={look} />
	{/if}
	<WhenFields {finish} {one} />
	{#if what.kind !== 'progress' && what.kind !== 'mark' && !(what.kind === 'insert' && what.covers === 'all')}<PlaceFields {finish} {one} />{/if}
	<Fold says="In front and behind">
		<div class="row">
			<Button disabled={at <= 0} onclick={() => order(at - 1)}>Backward</Button>
			<Button disabled={at >= finish.overlays.length - 1} onclick={() => order(at + 1)}>Forward</Button>
		</div>
	</Fold>
	<div class="row">
		<Button onclick={() => void finish.bench.edit({ kind: 'hide-overlay', id: one.id, hidden: !one.hidden })}>{one.hidden ? 'Show' : 'Hide'}</Button>
		<Button title="Remove (Delete)" onclick={() => finish.remove()}>Remove</Button>
	</div>
</section>

<style>
	section {
		display: grid;
		gap: 8px;
		padding-top: 10px;
		border-top: 1px solid var(--rule);
	}
	h2 {
		font-size: 15px;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 4px;
	}
	.problem {
		color: var(--warn);
		font-size: 14px;
	}
</style>
