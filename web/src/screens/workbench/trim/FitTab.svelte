<script lang="ts">
	/** The way to make this version fit that loses least, piece by piece, and splitting it in parts. */
	import Check from '@lucide/svelte/icons/check';
	import Lock from '@lucide/svelte/icons/lock';
	import X from '@lucide/svelte/icons/x';
	import { house } from '$api/house.svelte';
	import type { PlanPiece } from '$api/client';
	import Button from '$ui/Button.svelte';
	import { many, seconds } from '$ui/say';
	import Parts from './Parts.svelte';
	import type { Trim } from './trim.svelte';

	let { trim, ongo }: { trim: Trim; ongo: (word: number) => void } = $props();
	const bench = $derived(trim.bench);
	const name = $derived(house.destination(bench.shown)?.name ?? '');
	const over = $derived(bench.quote!.gauges.find((one) => one.destination === bench.shown)?.over_ms ?? 0);
	const KINDS: Record<PlanPiece['kind'], [string, string]> = {
		pause: ['Tighten pauses', 'Pause'],
		filler: ['Strike fillers', 'Filler'],
		repair: ['Strike repairs', 'Repair'],
		aside: ['Leave out asides', 'Aside'],
		sentence: ['Leave out the least needed sentence', 'Sentence'],
		'start-later': ['Start a sentence later', 'Start later'],
		'end-sooner': ['End a sentence earlier', 'End earlier'],
		speed: ['A touch faster', 'Faster']
	};
	/** Tightening pauses is one thing to those who read the plan, however many there are. */
	const pauses = $derived(trim.plan?.pieces.filter((one) => one.kind === 'pause') ?? []);
	const felt = (piece: { felt: string }) => (piece.felt === 'hardly' || piece.felt === 'much' ? `${piece.felt} felt` : `felt ${piece.felt}`);

	// A plan is of one version and one cut: another of either asks for another.
	$effect(() => {
		const of = [bench.shown, bench.quote?.revision];
		if (of[0]) void trim.makePlan();
	});
</script>

{#if over <= 0}
	<section><p class="fits"><Check size={18} aria-hidden="true" /> {name} fits, with {seconds(-over)} to spare.</p></section>
{:else if trim.plan}
	{@const plan = trim.plan}
	<section aria-label="Fit plan">
		<h2>{seconds(over)} over {name}</h2>
		<p class="hint">
			{#if plan.reached}The least loss that makes it fit, {seconds(plan.length_ms)} long.
			{:else}Nothing makes it fit. This comes nearest: {seconds(plan.length_ms)}.{/if}
		</p>
		<div class="row all">
			<Button kind="main" disabled={!plan.pieces.length || trim.planning} onclick={() => trim.accept(plan.pieces.map((one) => one.id))}>
				{plan.reached ? `Make it fit: ${many(plan.pieces.length, 'change')}` : `Make ${many(plan.pieces.length, 'change')}`}
			</Button>
			{#if trim.refused.size || trim.locked.size}<Button onclick={() => { trim.forgetWishes(); void trim.makePlan(); }}>Plan again</Button>{/if}
		</div>
		{#snippet listed(pieces: PlanPiece[])}
			<ol>
				{#each pieces as piece (piece.id)}
					<li data-kind={piece.kind}>
						<button type="button" class="what" title={piece.kind === 'speed' ? '' : 'Look at it on the page'} onclick={() => piece.kind !== 'speed' && ongo(piece.first)}>
							<b>{KINDS[piece.kind][1]}</b> {seconds(piece.gain_ms)}, {felt(piece)}
							<span>{piece.text}</span>
						</button>
						<div class="row">
							<Button kind="quiet" aria-label="Do this: {piece.text}" title="Do this one now" onclick={() => trim.accept([piece.id])}>{#snippet icon()}<Check size={16} />{/snippet}</Button>
							<Button kind="quiet" pressed={trim.locked.has(piece.id)} aria-label="Lock: {piece.text}" title="Lock: plans keep to this" onclick={() => trim.lock(piece.id)}>{#snippet icon()}<Lock size={15} />{/snippet}</Button>
							<Button kind="quiet" aria-label="Refuse: {piece.text}" title="Refuse: plan around it" onclick={() => trim.refuse(piece.id)}>{#snippet icon()}<X size={16} />{/snippet}</Button>
						</div>
					</li>
				{/each}
			</ol>
		{/snippet}
		{#if pauses.length}
			<details>
				<summary>
					<b>{many(pauses.length, 'pause')} tighter</b> {seconds(pauses.reduce((sum, one) => sum + one.gain_ms, 0))}, each {felt(pauses[0]!)}
				</summary>
				<Button onclick={() => trim.accept(pauses.map((one) => one.id))}>Only tighten these</Button>
				{@render listed(pauses)}
			</details>
		{/if}
		{@render listed(plan.pieces.filter((one) => one.kind !== 'pause'))}
		{#if trim.refused.size}<p class="hint">{many(trim.refused.size, 'piece')} refused.</p>{/if}
	</section>
	<section aria-label="Ways">
		<h2>Everything there is to gain</h2>
		<table>
			<tbody>
				{#each plan.ways as way (way.kind)}
					<tr><td>{KINDS[way.kind][0]}{way.count > 1 ? ` (${way.count})` : ''}</td><td>{seconds(way.gain_ms)}</td><td>{felt(way)}</td></tr>
				{/each}
			</tbody>
		</table>
	</section>
{:else}
	<section><p class="hint">Finding the cut that loses least…</p></section>
{/if}
<Parts {trim} {over} />

<style>
	.fits {
		display: flex;
		gap: 8px;
		color: var(--good);
	}
	h2 {
		font-size: 15px;
	}
	.row {
		display: flex;
		gap: 2px;
	}
	.all {
		gap: 6px;
		margin: 8px 0;
	}
	li {
		display: grid;
		grid-template-columns: 1fr auto;
		align-items: start;
		padding: 4px 0;
		border-top: 1px solid var(--rule);
	}
	summary {
		padding: 6px 0;
		cursor: pointer;
	}
	.what {
		padding: 2px 4px;
		border: 0;
		border-radius: var(--radius);
		background: none;
		font-size: 14px;
		text-align: left;
		cursor: pointer;
	}
	.what:hover {
		background: var(--paper-sunk);
	}
	.what span {
		display: -webkit-box;
		overflow: hidden;
		color: var(--ink-soft);
		font-family: var(--reading);
		-webkit-box-orient: vertical;
		-webkit-line-clamp: 2;
		line-clamp: 2;
	}
	table {
		width: 100%;
		border-collapse: collapse;
		font-size: 14px;
	}
	td {
		padding: 3px 0;
		vertical-align: top;
	}
	td:not(:first-child) {
		padding-left: 8px;
		text-align: right;
		white-space: nowrap;
	}
	td:last-child {
		color: var(--ink-soft);
	}
</style>
