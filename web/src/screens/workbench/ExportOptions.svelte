<script lang="ts">
	/** What is exported, and how: which versions, how well or how large, and what else of the quote. */
	import Send from '@lucide/svelte/icons/send';
	import { api, ask, packageUrl, saidUrl, timelineUrl, type Codec, type ExportRequest, type Quality } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Check from '$ui/Check.svelte';
	import Dialog from '$ui/Dialog.svelte';
	import { many, megabytes } from '$ui/say';
	import type { Bench } from './bench.svelte';

	let { bench, onexport, onclose }: { bench: Bench; onexport: (wanted: ExportRequest) => Promise<void>; onclose: () => void } = $props();

	const QUALITIES: [Quality, string][] = [['small', 'Small'], ['usual', 'Usual'], ['crisp', 'Crisp']];
	const CODECS: Record<Codec, string> = { h264: 'H.264, plays everywhere', h265: 'H.265, smaller, newer devices', av1: 'AV1, smallest, newest devices' };
	type Also = NonNullable<ExportRequest['also']>[number];
	const ALSO: [Also, string][] = [['cut', 'The plain cut, in the recording’s shape'], ['m4a', 'The sound alone, M4A with chapters'], ['mp3', 'The sound alone, MP3 with chapters'], ['still', 'A still of each version, PNG']];

	let left = $state<string[]>([]);
	let quality = $state<Quality>('usual');
	let codec = $state<Codec>('h264');
	let codecs = $state<Codec[]>(['h264']);
	let sizes = $state<Record<string, string>>({});
	let also = $state<Also[]>([]);
	let expected = $state.raw<Record<string, Record<string, number>>>({});
	let failed = $state(false);
	const versions = $derived(bench.quote!.versions);
	const chosen = $derived(versions.filter((one) => !left.includes(one.destination)));
	const key = (destination: string) => `${destination} ${codec}`;
	const total = $derived(chosen.reduce((sum, one) => {
		const typed = Number(sizes[one.destination]);
		return sum + (typed > 0 ? typed * 1e6 : (expected[key(one.destination)]?.[quality] ?? NaN));
	}, 0));

	void ask(api.GET('/api/outbox')).then((outbox) => (codecs = outbox.codecs));
	$effect(() => void probe(codec));

	/** Asks how large each version comes, one after another: each is tried for a few seconds. */
	async function probe(as: Codec): Promise<void> {
		for (const { destination } of versions) {
			if (as !== codec || expected[key(destination)]) continue;
			try {
				const found = await ask(api.GET('/api/quotes/{quote_id}/sizes', { params: { path: { quote_id: bench.id }, query: { destination, codec: as } } }));
				expected = { ...expected, [`${destination} ${as}`]: Object.fromEntries(found.map((one) => [one.quality, one.bytes])) };
			} catch {
				failed = true;
				return;
			}
		}
	}

	function says(destination: string): string {
		const found = expected[key(destination)];
		if (found) return `about ${megabytes(found[quality]!)}`;
		return failed ? 'size not known' : 'working out the size…';
	}

	const wrong = $derived(chosen.some((one) => sizes[one.destination]?.trim() && !(Number(sizes[one.destination]) >= 0.05)));
	async function go(): Promise<void> {
		const typed = chosen.flatMap((one) => (Number(sizes[one.destination]) > 0 ? [[one.destination, Number(sizes[one.destination])]] : []));
		await onexport({ destinations: chosen.map((one) => one.destination), codec, quality, sizes_mb: Object.fromEntries(typed), also });
	}
	const turn = (destination: string, on: boolean) => (left = on ? left.filter((one) => one !== destination) : [...left, destination]);
	const turnAlso = (kind: Also, on: boolean) => (also = on ? [...also, kind] : also.filter((one) => one !== kind));
</script>

<Dialog name="Export" {onclose}>
	<div class="row" role="group" aria-label="Quality">
		<span class="label">Quality</span>
		{#each QUALITIES as [id, name] (id)}<Button pressed={quality === id} onclick={() => (quality = id)}>{name}</Button>{/each}
	</div>
	<label class="row"><span class="label">Codec</span>
		<select bind:value={codec}>{#each codecs as one (one)}<option value={one}>{CODECS[one]}</option>{/each}</select>
	</label>
	<ul aria-label="Versions to export">
		{#each versions as one (one.destination)}
			{@const place = house.destination(one.destination)}
			<li>
				<Check name={place?.name ?? one.destination} checked={!left.includes(one.destination)} onset={(on) => turn(one.destination, on)} />
				<span class="soft">{says(one.destination)}</span>
				<label class="size"><input inputmode="decimal" aria-label="Exact size of {place?.name}, in MB" placeholder="size" maxlength="8" disabled={left.includes(one.destination)} bind:value={sizes[one.destination]} /> MB</label>
			</li>
		{/each}
	</ul>
	<p class="soft">Type a size where a file has to be just so large: it is met within 2 %.</p>
	<div class="also" role="group" aria-label="Also export">
		{#each ALSO as [kind, name] (kind)}
			{#if bench.recording?.width || (kind !== 'cut' && kind !== 'still')}<Check {name} checked={also.includes(kind)} onset={(on) => turnAlso(kind, on)} />{/if}
		{/each}
	</div>
	<p class="programs">
		The cut of {house.destination(bench.shown)?.name} for another program:
		<a href={timelineUrl(bench.id, bench.shown, 'otio')} download>OpenTimelineIO</a>
		<a href={timelineUrl(bench.id, bench.shown, 'edl')} download>EDL</a>
		<a href={saidUrl(bench.id, bench.shown, 'words.json')} download>Words, JSON</a>
		<a href={saidUrl(bench.id, bench.shown, 'chapters.vtt')} download>Chapters</a>
		<a href={packageUrl([bench.id])} download title="The quote whole, with what of your house is in it: to work on elsewhere">Package</a>
	</p>
	{#snippet actions()}
		<span class="soft">{Number.isFinite(total) && chosen.length ? `about ${megabytes(total)} in all` : ''}</span>
		<Button kind="main" disabled={!chosen.length || wrong} onclick={go}>
			{#snippet icon()}<Send size={16} />{/snippet}Export {many(chosen.length + also.filter((kind) => kind !== 'still').length + (also.includes('still') ? chosen.length : 0), 'file')}
		</Button>
	{/snippet}
</Dialog>

<style>
	.row {
		display: flex;
		align-items: center;
		gap: 6px;
		margin-bottom: 8px;
	}
	.label {
		width: 70px;
		color: var(--ink-soft);
	}
	li {
		display: grid;
		grid-template-columns: minmax(0, 1fr) auto auto;
		gap: 12px;
		align-items: center;
		padding: 4px 0;
		border-bottom: 1px solid var(--rule);
	}
	.soft {
		color: var(--ink-soft);
		font-size: 14px;
		font-variant-numeric: tabular-nums;
	}
	.size input {
		width: 64px;
		text-align: right;
	}
	.programs {
		display: flex;
		flex-wrap: wrap;
		gap: 4px 12px;
		margin-top: 10px;
		padding-top: 8px;
		border-top: 1px solid var(--rule);
		font-size: 14px;
	}
	.also {
		margin-top: 10px;
		padding-top: 6px;
		border-top: 1px solid var(--rule);
	}
</style>
