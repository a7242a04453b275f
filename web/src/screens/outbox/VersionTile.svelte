<script lang="ts">
	/** A file: a still of it in its shape, how it stands, and, folded away, what was measured. */
	import ChevronsUp from '@lucide/svelte/icons/chevrons-up';
	import Download from '@lucide/svelte/icons/download';
	import Play from '@lucide/svelte/icons/play';
	import RotateCcw from '@lucide/svelte/icons/rotate-ccw';
	import X from '@lucide/svelte/icons/x';
	import { captionsUrl, clipUrl, coverUrl, exportStillUrl, type Export } from '$api/client';
	import { fractionOf } from '$player/stretches';
	import Button from '$ui/Button.svelte';
	import Fold from '$ui/Fold.svelte';
	import ShapeMark from '$ui/ShapeMark.svelte';
	import { megabytes, minus, seconds, timeLeft } from '$ui/say';
	import { isFaulty } from './cards';
	import type { Outbox } from './outbox.svelte';

	let { outbox, one }: { outbox: Outbox; one: Export } = $props();
	const shape = $derived(one.destination);
	const still = $derived(one.making.kind === 'still');
	const sound = $derived(one.making.kind === 'm4a' || one.making.kind === 'mp3');
	const STILL_PX = 92;
	const scale = $derived(STILL_PX / Math.max(shape.width, shape.height));
	let noStill = $state(false);
	const CODECS = { h264: 'H.264', h265: 'H.265', av1: 'AV1' } as const;
	const PROFILES = { h264: 'H.264 High', h265: 'HEVC Main', av1: 'AV1 Main' } as const;
	const how = $derived(
		sound ? one.making.kind.toUpperCase()
			: [one.making.codec !== 'h264' ? CODECS[one.making.codec] : '', one.making.size_mb ? `${one.making.size_mb} MB` : one.making.quality !== 'usual' ? one.making.quality : ''].filter(Boolean).join(', ')
	);

	/** Each measured fact beside what was wanted. */
	const facts = $derived.by(() => {
		const file = one.facts;
		if (!file) return [];
		const wrong = new Set(one.findings.map((finding) => finding.check));
		const coded = file.video_codec.toUpperCase().replace('H264', 'H.264');
		const heard = `${file.audio_codec.toUpperCase()} ${file.sample_rate / 1000} kHz`;
		const seen = [
			{ name: 'Picture', is: `${file.width}×${file.height}`, want: `wanted: ${shape.width}×${shape.height}`, bad: wrong.has('size') },
			{ name: 'Frame rate', is: `${fractionOf(file.rate).toFixed(2).replace('.00', '')} frames/s`, want: 'as the recording has', bad: wrong.has('rate') }
		];
		const heardAndTimed = [
			{ name: 'Length', is: sound ? seconds(file.audio_ms) : `${seconds(file.video_ms)}, ${file.frames} frames`, want: `up to ${seconds(shape.limit_ms)}`, bad: wrong.has('over') || wrong.has('length') },
			{ name: 'Codec', is: sound ? heard : `${coded} ${file.profile}, ${heard}`, want: sound ? '' : `wanted: ${PROFILES[one.making.codec]}, AAC 48 kHz`, bad: wrong.has('codec') || wrong.has('sound') },
			{ name: 'Loudness', is: file.loudness_lufs === null ? 'silent' : `${minus(file.loudness_lufs)} LUFS, peak ${minus(file.true_peak_dbtp ?? 0)} dBTP`, want: 'wanted: −14 LUFS, peak under −1', bad: wrong.has('loudness') || wrong.has('silent') || wrong.has('peak') }
		];
		return [
			...(sound ? [] : still ? seen.slice(0, 1) : seen),
			...(still ? [] : heardAndTimed),
			{ name: 'File size', is: megabytes(file.size_bytes), want: one.making.size_mb ? `wanted: ${one.making.size_mb} MB` : `up to ${shape.largest_mb} MB`, bad: wrong.has('weight') || wrong.has('wanted-size') }
		];
	});
</script>

