<script lang="ts">
	import { untrack } from 'svelte';
	import { api, ask, type Recording } from '$api/client';
	import { house } from '$api/house.svelte';
	import { trail } from '$ui/trail.svelte';
	import BringIn from './BringIn.svelte';
	import RecordingRow from './RecordingRow.svelte';

	let recordings = $state.raw<Recording[] | null>(null);

	trail.set([{ name: 'Shelf' }]);
	const load = () => house.trying(async () => (recordings = await ask(api.GET('/api/recordings'))));

	$effect(() => {
		void house.recordingsChanged;
		untrack(() => void load());
	});
</script>

<div class="shelf">
	<section class="list" aria-label="Recordings">
		<h1>Shelf</h1>
		{#if recordings?.length}
			{#each recordings as recording (recording.id)}<RecordingRow {recording} />{/each}
		{:else if recordings}
			<p class="empty">Nothing is here yet. Bring in a talk, and you can search it and take soundbites from it.</p>
		{/if}
	</section>
	<aside>
		<BringIn onbrought={load} />
		<ol class="way">
			<li><b>Find</b> what was said, and keep it as a quote.</li>
			<li><b>Trim</b> it to the limit, <b>frame</b> the speaker, set the <b>captions</b>.</li>
			<li><b>Export</b> every shape at once, measured and ready to post.</li>
		</ol>
	</aside>
</div>

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
	aside {
		display: grid;
		gap: 20px;
		align-content: start;
	}
	.empty {
		padding: 32px 0;
		color: var(--ink-soft);
	}
	.way {
		display: grid;
		gap: 6px;
		padding-left: 20px;
		list-style: decimal;
		color: var(--ink-soft);
	}
</style>
