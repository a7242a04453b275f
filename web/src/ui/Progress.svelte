<script lang="ts">
	import Pause from '@lucide/svelte/icons/pause';
	import Play from '@lucide/svelte/icons/play';
	import { api, ask, isLive, type Work } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from './Button.svelte';
	import { timeLeft } from './say';

	/** Long work on a recording: how far it is, stopping it, going on with it. */
	let { work }: { work: Work } = $props();

	const NAMES = { prepare: 'Preparing', align: 'Aligning the words', transcribe: 'Writing the transcript', fetch: 'Fetching', export: 'Exporting', follow: 'Following', post: 'Posting' };
	const params = $derived({ path: { work_id: work.id } });
	async function turn(action: 'stop' | 'resume'): Promise<void> {
		await house.trying(() =>
			ask(action === 'stop' ? api.POST('/api/work/{work_id}/stop', { params }) : api.POST('/api/work/{work_id}/resume', { params }))
		);
		await house.refreshWork();
	}
</script>

<div class="work" role="status" data-state={work.state}>
	{#if isLive(work)}
		<progress max="1" value={work.progress} aria-label={NAMES[work.kind]}></progress>
		<span>{work.stage}{work.state === 'running' ? `, ${timeLeft(work.time_left_s)}` : ''}</span>
		<Button kind="quiet" aria-label="Stop: {NAMES[work.kind]}" title="Stop; you can resume it later" onclick={() => turn('stop')}>
			{#snippet icon()}<Pause size={15} />{/snippet}
		</Button>
	{:else if work.state === 'stopped'}
		<span>{NAMES[work.kind]} was stopped at {Math.round(work.progress * 100)} %.</span>
		<Button onclick={() => turn('resume')}>{#snippet icon()}<Play size={15} />{/snippet}Resume</Button>
	{:else if work.state === 'failed'}
		<span>{work.problem}</span>
		<Button onclick={() => turn('resume')}>Try again</Button>
	{/if}
</div>

<style>
	.work {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 4px 8px;
		color: var(--note);
		font-size: 14px;
	}
	span {
		min-width: 0;
		overflow-wrap: anywhere;
	}
	[data-state='failed'] {
		color: var(--bad);
	}
	progress {
		width: 120px;
		accent-color: var(--note);
	}
	.work :global(button) {
		min-height: 26px;
		padding-block: 2px;
	}
</style>
