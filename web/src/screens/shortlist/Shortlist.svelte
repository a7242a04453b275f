<script lang="ts">
	import CalendarDays from '@lucide/svelte/icons/calendar-days';
	import Send from '@lucide/svelte/icons/send';
	import ListChecks from '@lucide/svelte/icons/list-checks';
	import ListVideo from '@lucide/svelte/icons/list-video';
	import { onDestroy } from 'svelte';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { packageUrl, api, ask, type SlipMark } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Dialog from '$ui/Dialog.svelte';
	import { keys } from '$ui/keys.svelte';
	import { many } from '$ui/say';
	import { trail } from '$ui/trail.svelte';
	import ApplyFinish from './ApplyFinish.svelte';
	import CheckAll from './CheckAll.svelte';
	import Compare from './Compare.svelte';
	import ReadBack from './ReadBack.svelte';
	import TakePackage from './TakePackage.svelte';
	import Screen from './Screen.svelte';
	import { MARKS, Shortlist, type Scope } from './shortlist.svelte';
	import Slip from './Slip.svelte';
	import Week from './Week.svelte';

	const asked = page.url.searchParams;
	const scope: Scope = {
		...(asked.get('talk') ? { talk: Number(asked.get('talk')) } : {}),
		...(asked.get('series') ? { series: asked.get('series')! } : {}),
		...(asked.get('q') ? { q: asked.get('q')! } : {})
	};
	const list = new Shortlist(scope);
	let missing = $state('');
	let dragging = $state<number | null>(null);
	let over = $state<number | null>(null);
	let planning = $state(false);
	let comparing = $state(false);
	let table = $state<File | null>(null);
	let packed = $state<File | null>(null);
	let grid = $state<HTMLElement>();

	const load = () => list.load().catch((refused: Error) => (missing = refused.message));
	void load();
	onDestroy(() => list.sequence.stop());
	$effect(() => trail.set([{ name: 'Shelf', href: '/' }, { name: list.title || 'Shortlist' }]));

	function go(step: number): void {
		list.at = Math.min(Math.max(0, list.at + step), Math.max(0, list.shown.length - 1));
		grid?.children[list.at]?.scrollIntoView({ block: 'nearest' });
	}
	function markHere(): void {
		const slip = list.current;
		if (slip) void list.say(slip, { mark: MARKS[(MARKS.indexOf(slip.mark) + 1) % MARKS.length]! });
	}
	function playAll(): void {
		if (list.sequence.playing) list.sequence.stop();
		else void house.trying(() => list.playFrom(list.shown.slice(list.at)));
	}
	$effect(() =>
		keys.use('Shortlist', [
			{ keys: ['ArrowRight', 'ArrowDown'], does: 'Next quote', run: () => go(1) },
			{ keys: ['ArrowLeft', 'ArrowUp'], does: 'Quote before', run: () => go(-1) },
			{ keys: ['shift+ArrowLeft', 'shift+ArrowUp'], does: 'A rank higher', run: () => void list.move(list.at, list.at - 1) },
			{ keys: ['shift+ArrowRight', 'shift+ArrowDown'], does: 'A rank lower', run: () => void list.move(list.at, list.at + 1) },
			{ keys: ['m'], does: 'Mark it: candidate, picked, parked, done', run: markHere },
			{ keys: ['Space'], does: 'Play it, pause', run: () => { const slip = list.current; if (slip) void list.play(slip); } },
			{ keys: ['l'], does: 'Play all from here, hands free', run: playAll },
			{ keys: ['c'], does: 'Compare it with another', run: () => { const slip = list.current; if (slip) list.turnCompared(slip.id); } },
			{ keys: ['w'], does: 'Suggest a week', run: () => (planning = true) },
			{ keys: ['k'], does: 'Check all that are shown', run: () => (checking = list.shown.length > 0) },
			{ keys: ['ctrl+z'], does: 'Undo', run: () => void list.undo() },
			{ keys: ['Enter'], does: 'Trim it', run: () => { const slip = list.current; if (slip) void goto(`/quote/${slip.id}/trim`); } }
		])
	);
	// The quote that is playing is the one in hand, so that the eye follows the ear.
	$effect(() => {
		const at = list.shown.findIndex((one) => String(one.id) === list.sequence.current);
		if (at >= 0 && list.sequence.playing) {
			list.at = at;
			grid?.children[at]?.scrollIntoView({ block: 'nearest' });
		}
	});
	$effect(() => {
		if (list.compared.length === 2) comparing = true;
	});
	const two = $derived(list.compared.map((id) => list.slips?.find((one) => one.id === id)));
	const query = $derived(new URLSearchParams(Object.entries(scope).map(([name, value]) => [name, String(value)])).toString());
	const count = (mark: SlipMark) => list.slips?.filter((one) => one.mark === mark).length ?? 0;
	const picked = $derived(list.slips?.filter((one) => one.mark === 'picked') ?? []);
	let exporting = $state(false);
	let checking = $state(false);
	let held = $state.raw<{ id: number; title: string; why: string }[]>([]);

	/** Exports all versions of what is picked; what would spoil a post stays, and is told. */
	async function exportPicked(): Promise<void> {
		exporting = true;
		const done = await house.trying(() => ask(api.POST('/api/exports', { body: { quotes: picked.map((one) => one.id) } })));
		exporting = false;
		if (!done) return;
		await house.refreshExports();
		held = done.held.map((one) => ({ id: one.quote_id, title: picked.find((slip) => slip.id === one.quote_id)?.title ?? '', why: one.why }));
		if (!held.length) await goto('/outbox');
		else house.tell('bad', `${many(done.exports.length, 'export')} asked for; ${many(held.length, 'quote')} held by Check.`);
	}
	function turnLimit(id: string): void {
		list.limits = list.limits.includes(id) ? list.limits.filter((one) => one !== id) : [...list.limits, id].slice(-3);
	}
