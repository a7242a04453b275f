<script lang="ts">
	import { onDestroy, untrack } from 'svelte';
	import Redo2 from '@lucide/svelte/icons/redo-2';
	import Send from '@lucide/svelte/icons/send';
	import SlidersHorizontal from '@lucide/svelte/icons/sliders-horizontal';
	import Undo2 from '@lucide/svelte/icons/undo-2';
	import { goto } from '$app/navigation';
	import { api, ask, Problem, type ExportRequest, type Gauge, type Quote } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Gauges from '$ui/Gauges.svelte';
	import { keys } from '$ui/keys.svelte';
	import { many } from '$ui/say';
	import { trail } from '$ui/trail.svelte';
	import { Bench } from './bench.svelte';
	import { Captions } from './captions/captions.svelte';
	import CaptionsStep from './captions/CaptionsStep.svelte';
	import { Check } from './check/check.svelte';
	import CheckStep from './check/CheckStep.svelte';
	import { Finish } from './finish/finish.svelte';
	import FinishStep from './finish/FinishStep.svelte';
	import ExportOptions from './ExportOptions.svelte';
	import { Frame } from './frame/frame.svelte';
	import FrameStep from './frame/FrameStep.svelte';
	import { together } from './check/together';
	import { benchKeys, STEP_NAMES, STEPS, type Step } from './keys';
	import { Trim } from './trim/trim.svelte';
	import TrimStep from './trim/TrimStep.svelte';

	let { id, step: named }: { id: number; step: string } = $props();

	const step = $derived((STEPS as readonly string[]).includes(named) ? (named as Step) : 'trim');
	const bench = untrack(() => new Bench(id));
	const trim = new Trim(bench);
	const frame = new Frame(bench);
	const captions = new Captions(bench);
	const finish = new Finish(bench);
	const check = new Check(bench);
	let page = $state<ReturnType<typeof TrimStep>>();
	let missing = $state('');
	onDestroy(() => bench.close());
	void bench.load().catch((refused: Error) => (missing = refused.message));

	$effect(() => {
		const quote = bench.quote;
		if (!quote) return;
		const talk = `/talk/${quote.recording_id}?t=${(quote.document.span.start_ms / 1000).toFixed(1)}`;
		trail.set(
			[{ name: 'Shelf', href: '/' }, { name: quote.recording_title, href: talk }, { name: `“${quote.document.title}”` }],
			quote.recording_id
		);
	});
	$effect(() => {
		const news = house.quoteChanged;
		if (news.count && (news.id === id || news.id === null)) untrack(() => void bench.changedElsewhere(news.head ?? null));
	});
	$effect(() => keys.use(STEP_NAMES[step], benchKeys(bench, trim, frame, captions, finish, check, actions, step)));

	const actions = {
		go: (to: Step) => void goto(`/quote/${id}/${to}`, { keepFocus: true }),
		goToWord: (word: number) => page?.goToWord(word),
		reveal: (word: number) => page?.reveal(word),
		exportAll: () => void exportAll(),
		exportOptions: () => (choosing = true)
	};
	/** How many things Check tells of. */
	const wrong = $derived((bench.resolved?.versions ?? []).reduce((sum, one) => sum + together(bench.findingsOf(one.destination)).length, 0));
	let asking = $state(false);
	let choosing = $state(false);

	/** What undo would take back: one's own last change, whoever changed the quote since. */
	function undoTitle({ undo_said, undo_by }: Quote): string {
		if (!undo_said) return 'Nothing to undo';
		return undo_by && undo_by !== house.person ? `Undo your last change. The newest is by ${undo_by}: ${undo_said}` : `Undo: ${undo_said}`;
	}

	async function exportAll(wanted: Partial<ExportRequest> = {}): Promise<void> {
		if (asking) return;
		asking = true;
		const made = await house.trying(async () => {
			try {
				return await ask(api.POST('/api/quotes/{quote_id}/exports', { params: { path: { quote_id: id } }, body: { destinations: [], codec: 'h264', quality: 'usual', sizes_mb: {}, also: [], ...wanted } }));
			} catch (refused) {
				if (refused instanceof Problem && refused.code === 'held') actions.go('check');
				throw refused;
			}
		});
		asking = false;
		if (!made) return;
		choosing = false;
		await house.refreshExports();
		if (made.length) await goto('/outbox');
		else house.tell('bad', 'These versions are exporting already. The Outbox shows how far they are.');
	}

	/** A gauge leads to its version, which is made where there is none, and to the ways to make it fit where it is over. */
	async function choose({ destination, fit }: Gauge): Promise<void> {
		const there = bench.quote?.versions.some((one) => one.destination === destination);
		if (!there && !(await bench.edit({ kind: 'add-version', destination }))) return;
		bench.show(destination);
		if (fit !== 'over') return;
		trim.tab = 'fit';
		if (step !== 'trim') actions.go('trim');
	}

	function rename(field: HTMLInputElement): void {
		const title = field.value.trim();
		if (!title) field.value = bench.quote?.document.title ?? '';
		else if (title !== bench.quote?.document.title) void bench.edit({ kind: 'rename', title });
	}
