<script lang="ts">
	/** What the cover shows, in every shape or in this one, and what it says. */
	import { api, ask, frameUrl, type CoverFrame, type What } from '$api/client';
	import { house } from '$api/house.svelte';
	import { housePictureUrl } from '$player/layers/backdrop';
	import Button from '$ui/Button.svelte';
	import Check from '$ui/Check.svelte';
	import Fields from '$ui/Fields.svelte';
	import { fineClock } from '$ui/say';
	import type { Change, Finish } from './finish.svelte';
	import LookFields from './LookFields.svelte';

	type Cover = Extract<What, { kind: 'cover' }>;
	type Shows = NonNullable<Cover['shows']>;
	type Props = { what: Cover; finish: Finish; onset: (change: Change) => void; onlook: (change: Change) => void };
	let { what, finish, onset, onlook }: Props = $props();

	const bench = $derived(finish.bench);
	const own = $derived(what.in_shapes?.[finish.shape]);
	const shown = $derived<Shows>(own ?? what.shows ?? {});
	/** Whether what is chosen next is for this shape alone. */
	let alone = $state(false);
	let frames = $state.raw<CoverFrame[] | null>(null);

	$effect(() => {
		alone = own !== undefined;
	});
	// Looking at frames takes a moment: only anew where other words are kept.
	const kept = $derived(JSON.stringify(bench.cut?.kept ?? []));
	$effect(() => {
		void kept;
		let wanted = true;
		frames = null;
		const params = { path: { quote_id: bench.id }, query: { destination: bench.shown } };
		void house.trying(() => ask(api.GET('/api/quotes/{quote_id}/cover-frames', { params }))).then((found) => { if (wanted) frames = found ?? []; });
		return () => { wanted = false; };
	});

	function choose(shows: Shows): void {
		if (alone) onset({ in_shapes: { ...what.in_shapes, [finish.shape]: shows } });
		else onset({ shows });
		bench.player?.pause();
		bench.player?.seekOut(0);
	}
	function shapeAlone(on: boolean): void {
		alone = on;
		const others = Object.fromEntries(Object.entries(what.in_shapes ?? {}).filter(([shape]) => shape !== finish.shape));
		onset({ in_shapes: on ? { ...others, [finish.shape]: shown } : others });
	}
	const says = (one: CoverFrame) => `Frame at ${fineClock(one.at_ms)}${one.eyes !== null && one.eyes < 0.12 ? ', eyes shut' : ''}`;
	const chosen = $derived(shown.at_ms != null ? `the frame at ${fineClock(shown.at_ms)}` : shown.picture ? (house.everyPicture.find((one) => one.id === shown.picture)?.name ?? 'a picture') : 'the best frame, found automatically');
</script>

<p class="soft">Shows {chosen}. It is the first frame of the file, and comes beside it as JPEG and PNG.</p>
{#if finish.shape}<Check name="Only in {finish.shape}" checked={alone} onset={shapeAlone} />{/if}
<Fields name="Frames with a clear face">
	{#if frames === null}<p class="soft" role="status">Looking for sharp frames …</p>
	{:else if !frames.length}<p class="soft">No face is seen in this quote. Go to a frame, and use it.</p>{/if}
	<div class="frames" role="group" aria-label="Frames">
		{#each frames ?? [] as one (one.at_ms)}
			<button type="button" aria-label={says(one)} title={says(one)} aria-pressed={shown.at_ms === one.at_ms} onclick={() => choose({ at_ms: one.at_ms })}>
				<img src={frameUrl(bench.recording!.id, one.at_ms)} alt="" loading="lazy" />
			</button>
		{/each}
	</div>
	<div class="row">
		<Button title="The frame on the stage (C)" onclick={() => choose({ at_ms: Math.max(0, Math.round(bench.player?.sourceMs ?? 0)) })}>Use this frame</Button>
		<Button pressed={shown.at_ms == null && !shown.picture} onclick={() => choose({})}>Automatic</Button>
	</div>
</Fields>
{#if house.pictures.length}
	<Fields name="Or a picture">
		<div class="frames" role="group" aria-label="Pictures">
			{#each house.pictures as one (one.id)}
				<button type="button" aria-label={one.name} title={one.name} aria-pressed={shown.picture === one.id} onclick={() => choose({ picture: one.id })}><img src={housePictureUrl(one.id)} alt="" /></button>
			{/each}
		</div>
	</Fields>
{/if}
<label>Title <textarea rows="2" maxlength="160" placeholder="none" value={what.text ?? ''} onchange={(event) => onset({ text: event.currentTarget.value.trim() })}></textarea></label>
<LookFields look={what.look} {onset} {onlook} moves={false} />

<style>
	.frames {
		display: grid;
		grid-template-columns: repeat(4, minmax(0, 1fr));
		gap: 4px;
	}
	.frames button {
		aspect-ratio: 4 / 3;
		padding: 2px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
		cursor: pointer;
	}
	.frames button[aria-pressed='true'] {
		border-color: var(--kept);
		box-shadow: 0 0 0 2px var(--kept);
	}
	img {
		width: 100%;
		height: 100%;
		border-radius: 3px;
		object-fit: cover;
	}
	label {
		display: grid;
		grid-template-columns: 84px minmax(0, 1fr);
		align-items: center;
		gap: 8px;
	}
	textarea {
		resize: vertical;
	}
	.row {
		display: flex;
		gap: 4px;
	}
	.soft {
		color: var(--ink-soft);
		font-size: 13px;
	}
</style>
