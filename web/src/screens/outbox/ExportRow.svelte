<script lang="ts">
	import CircleCheck from '@lucide/svelte/icons/circle-check';
	import CircleX from '@lucide/svelte/icons/circle-x';
	import Download from '@lucide/svelte/icons/download';
	import OctagonAlert from '@lucide/svelte/icons/octagon-alert';
	import Play from '@lucide/svelte/icons/play';
	import RotateCcw from '@lucide/svelte/icons/rotate-ccw';
	import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
	import X from '@lucide/svelte/icons/x';
	import { api, ask, captionsUrl, clipUrl, coverUrl, type Export } from '$api/client';
	import { house } from '$api/house.svelte';
	import { fractionOf } from '$player/stretches';
	import Button from '$ui/Button.svelte';
	import ShapeMark from '$ui/ShapeMark.svelte';
	import { megabytes, minus, seconds, timeLeft } from '$ui/say';

	let { one }: { one: Export } = $props();

	const params = $derived({ path: { work_id: one.work_id } });
	const shape = $derived(one.destination);
	const cancel = () => house.trying(async () => { await ask(api.POST('/api/work/{work_id}/stop', { params })); await house.refreshExports(); });
	const again = () => house.trying(async () => { await ask(api.POST('/api/work/{work_id}/resume', { params })); await house.refreshExports(); });

	/** Each measured fact beside what was wanted. */
	const facts = $derived.by(() => {
		const file = one.facts;
		if (!file) return [];
		const wrong = new Set(one.findings.map((finding) => finding.check));
		return [
			{ name: 'Picture', is: `${file.width}×${file.height}`, want: `wanted: ${shape.width}×${shape.height}`, bad: wrong.has('size') },
			{ name: 'Length', is: `${seconds(file.video_ms)}, ${file.frames} frames`, want: `up to ${seconds(shape.limit_ms)}`, bad: wrong.has('over') || wrong.has('length') },
			{ name: 'Frame rate', is: `${fractionOf(file.rate).toFixed(2).replace('.00', '')} frames/s`, want: 'as the recording has', bad: wrong.has('rate') },
			{ name: 'Codec', is: `${file.video_codec.toUpperCase().replace('H264', 'H.264')} ${file.profile}, ${file.audio_codec.toUpperCase()} ${file.sample_rate / 1000} kHz`, want: 'wanted: H.264 High, AAC 48 kHz', bad: wrong.has('codec') || wrong.has('sound') },
			{ name: 'Loudness', is: file.loudness_lufs === null ? 'silent' : `${minus(file.loudness_lufs)} LUFS, peak ${minus(file.true_peak_dbtp ?? 0)} dBTP`, want: 'wanted: −14 LUFS, peak under −1', bad: wrong.has('loudness') || wrong.has('silent') || wrong.has('peak') },
			{ name: 'File size', is: megabytes(file.size_bytes), want: `up to ${shape.largest_mb} MB`, bad: wrong.has('weight') }
		];
	});
	const stops = $derived(one.findings.some((finding) => finding.severity === 'stop'));
</script>