<li aria-label="{shape.name} of {one.quote_title}">
	<span class="still">
		{#if one.state === 'done' && !noStill}
			<img src={exportStillUrl(one.id)} alt="" style:width="{shape.width * scale}px" style:height="{shape.height * scale}px" loading="lazy" onerror={() => (noStill = true)} />
		{:else}<ShapeMark width={shape.width} height={shape.height} size={64} />{/if}
	</span>
	<div class="what">
		<h3>{shape.name}{#if how}{' '}<span class="soft">· {how}</span>{/if}</h3>
		{#if one.state === 'done'}
			<p class="soft">{still ? '' : `${seconds(sound ? one.facts!.audio_ms : one.facts!.video_ms)}, `}{megabytes(one.facts!.size_bytes)}{isFaulty(one) ? '' : ' · fine'}</p>
			<div class="files">
				<a class="main" href={clipUrl(one.id, true)} download={one.file_name} title={one.file_name}><Download size={16} aria-hidden="true" /> Download</a>
				<a href={clipUrl(one.id)} target="_blank" rel="noreferrer" aria-label="Play {shape.name}" title="Play"><Play size={16} aria-hidden="true" /></a>
			</div>
		{:else if one.state === 'running'}
			<p class="going" role="status">
				<progress max="1" value={one.progress} aria-label="Progress of {one.quote_title}, {shape.name}"></progress>
				{Math.round(one.progress * 100)} %, {timeLeft(one.time_left_s)}
			</p>
			<Button onclick={() => outbox.cancel(one)}>{#snippet icon()}<X size={16} />{/snippet}Cancel</Button>
		{:else if one.state === 'queued'}
			<p class="going">{one.waits ? `${one.waits} before it` : 'Next'}{one.time_left_s ? `, ${timeLeft(one.time_left_s)}` : ''}</p>
			<div class="files">
				{#if one.waits}<Button title="Make this one next" onclick={() => outbox.move(one, Infinity)}>{#snippet icon()}<ChevronsUp size={16} />{/snippet}Make next</Button>{/if}
				<Button onclick={() => outbox.cancel(one)}>{#snippet icon()}<X size={16} />{/snippet}Cancel</Button>
			</div>
		{:else}
			{#if one.state === 'failed'}<p class="finding" data-severity="stop">{one.problem}</p>{:else}<p class="soft">Cancelled</p>{/if}
			<div class="files">
				<Button onclick={() => outbox.again(one)}>{#snippet icon()}<RotateCcw size={16} />{/snippet}{one.state === 'failed' ? 'Try again' : 'Export again'}</Button>
				<Button kind="quiet" onclick={() => outbox.remove(one)}>Remove</Button>
			</div>
		{/if}
		{#each one.findings as finding, i (i)}
			<p class="finding" data-severity={finding.severity}>{finding.says} {finding.do}</p>
		{/each}
		{#each one.overruled as stop (stop.check + stop.says)}
			<p class="soft">Overruled: {stop.says} <i>{stop.reason}</i></p>
		{/each}
		{#if one.state === 'done'}
			<Fold says="Facts and files">
				<dl>
					{#each facts as fact (fact.name)}
						<div data-bad={fact.bad}><dt>{fact.name}</dt><dd>{fact.is}</dd><dd class="soft">{fact.want}</dd></div>
					{/each}
				</dl>
				<div class="files">
					{#if !sound && !still}
						<a href={captionsUrl(one.id, 'srt')} download>SRT</a>
						<a href={captionsUrl(one.id, 'vtt')} download>WebVTT</a>
					{/if}
					{#if one.has_cover}
						<a href={coverUrl(one.id, 'jpg')} download>Cover JPEG</a>
						<a href={coverUrl(one.id, 'png')} download>Cover PNG</a>
					{/if}
					<Button kind="quiet" onclick={() => outbox.remove(one)}>Remove</Button>
				</div>
				{#each one.credits as credit (credit.name)}
					<p class="soft">{credit.name}: {credit.licence || 'no licence note'}</p>
				{/each}
				<p class="soft name">{one.file_name}</p>
			</Fold>
		{/if}
	</div>
</li>

<style>
	li {
		display: grid;
		grid-template-columns: 92px minmax(0, 1fr);
		gap: 10px;
		align-items: start;
	}
	.still {
		display: grid;
		place-items: start center;
	}
	img {
		display: block;
		border-radius: 3px;
		background: var(--stage);
	}
	.what {
		display: grid;
		gap: 4px;
		justify-items: start;
		min-width: 0;
	}
	h3 {
		font-size: 15px;
	}
	.soft {
		color: var(--ink-soft);
		font-size: 14px;
		font-weight: 400;
	}
	.name {
		overflow-wrap: anywhere;
	}
	.going {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 6px;
		color: var(--note);
		font-size: 14px;
	}
	progress {
		width: 100%;
		accent-color: var(--note);
	}
	dl {
		display: grid;
		gap: 4px;
		font-size: 14px;
	}
	dt {
		color: var(--ink-soft);
		font-size: 13px;
	}
	[data-bad='true'] dd {
		color: var(--bad);
		font-weight: 700;
	}
	.finding {
		color: var(--warn);
		font-size: 14px;
	}
	.finding[data-severity='stop'] {
		color: var(--bad);
	}
	.files {
		display: flex;
		flex-wrap: wrap;
		gap: 4px;
	}
	.files a {
		display: inline-flex;
		align-items: center;
		gap: 6px;
		min-height: 32px;
		padding: 0 9px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
		text-decoration: none;
	}
	.files a:hover {
		background: var(--paper-sunk);
	}
	.files .main {
		border-color: var(--kept);
		background: var(--kept);
		color: var(--paper-raised);
		font-weight: 700;
	}
</style>
