<script lang="ts">
	import AudioLines from '@lucide/svelte/icons/audio-lines';
	import Film from '@lucide/svelte/icons/film';
	import Pencil from '@lucide/svelte/icons/pencil';
	import { isLive, recordingStillUrl, type ShelfRecording } from '$api/client';
	import Button from '$ui/Button.svelte';
	import Progress from '$ui/Progress.svelte';
	import { clock, day, many, megabytes, minus } from '$ui/say';

	let { recording, ondetails }: { recording: ShelfRecording; ondetails: () => void } = $props();

	const still = $state({ failed: false });
	const rate = $derived(Number.isInteger(recording.rate) ? recording.rate : recording.rate.toFixed(2));
	const facts = $derived([
		clock(recording.duration_ms),
		recording.width ? `${recording.width}×${recording.height}, ${rate} frames/s` : 'sound only',
		recording.audio_codec ? (recording.loudness_lufs === null ? '' : `${minus(recording.loudness_lufs)} LUFS`) : 'no sound',
		recording.words ? many(recording.words, 'word') : 'no transcript yet',
		megabytes(recording.size_bytes)
	].filter(Boolean));
	const when = $derived(recording.held_on ? day(recording.held_on) : `brought in ${day(recording.created_at)}`);
	const works = $derived(recording.work.filter((one) => isLive(one) || one.state === 'stopped' || one.state === 'failed'));
</script>

<article>
	<span class="kind" aria-hidden="true">
		{#if recording.width && !still.failed}
			<img src={recordingStillUrl(recording.id)} alt="" width="72" height="72" loading="lazy" onerror={() => (still.failed = true)} />
		{:else if recording.width}<Film size={26} />{:else}<AudioLines size={26} />{/if}
	</span>
	<div class="what">
		<h3><a href="/talk/{recording.id}">{recording.title}</a></h3>
		<p class="who">{recording.speakers.join(', ') || 'No speaker named'} · {when}</p>
		<p class="facts">{#each facts as fact, i (i)}<span>{fact}</span>{/each}</p>
		{#if recording.transcript_notes.length}
			<details>
				<summary>{many(recording.transcript_notes.length, 'thing')} mended or left out in the transcript</summary>
				<ul>{#each recording.transcript_notes as note, i (i)}<li>{note}</li>{/each}</ul>
			</details>
		{/if}
		{#each works as work (work.id)}<Progress {work} />{/each}
	</div>
	<div class="used">
		<div class="top">
			<strong>{many(recording.quotes.length, 'quote')}</strong>
			<Button kind="quiet" aria-label="Details of “{recording.title}”" title="Title, series, transcript, removing" onclick={ondetails}>
				{#snippet icon()}<Pencil size={15} />{/snippet}
			</Button>
		</div>
		<div class="strip" role="img" aria-label="Where quotes were taken: {recording.quotes.map((one) => clock(one.span.start_ms)).join(', ') || 'none yet'}">
			{#each recording.quotes as quote (quote.id)}
				<span
					style:left="{(quote.span.start_ms / recording.duration_ms) * 100}%"
					style:width="{Math.max(1, ((quote.span.end_ms - quote.span.start_ms) / recording.duration_ms) * 100)}%"
				></span>
			{/each}
		</div>
	</div>
</article>

<style>
	article {
		display: grid;
		grid-template-columns: 72px 1fr 190px;
		gap: 12px;
		padding: 16px 4px;
		border-bottom: 1px solid var(--rule);
	}
	.kind {
		display: grid;
		place-items: center;
		width: 72px;
		height: 72px;
		overflow: hidden;
		border-radius: var(--radius);
		background: var(--paper-sunk);
		color: var(--ink-soft);
	}
	.kind img {
		display: block;
	}
	h3 {
		font: 600 20px/28px var(--reading);
		overflow-wrap: anywhere;
	}
	h3 a {
		text-decoration-color: var(--rule);
		text-underline-offset: 4px;
	}
	h3 a:hover {
		text-decoration-color: var(--ink);
	}
	.who {
		color: var(--ink-soft);
	}
	.facts {
		display: flex;
		flex-wrap: wrap;
		gap: 4px 18px;
		margin-top: 4px;
		font-size: 14px;
	}
	.top {
		display: flex;
		align-items: center;
		justify-content: space-between;
	}
	.used {
		display: grid;
		gap: 6px;
		align-content: start;
		padding-top: 6px;
		font-size: 14px;
	}
	.strip {
		position: relative;
		height: 12px;
		border-radius: 3px;
		background: var(--paper-sunk);
		box-shadow: inset 0 0 0 1px var(--rule);
		overflow: hidden;
	}
	.strip span {
		position: absolute;
		inset-block: 0;
		background: var(--kept);
	}
	summary {
		color: var(--warn);
		font-size: 14px;
		cursor: pointer;
	}
	details li {
		color: var(--ink-soft);
		font-size: 13px;
	}
</style>
