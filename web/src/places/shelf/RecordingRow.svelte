<script lang="ts">
	import AudioLines from '@lucide/svelte/icons/audio-lines';
	import Film from '@lucide/svelte/icons/film';
	import type { Recording } from '$api/client';
	import { clock, many, megabytes, timeLeft } from '$ui/say';

	let { recording }: { recording: Recording } = $props();

	const rate = $derived(Number.isInteger(recording.rate) ? recording.rate : recording.rate.toFixed(2));
	const facts = $derived([
		clock(recording.duration_ms),
		recording.width ? `${recording.width}×${recording.height}, ${rate} frames/s` : 'sound only',
		many(recording.words, 'word'),
		megabytes(recording.size_bytes)
	]);
	const added = $derived(new Date(recording.created_at).toLocaleDateString('en', { day: 'numeric', month: 'long', year: 'numeric' }));
</script>

<article>
	<span class="kind" aria-hidden="true">{#if recording.width}<Film size={22} />{:else}<AudioLines size={22} />{/if}</span>
	<div class="what">
		<h2><a href="/talk/{recording.id}">{recording.title}</a></h2>
		<p class="who">{recording.speakers.join(', ') || 'No speaker named'} · brought in {added}</p>
		<p class="facts">{#each facts as fact, i (i)}<span>{fact}</span>{/each}</p>
		{#if recording.transcript_notes.length}
			<details>
				<summary>{many(recording.transcript_notes.length, 'thing')} mended in the transcript</summary>
				<ul>{#each recording.transcript_notes as note, i (i)}<li>{note}</li>{/each}</ul>
			</details>
		{/if}
		{#if recording.state === 'preparing'}
			<p class="state" role="status">
				<progress max="1" value={recording.progress} aria-label="Preparing"></progress>
				{recording.stage}, {timeLeft(recording.time_left_s)}. It can be read and searched already.
			</p>
		{:else if recording.state === 'failed'}
			<p class="state failed">{recording.problem}</p>
		{/if}
	</div>
	<div class="used">
		<strong>{many(recording.quotes.length, 'quote')}</strong>
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
		grid-template-columns: 40px 1fr 190px;
		gap: 12px;
		padding: 16px 4px;
		border-bottom: 1px solid var(--rule);
	}
	.kind {
		color: var(--ink-soft);
		padding-top: 4px;
		justify-self: center;
	}
	h2 {
		font: 600 20px/28px var(--reading);
		overflow-wrap: anywhere;
	}
	h2 a {
		text-decoration-color: var(--rule);
		text-underline-offset: 4px;
	}
	h2 a:hover {
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
	.state {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 8px;
		margin-top: 6px;
		color: var(--note);
		font-size: 14px;
	}
	.failed {
		color: var(--bad);
	}
	progress {
		width: 120px;
		accent-color: var(--note);
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