</script>

{#if missing}
	<p class="missing">{missing} <a href="/">To the shelf</a></p>
{:else if bench.quote && bench.talk && bench.player && bench.version}
	<div class="bench">
		<div class="bar">
			<input
				class="title" aria-label="Title of the quote" maxlength="200" value={bench.quote.document.title}
				onchange={(event) => rename(event.currentTarget)}
				onkeydown={(event) => { if (event.key === 'Enter') event.currentTarget.blur(); }}
			/>
			<nav aria-label="Steps">
				{#each STEPS as one, i (one)}
					<a href="/quote/{id}/{one}" aria-current={one === step ? 'step' : undefined} title="{STEP_NAMES[one]} ({i + 1})">
						{STEP_NAMES[one]}{#if one === 'check' && wrong}<b class="count">{wrong}</b>{/if}
					</a>
				{/each}
				<a href="/quote/{id}/post" title="Its text, its posts, and handing it to a phone">Post</a>
			</nav>
			<div class="tools">
				<Button kind="quiet" aria-label="Undo" title={undoTitle(bench.quote)} disabled={!bench.quote.undo_said} onclick={() => bench.undo()}>
					{#snippet icon()}<Undo2 size={18} />{/snippet}
				</Button>
				<Button kind="quiet" aria-label="Redo" title={bench.quote.redo_said ? `Redo: ${bench.quote.redo_said}` : 'Nothing to redo'} disabled={!bench.quote.redo_said} onclick={() => bench.redo()}>
					{#snippet icon()}<Redo2 size={18} />{/snippet}
				</Button>
				<Button kind="main" title="Export all versions (E)" disabled={asking} onclick={() => exportAll()}>
					{#snippet icon()}<Send size={16} />{/snippet}Export {many(bench.quote.versions.length, 'version')}
				</Button>
				<Button aria-label="Export options" title="Quality, size, codec, sound alone (Shift+E)" onclick={() => (choosing = true)}>
					{#snippet icon()}<SlidersHorizontal size={16} />{/snippet}
				</Button>
			</div>
		</div>
		<div class="step">
			{#if step === 'trim'}<TrimStep bind:this={page} {trim} />
			{:else if step === 'frame'}<FrameStep {frame} />
			{:else if step === 'captions'}<CaptionsStep {captions} />
			{:else if step === 'finish'}<FinishStep {finish} />
			{:else}<CheckStep {check} onexport={() => exportAll()} />{/if}
		</div>
		<Gauges
			gauges={bench.quote.gauges.filter((one) => bench.quote?.versions.some((version) => version.destination === one.destination) || step === 'trim')}
			lengthMs={bench.lengthMs} inUse={bench.quote.versions.map((one) => one.destination)} onchoose={(gauge) => void choose(gauge)}
		/>
	</div>
	{#if choosing}<ExportOptions {bench} onexport={exportAll} onclose={() => (choosing = false)} />{/if}
{:else}
	<p class="missing">Opening the quote…</p>
{/if}

<style>
	.bench {
		display: grid;
		grid-template-rows: 48px minmax(0, 1fr) 64px;
		height: 100%;
	}
	.bar {
		display: grid;
		grid-template-columns: minmax(120px, 1fr) auto minmax(0, 1fr);
		align-items: center;
		gap: 16px;
		padding: 0 14px;
		border-bottom: 1px solid var(--rule);
	}
	.title {
		min-width: 0;
		min-height: 32px;
		padding: 2px 8px;
		border: 1px solid transparent;
		border-radius: var(--radius);
		background: none;
		font: 600 17px/24px var(--reading);
		text-overflow: ellipsis;
	}
	.title:hover,
	.title:focus {
		border-color: var(--rule);
		background: var(--paper-raised);
	}
	nav {
		display: flex;
		align-self: stretch;
		gap: 4px;
	}
	nav a {
		display: flex;
		align-items: center;
		gap: 6px;
		padding: 0 14px;
		border-bottom: 3px solid transparent;
		text-decoration: none;
	}
	nav a:hover {
		background: var(--paper-sunk);
	}
	nav a[aria-current] {
		border-color: var(--kept);
		font-weight: 700;
	}
	.count {
		min-width: 20px;
		padding: 0 5px;
		border-radius: 10px;
		background: var(--warn-wash);
		color: var(--warn);
		font-size: 13px;
		text-align: center;
	}
	.tools {
		display: flex;
		justify-content: flex-end;
		gap: 4px;
	}
	.step {
		min-height: 0;
	}
	.missing {
		padding: 48px;
		text-align: center;
		color: var(--ink-soft);
	}
</style>
