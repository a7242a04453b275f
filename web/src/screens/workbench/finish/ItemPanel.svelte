<script lang="ts">
	/** The thing in hand: what it is, when it shows, where it stands. */
	import type { Overlay } from '$api/client';
	import Button from '$ui/Button.svelte';
	import Fold from '$ui/Fold.svelte';
	import { ofFinish, type Change, type Finish } from './finish.svelte';
	import CardFields from './CardFields.svelte';
	import CoverFields from './CoverFields.svelte';
	import DrawnFields from './DrawnFields.svelte';
	import { canBePlaced, isAlone, nameOf } from './items';
	import MusicFields from './MusicFields.svelte';
	import PlaceFields from './PlaceFields.svelte';
	import TextFields from './TextFields.svelte';
	import WhenFields from './WhenFields.svelte';

	let { finish, one }: { finish: Finish; one: Overlay } = $props();

	const what = $derived(one.what);
	const mineAlone = $derived(finish.overlays.filter((other) => !ofFinish(other)));
	const at = $derived(mineAlone.findIndex((other) => other.id === one.id));
	/** Whether the quote has it otherwise than its finish. */
	const otherwise = $derived(ofFinish(one) && finish.bench.quote!.document.overlays?.some((other) => other.id === one.id));
	const order = (to: number) => void finish.bench.edit({ kind: 'order-overlay', id: one.id, to });
	const mine = $derived(finish.problemsOf(one.id));
	let copying = $state(false);
	let to = $state<number | null>(null);
	$effect(() => {
		if (copying) void finish.loadOthers().then(() => (to = finish.others[0]?.id ?? null));
	});
	const set = (change: Change) => void finish.change(one.id, change);
	const look = (change: Change) => finish.tryOut(one.id, change);
</script>

<section aria-label={nameOf(what)}>
	<div class="head">
		<h2>{nameOf(what)}</h2>
		<Button kind="quiet" title="Done (Esc)" onclick={() => (finish.hand = null)}>Done</Button>
	</div>
	{#if ofFinish(one)}
		<p class="from">{otherwise ? 'Changed in this quote.' : 'From the finish. What you change here stays in this quote.'}
			{#if otherwise}<Button onclick={() => void finish.bench.edit({ kind: 'reset-overlay', id: one.id })}>Reset to the finish</Button>{/if}</p>
	{/if}
	{#each mine as problem (problem.says)}
		<p class="problem"><b>{problem.says}</b> {problem.do} {#if problem.mend}<Button onclick={() => void finish.bench.edit(problem.mend!)}>{problem.mend_says}</Button>{/if}</p>
	{/each}
	{#if what.kind === 'title' || what.kind === 'lines' || what.kind === 'name-strap' || what.kind === 'time-left'}
		<TextFields {what} onset={set} onlook={look} />
	{:else if what.kind === 'end-card'}
		<CardFields {what} onset={set} onlook={look} />
	{:else if what.kind === 'cover'}
		<CoverFields {what} {finish} onset={set} onlook={look} />
	{:else if what.kind === 'music'}
		<MusicFields {what} onset={set} />
	{:else if what.kind !== 'speaking-sound'}
		<DrawnFields {what} {finish} onset={set} onlook={look} />
	{/if}
	{#if !isAlone(what)}<WhenFields {finish} {one} />{/if}
	{#if canBePlaced(what)}<PlaceFields {finish} {one} />{/if}
	{#if !ofFinish(one) && !isAlone(what)}
		<Fold says="Order">
			<div class="row">
				<Button disabled={at <= 0} onclick={() => order(at - 1)}>Backward</Button>
				<Button disabled={at >= mineAlone.length - 1} onclick={() => order(at + 1)}>Forward</Button>
			</div>
		</Fold>
	{/if}
	<Fold says="Copy to another quote" bind:open={copying}>
		{#if finish.others.length}
			<select aria-label="Copy to" bind:value={to}>{#each finish.others as other (other.id)}<option value={other.id}>{other.title}</option>{/each}</select>
			<Button disabled={to === null} onclick={() => void finish.copy(one, to!)}>Copy</Button>
		{:else}<p class="from">This recording has no other quotes.</p>{/if}
	</Fold>
	<div class="row">
		<Button onclick={() => void finish.bench.edit({ kind: 'hide-overlay', id: one.id, hidden: !one.hidden })}>{one.hidden ? 'Show' : 'Hide'}</Button>
		{#if !ofFinish(one)}<Button title="Remove (Delete)" onclick={() => finish.remove()}>Remove</Button>{/if}
	</div>
</section>

<style>
	section {
		display: grid;
		gap: 8px;
		padding-bottom: 12px;
		border-bottom: 1px solid var(--rule);
	}
	.head {
		display: flex;
		align-items: center;
		justify-content: space-between;
	}
	h2 {
		font-size: 15px;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 4px;
	}
	.from {
		color: var(--ink-soft);
		font-size: 14px;
	}
	.problem {
		color: var(--warn);
		font-size: 14px;
	}
</style>
