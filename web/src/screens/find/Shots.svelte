<script lang="ts">
	import Scissors from '@lucide/svelte/icons/scissors';
	import { isLive, shotStillUrl } from '$api/client';
	import Button from '$ui/Button.svelte';
	import Progress from '$ui/Progress.svelte';
	import { clock, fineClock, many, seconds } from '$ui/say';
	import type { Finding } from './find.svelte';

	/** The shots of the picture and the faces in them; cuts that were missed or invented are set right by hand. */
	/** Those seen most come first; more are hardly people. */
	const MOST_FACES = 8;
	let { finding, ongo }: { finding: Finding; ongo: (ms: number) => void } = $props();
	const picture = $derived(finding.picture);
	const preparing = $derived(finding.recording?.work.find((one) => one.kind === 'prepare' && (isLive(one) || one.state === 'stopped' || one.state === 'failed')));
	/** The faces of a shot, and which way each looks where it plainly looks to one side. */
	function facesIn(fromMs: number, toMs: number): { subject: number; looks: string }[] {
		const there = picture?.tracks.filter((one) => one.start_ms < toMs && one.end_ms >= fromMs) ?? [];
		const subjects = [...new Set(there.map((one) => one.subject))].sort((a, b) => a - b);
		return subjects.map((subject) => {
			const turn = there.find((one) => one.subject === subject)?.turn ?? 0;
			return { subject, looks: Math.abs(turn) < 0.3 ? '' : turn > 0 ? ' looks right' : ' looks left' };
		});
	}
	const subjects = $derived([...new Set(picture?.tracks.map((one) => one.subject))].sort((a, b) => a - b).slice(0, MOST_FACES));
	const nameOf = (subject: number) => picture?.names.find((one) => one.subject === subject);
	const NAMES = { slide: 'Slide changes', flash: 'Flash' } as Record<string, string>;
	const others = $derived(picture?.changes.filter((one) => one.kind !== 'cut') ?? []);
	const here = $derived(picture?.shots.find((one) => finding.player.sourceMs >= one.span.start_ms && finding.player.sourceMs < one.span.end_ms));
</script>

<div class="shots">
	{#if preparing}<Progress work={preparing} />{/if}
	{#if !finding.recording?.width}
		<p>This recording has sound only.</p>
	{:else if picture}
		<p>
			<b>{many(picture.shots.length, 'shot')}</b>, {many(new Set(picture.tracks.map((one) => one.subject)).size, 'face')} seen. They stand beside the words:
			shots in the outer lane, faces in the inner ones. Point at a lane to see what it is.
		</p>
		{#if subjects.length}
			<ul class="who" aria-label="Faces">
				{#each subjects as subject (subject)}
					<li>
						<label>
							<i style:background="var(--speaker-{(subject + 1) % 8})"></i><span class="soft">Face {subject + 1}</span>
							<input
								list="speakers" maxlength="120" placeholder="Name" aria-label="Name of face {subject + 1}" value={nameOf(subject)?.name ?? ''}
								onchange={(event) => void finding.nameFace(subject, event.currentTarget.value.trim() || null)}
							/>
							<span class="soft">{nameOf(subject) ? (nameOf(subject)!.by_hand ? 'named by hand' : 'by the transcript') : ''}</span>
						</label>
					</li>
				{/each}
			</ul>
			<datalist id="speakers">{#each finding.recording?.speakers ?? [] as name (name)}<option value={name}></option>{/each}</datalist>
		{/if}
		<Button onclick={() => finding.turnCut()} title="Set a shot change at the playhead, or remove the one that is there (S)">
			{#snippet icon()}<Scissors size={16} />{/snippet}{finding.cutHere === null ? `Shot changes here, at ${fineClock(finding.player.sourceMs)}` : 'Remove the shot change here'}
		</Button>
		<ol>
			{#each picture.shots as shot, i (shot.span.start_ms)}
				<li data-here={shot === here}>
					<button type="button" onclick={() => ongo(shot.span.start_ms)}>
						<img src={shotStillUrl(finding.id, shot.span.start_ms)} alt="" width="40" height="40" loading="lazy" onerror={(event) => ((event.currentTarget as HTMLImageElement).hidden = true)} />
						<span class="n">{i + 1}</span>
						<span>{clock(shot.span.start_ms)}</span>
						<span class="soft">{seconds(shot.span.end_ms - shot.span.start_ms)}</span>
						<span class="faces">{#each facesIn(shot.span.start_ms, shot.span.end_ms) as { subject, looks } (subject)}<span><i style:background="var(--speaker-{(subject + 1) % 8})"></i>{finding.faceName(subject)}{looks}</span>{/each}</span>
						{#if shot.by_hand}<span class="hand">set by hand</span>{/if}
					</button>
				</li>
			{/each}
		</ol>
		{#if others.length}
			<h3>Sudden changes that are not cuts</h3>
			<ol>
				{#each others as change (change.at_ms)}
					<li><button type="button" onclick={() => ongo(change.at_ms)}><span class="n"></span><span>{clock(change.at_ms)}</span><span class="soft">{NAMES[change.kind]}</span></button></li>
				{/each}
			</ol>
		{/if}
	{/if}
</div>

<style>
	.shots {
		display: grid;
		gap: 8px;
		align-content: start;
		justify-items: start;
		min-height: 0;
		padding: 12px 14px 24px;
		overflow-y: auto;
	}
	ol {
		width: 100%;
	}
	li {
		border-bottom: 1px solid var(--rule);
	}
	[data-here='true'] {
		background: var(--note-wash);
	}
	li button {
		display: flex;
		gap: 12px;
		width: 100%;
		min-height: 32px;
		padding: 6px;
		border: 0;
		background: none;
		text-align: left;
		cursor: pointer;
	}
	li button:hover {
		background: var(--paper-sunk);
	}
	.who {
		width: 100%;
	}
	.who label {
		display: flex;
		align-items: center;
		gap: 8px;
		padding: 4px 6px;
	}
	.who input {
		flex: 1;
		min-width: 0;
		min-height: 32px;
		padding: 0 8px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
	}
	li button {
		align-items: center;
	}
	img {
		border-radius: 4px;
		background: var(--paper-sunk);
	}
	.n {
		width: 24px;
		color: var(--ink-soft);
		text-align: right;
	}
	.soft,
	.hand {
		color: var(--ink-soft);
	}
	.hand {
		margin-left: auto;
		color: var(--note);
	}
	.faces {
		display: flex;
		flex-wrap: wrap;
		gap: 0 12px;
	}
	i {
		display: inline-block;
		margin-right: 5px;
		width: 9px;
		height: 9px;
		border-radius: 2px;
	}
	h3 {
		margin-top: 8px;
		font-size: 15px;
	}
</style>