<li>
	<span class="shape"><ShapeMark width={shape.width} height={shape.height} size={44} /></span>
	<div class="what">
		<h2><a href="/quote/{one.quote_id}/check">{one.quote_title}</a></h2>
		<p><b>{shape.name}</b> · {one.recording_title}</p>
		{#if one.state === 'done'}
			<dl>
				{#each facts as fact (fact.name)}
					<div data-bad={fact.bad}><dt>{fact.name}</dt><dd>{fact.is}</dd><dd class="want">{fact.want}</dd></div>
				{/each}
			</dl>
			{#each one.findings as finding, i (i)}
				<p class="finding" data-severity={finding.severity}>
					{#if finding.severity === 'stop'}<OctagonAlert size={16} aria-hidden="true" />{:else}<TriangleAlert size={16} aria-hidden="true" />{/if}
					{finding.says} {finding.do}
				</p>
			{/each}
			{#each one.credits as credit (credit.name)}
				<p class="credit">{credit.name}: {credit.licence || 'no licence note'}</p>
			{/each}
		{/if}
		{#each one.overruled as stop (stop.check + stop.says)}
			<p class="credit">Overruled: {stop.says} <i>{stop.reason}</i></p>
		{/each}
		{#if one.state === 'failed'}
			<p class="finding" data-severity="stop">{one.problem}</p>
		{:else if one.state === 'running'}
			<p class="going" role="status">
				<progress max="1" value={one.progress} aria-label="Progress of {one.quote_title}, {shape.name}"></progress>
				{Math.round(one.progress * 100)} %, {timeLeft(one.time_left_s)}
			</p>
		{:else if one.state === 'queued'}
			<p class="going">Waiting for its turn · {seconds(one.planned_ms)} long</p>
		{/if}
	</div>
	<div class="side">
		{#if one.state === 'done'}
			<p class="state" data-good={!stops}>{#if stops}<OctagonAlert size={18} aria-hidden="true" /> Exported, with a fault{:else}<CircleCheck size={18} aria-hidden="true" /> All checks passed{/if}</p>
			<div class="files">
				<a class="main" href={clipUrl(one.id, true)} download={one.file_name} title={one.file_name}><Download size={16} aria-hidden="true" /> Download</a>
				<a href={clipUrl(one.id)} target="_blank" rel="noreferrer"><Play size={16} aria-hidden="true" /> Play</a>
				<a href={captionsUrl(one.id, 'srt')} download>SRT</a>
				<a href={captionsUrl(one.id, 'vtt')} download>WebVTT</a>
				{#if one.has_cover}
					<a href={coverUrl(one.id, 'jpg')} download>Cover JPEG</a>
					<a href={coverUrl(one.id, 'png')} download>Cover PNG</a>
				{/if}
			</div>
			<p class="name">{one.file_name}</p>
		{:else if one.state === 'queued' || one.state === 'running'}
			<Button onclick={cancel}>{#snippet icon()}<X size={16} />{/snippet}Cancel</Button>
		{:else}
			<p class="state"><CircleX size={18} aria-hidden="true" /> {one.state === 'failed' ? 'Failed' : 'Cancelled'}</p>
			<Button onclick={again}>{#snippet icon()}<RotateCcw size={16} />{/snippet}{one.state === 'failed' ? 'Try again' : 'Export again'}</Button>
		{/if}
	</div>
</li>

<style>
	.credit {
		color: var(--ink-soft);
		font-size: 14px;
	}
	li {
		display: grid;
		grid-template-columns: 44px minmax(0, 1fr) 344px;
		gap: 16px;
		padding: 16px 0;
		border-bottom: 1px solid var(--rule);
	}
	.shape {
		display: grid;
		place-items: start center;
		padding-top: 4px;
	}
	h2 {
		font: 600 18px/24px var(--reading);
		overflow-wrap: anywhere;
	}
	h2 a {
		text-decoration-color: var(--rule);
		text-underline-offset: 4px;
	}
	dl {
		display: grid;
		grid-template-columns: repeat(3, minmax(0, 1fr));
		gap: 8px 18px;
		margin-top: 10px;
		font-size: 14px;
	}
	dt,
	.want {
		color: var(--ink-soft);
		font-size: 13px;
	}
	[data-bad='true'] dd {
		color: var(--bad);
		font-weight: 700;
	}
	.finding {
		display: flex;
		gap: 6px;
		margin-top: 8px;
		color: var(--warn);
	}
	.finding[data-severity='stop'] {
		color: var(--bad);
	}
	.going {
		display: flex;
		align-items: center;
		gap: 10px;
		margin-top: 8px;
		color: var(--note);
	}
	progress {
		width: 220px;
		accent-color: var(--note);
	}
	.side {
		display: grid;
		gap: 8px;
		align-content: start;
		justify-items: end;
		text-align: right;
	}
	.state {
		display: flex;
		align-items: center;
		gap: 6px;
	}
	.state[data-good='true'] {
		color: var(--good);
		font-weight: 700;
	}
	.state[data-good='false'] {
		color: var(--bad);
		font-weight: 700;
	}
	.files {
		display: flex;
		flex-wrap: wrap;
		justify-content: flex-end;
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
	.name {
		color: var(--ink-soft);
		font-size: 13px;
		overflow-wrap: anywhere;
	}
</style>
