<script lang="ts">
	import { untrack } from 'svelte';
	import { api, ask, type ShelfRecording } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Progress from '$ui/Progress.svelte';
	import { many } from '$ui/say';
	import { trail } from '$ui/trail.svelte';
	import BringIn from './BringIn.svelte';
	import Details from './Details.svelte';
	import RecordingRow from './RecordingRow.svelte';

	let recordings = $state.raw<ShelfRecording[] | null>(null);
	let removed = $state.raw<ShelfRecording[]>([]);
	let open = $state<number | null>(null);

	trail.set([{ name: 'Shelf' }]);
	const load = () =>
		house.trying(async () => {
			[recordings, removed] = await Promise.all([
				ask(api.GET('/api/recordings')),
				ask(api.GET('/api/recordings', { params: { query: { removed: true } } }))
			]);
		});

	$effect(() => {
		void house.recordingsChanged;
		untrack(() => void load());
	});

	/** By series, the one with the newest recording first; what belongs to none comes last. */
	const groups = $derived.by(() => {
		const found = new Map<string, ShelfRecording[]>();
		for (const one of recordings ?? []) {
			const name = one.series ?? '';
			found.set(name, [...(found.get(name) ?? []), one]);
		}
		return [...found.entries()].sort(([a], [b]) => Number(a === '') - Number(b === ''));
	});
	const series = $derived(groups.map(([name]) => name).filter(Boolean));
	const fetches = $derived(house.works.filter((one) => one.kind === 'fetch' && one.state !== 'done'));
	const details = $derived(recordings?.find((one) => one.id === open));

	async function restore(recording: ShelfRecording): Promise<void> {
		await house.trying(() => ask(api.POST('/api/recordings/{recording_id}/restore', { params: { path: { recording_id: recording.id } } })));
		await load();
	}
</script>

<div class="shelf">
	<section class="list" aria-label="Recordings">
		<h1>Shelf</h1>
		{#each fetches as work (work.id)}
			<div class="fetch"><strong>{work.about}</strong><Progress {work} /></div>
		{/each}
		{#each groups as [name, group] (name)}
			{#if series.length}<h2>{name || 'No series'} <span>{many(group.length, 'recording')}</span>{#if name && group.some((one) => one.quotes.length)}<a class="shortlist" href="/shortlist?series={encodeURIComponent(name)}">Shortlist</a>{/if}</h2>{/if}
			{#each group as recording (recording.id)}<RecordingRow {recording} ondetails={() => (open = recording.id)} />{/each}
		{:else}
			{#if recordings}<p class="empty">Nothing is here yet. Bring in a talk, and you can search it and take soundbites from it.</p>{/if}
		{/each}
		{#if removed.length}
			<details class="removed">
				<summary>{many(removed.length, 'recording')} removed in the last day</summary>
				<ul>
					{#each removed as one (one.id)}
						<li><span>{one.title}</span><Button onclick={() => restore(one)}>Put back</Button></li>
					{/each}
				</ul>
			</details>
		{/if}
	</section>
	<aside>
		<BringIn recordings={recordings ?? []} {series} onbrought={load} />
		<ol class="way">
			<li><b>Find</b> what was said, and keep it as a quote.</li>
			<li><b>Trim</b> it to the limit, <b>frame</b> the speaker, set the <b>captions</b>.</li>
			<li><b>Export</b> every shape at once, measured and ready to post.</li>
		</ol>
	</aside>
</div>
{#if details}<Details recording={details} {series} onclose={() => (open = null)} onchanged={load} />{/if}

<style>
	.shelf {
		display: grid;
		grid-template-columns: minmax(0, 1fr) 340px;
		gap: 40px;
		max-width: 1240px;
		height: 100%;
		margin: 0 auto;
		padding: 24px 28px;
		overflow-y: auto;
	}
	h1 {
		font: 600 28px/36px var(--reading);
		padding-bottom: 8px;
		border-bottom: 1px solid var(--rule);
	}
	h2 {
		margin-top: 18px;
		font-size: 15px;
	}
	.shortlist {
		margin-left: 14px;
		font: 400 14px/20px var(--ui);
	}
	h2 span {
		color: var(--ink-soft);
		font-weight: 400;
	}
	aside {
		display: grid;
		gap: 20px;
		align-content: start;
	}
	.empty {
		padding: 32px 0;
		color: var(--ink-soft);
	}
	.fetch {
		display: grid;
		gap: 4px;
		padding: 12px 4px;
		border-bottom: 1px solid var(--rule);
		overflow-wrap: anywhere;
	}
	.removed {
		margin-top: 24px;
		color: var(--ink-soft);
	}
	.removed summary {
		cursor: pointer;
		min-height: 24px;
	}
	.removed li {
		display: flex;
		align-items: center;
		gap: 12px;
		padding: 4px 0;
	}
	.way {
		display: grid;
		gap: 6px;
		padding-left: 20px;
		list-style: decimal;
		color: var(--ink-soft);
	}
</style>
