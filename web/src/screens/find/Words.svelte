<script lang="ts">
	import ChevronDown from '@lucide/svelte/icons/chevron-down';
	import ChevronUp from '@lucide/svelte/icons/chevron-up';
	import Pencil from '@lucide/svelte/icons/pencil';
	import Redo from '@lucide/svelte/icons/redo-2';
	import Undo from '@lucide/svelte/icons/undo-2';
	import { api, ask, isLive, transcriptUrl } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Progress from '$ui/Progress.svelte';
	import { many } from '$ui/say';
	import type { Finding } from './find.svelte';
	import Names from './Names.svelte';
	import ReplaceAll from './ReplaceAll.svelte';
	import Speakers from './Speakers.svelte';

	type Props = { finding: Finding; onedit: () => void; onreveal: (word: number, last?: number) => void; ondoubt: (step: number) => void };
	let { finding, onedit, onreveal, ondoubt }: Props = $props();

	const wording = $derived(finding.wording);
	const recording = $derived(finding.recording);
	const works = $derived((recording?.work ?? []).filter((one) => one.kind !== 'prepare' && (isLive(one) || one.state === 'failed' || one.state === 'stopped')));
	const KINDS = [['vtt', 'WebVTT'], ['srt', 'SRT'], ['ttml', 'TTML'], ['json', 'JSON'], ['txt', 'Text']] as const;
	const ORIGINS = { file: 'from a file', recogniser: 'recognised on this machine, roughly', service: 'from the transcription service' };
	const corrected = $derived(wording.talk?.heard.filter((one) => one !== null).length ?? 0);

	async function align(): Promise<void> {
		await house.trying(() => ask(api.POST('/api/recordings/{recording_id}/align', { params: { path: { recording_id: finding.id } } })));
		await house.refreshWork();
	}
</script>

<div class="words">
	<section aria-label="The transcript">
		<p>
			<b>{many(recording?.words ?? 0, 'word')}</b>{recording?.transcript_origin ? `, ${ORIGINS[recording.transcript_origin]}` : ''}{corrected ? `, ${corrected} corrected` : ''}.
			{#if wording.rough}{many(wording.rough, 'word has', 'words have')} only estimated times.{/if}
		</p>
		{#each works as work (work.id)}<Progress {work} />{/each}
		<div class="row">
			<Button kind="main" disabled={!finding.selection.range} title="Write over the selected words (C, or double-click a word)" onclick={onedit}>
				{#snippet icon()}<Pencil size={16} />{/snippet}Correct the words
			</Button>
			<Button disabled={!wording.undoSaid} aria-label="Undo" title={wording.undoSaid ? `Undo: ${wording.undoSaid}` : 'Nothing to undo'} onclick={() => wording.undo()}>{#snippet icon()}<Undo size={16} />{/snippet}</Button>
			<Button disabled={!wording.redoSaid} aria-label="Redo" title={wording.redoSaid ? `Redo: ${wording.redoSaid}` : 'Nothing to redo'} onclick={() => wording.redo()}>{#snippet icon()}<Redo size={16} />{/snippet}</Button>
			{#if wording.rough && !works.some((one) => one.kind === 'align')}<Button onclick={align}>Align to the sound</Button>{/if}
		</div>
	</section>
	{#if wording.doubts.length}
		<section class="doubts" aria-label="Doubtful words">
			<p><b>{many(wording.doubts.length, 'doubtful word')}</b> that the recogniser was not sure of.</p>
			<Button aria-label="Doubtful word before" title="Before (Shift+D)" onclick={() => ondoubt(-1)}>{#snippet icon()}<ChevronUp size={16} />{/snippet}</Button>
			<Button aria-label="Next doubtful word" title="Next (D)" onclick={() => ondoubt(1)}>{#snippet icon()}<ChevronDown size={16} />{/snippet}</Button>
		</section>
	{/if}
	<Speakers {wording} selection={finding.selection} />
	<Names {wording} {onreveal} />
	<ReplaceAll {wording} {onreveal} />
	<section aria-label="Take the transcript away">
		<h3>Download as</h3>
		<div class="row">{#each KINDS as [kind, name] (kind)}<a href={transcriptUrl(finding.id, kind)} download>{name}</a>{/each}</div>
	</section>
</div>

<style>
	.words {
		min-height: 0;
		padding: 10px 14px 24px;
		overflow-y: auto;
	}
	.words :global(section) {
		display: grid;
		gap: 8px;
		padding: 10px 0;
		border-bottom: 1px solid var(--rule);
	}
	.words :global(h3) {
		font-size: 15px;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 8px;
		align-items: center;
	}
	.words .doubts {
		display: flex;
		align-items: center;
		gap: 8px;
	}
	.doubts p {
		flex: 1;
	}
	a {
		padding: 4px 8px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		text-decoration: none;
	}
	a:hover {
		background: var(--paper-sunk);
	}
</style>