</script>

{#if missing}
	<p class="missing">{missing} <a href="/">To the shelf</a></p>
{:else}
	<div class="place">
		<div class="bar">
			<div class="row">
				<h1>{list.title || 'Shortlist'}</h1>
				<Button kind="main" title="Play all from here (L)" disabled={!list.shown.length} onclick={playAll}>
					{#snippet icon()}<ListVideo size={16} />{/snippet}{list.sequence.playing ? 'Stop playing' : 'Play all'}
				</Button>
				<Button title="Every version of the quotes that are shown (K)" disabled={!list.shown.length} onclick={() => (checking = true)}>{#snippet icon()}<ListChecks size={16} />{/snippet}Check all</Button>
				<Button title="Every version of the quotes that are picked" disabled={!picked.length || exporting} onclick={exportPicked}>{#snippet icon()}<Send size={16} />{/snippet}Export {picked.length || ''} picked</Button>
				<Button title="Suggest a week (W)" disabled={!list.slips?.length} onclick={() => (planning = true)}>{#snippet icon()}<CalendarDays size={16} />{/snippet}Suggest a week</Button>
			</div>
			<div class="row">
				<div class="group" role="group" aria-label="Show">
					<Button pressed={list.only === null} onclick={() => (list.only = null)}>All {list.slips?.length ?? ''}</Button>
					{#each MARKS as mark (mark)}<Button pressed={list.only === mark} onclick={() => { list.only = mark; list.at = 0; }}>{mark[0]!.toUpperCase() + mark.slice(1)} {count(mark) || ''}</Button>{/each}
				</div>
				<div class="group" role="group" aria-label="Limits shown">
					<span>Against</span>
					{#each house.destinations as one (one.id)}<Button kind="quiet" pressed={list.limits.includes(one.id)} onclick={() => turnLimit(one.id)}>{one.name}</Button>{/each}
				</div>
			</div>
			<div class="row paper">
				<a href="/api/shortlist.html?{query}" target="_blank" rel="noopener">Page to print</a>
				<a href="/api/shortlist.html?{query}" download="shortlist.html">Save the page</a>
				<a href="/api/shortlist.csv?{query}" download>Table (CSV)</a>
				<label>Import choices<input type="file" accept=".csv,text/csv" onchange={(event) => { table = event.currentTarget.files?.[0] ?? null; event.currentTarget.value = ''; }} /></label>
				{#if list.shown.length}<a href={packageUrl(list.shown.map((one) => one.id).slice(0, 100))} download title="These quotes whole, with what of your house is in them: for another installation">Package</a>{/if}
				<label>Import a package<input type="file" accept=".zip,application/zip" onchange={(event) => { packed = event.currentTarget.files?.[0] ?? null; event.currentTarget.value = ''; }} /></label>
				<ApplyFinish {list} />
				{#if list.compared.length === 1}<span class="soft">Choose a second quote to compare with.</span>{/if}
			</div>
		</div>
		{#if list.slips === null}
			<p class="missing">Loading the shortlist…</p>
		{:else if !list.shown.length}
			<p class="missing">
				{#if list.slips.length}No quote here is marked {list.only}.{:else}No quotes kept yet. <a href="/">Open a talk on the shelf</a>, and keep what is worth posting.{/if}
			</p>
		{:else}
			<div class="slips" bind:this={grid} role="list">
				{#each list.shown as slip, i (slip.id)}
					<div
						role="listitem" data-over={over === i && dragging !== null && dragging !== i}
						ondragover={(event) => { if (dragging !== null) { event.preventDefault(); over = i; } }}
						ondrop={(event) => { event.preventDefault(); if (dragging !== null) void list.move(dragging, i); }}
					>
						<Slip {slip} {list} rank={i + 1} current={i === list.at} ontake={() => (list.at = i)} ondrag={(on) => { dragging = on ? i : null; over = null; }} />
					</div>
				{/each}
			</div>
		{/if}
		{#if list.sequence.player}<Screen sequence={list.sequence} />{/if}
	</div>
	<p class="unseen" aria-live="polite">{list.current ? `Quote ${list.at + 1} of ${many(list.shown.length, 'quote')}: ${list.current.title}, ${list.current.mark}` : ''}</p>
	{#if planning}<Week {list} onclose={() => { planning = false; list.week = null; }} />{/if}
	{#if checking}<CheckAll quotes={list.shown.map(({ id, title }) => ({ id, title }))} onclose={() => (checking = false)} />{/if}
	{#if held.length}
		<Dialog name="Held by Check" onclose={() => (held = [])}>
			<ul class="held">
				{#each held as one (one.id)}<li><a href="/quote/{one.id}/check">{one.title}</a><p>{one.why}</p></li>{/each}
			</ul>
			{#snippet actions()}<Button onclick={() => goto('/outbox')}>Open the Outbox</Button>{/snippet}
		</Dialog>
	{/if}
	{#if comparing && two[0] && two[1]}<Compare {list} slips={[two[0], two[1]]} onclose={() => { comparing = false; list.compared = []; }} />{/if}
	{#if packed}<TakePackage file={packed} onclose={(changed) => { packed = null; if (changed) void load(); }} />{/if}
	{#if table}<ReadBack file={table} onclose={(changed) => { table = null; if (changed) void load(); }} />{/if}
{/if}

<style>
	.held li {
		padding: 8px 0;
		border-bottom: 1px solid var(--rule);
	}
	.place {
		position: relative;
		display: grid;
		grid-template-rows: auto minmax(0, 1fr);
		height: 100%;
	}
	.bar {
		display: grid;
		gap: 8px;
		padding: 14px 20px 10px;
		border-bottom: 1px solid var(--rule);
		background: var(--paper-raised);
	}
	.row,
	.group {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 4px 10px;
	}
	.group {
		gap: 4px;
	}
	.row {
		justify-content: space-between;
	}
	.paper {
		justify-content: start;
		gap: 4px 18px;
		font-size: 14px;
	}
	.paper a,
	.paper label {
		color: var(--note);
		text-decoration: underline;
		text-underline-offset: 3px;
		cursor: pointer;
	}
	.paper input {
		position: absolute;
		width: 1px;
		opacity: 0;
	}
	.paper label:has(:focus-visible) {
		outline: 2px solid var(--note);
		outline-offset: 2px;
	}
	h1 {
		flex: 1;
		font: 600 24px/32px var(--reading);
	}
	.slips {
		display: grid;
		grid-template-columns: repeat(auto-fill, minmax(360px, 1fr));
		gap: 16px;
		align-content: start;
		padding: 16px 20px 120px;
		overflow-y: auto;
	}
	[role='listitem'] {
		display: grid;
		min-width: 0;
	}
	[data-over='true'] {
		border-radius: var(--radius);
		box-shadow: -6px 0 var(--note);
	}
	.missing {
		padding: 48px;
		text-align: center;
		color: var(--ink-soft);
	}
	.soft {
		color: var(--ink-soft);
	}
</style>
