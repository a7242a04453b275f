<script lang="ts">
	/** What is drawn, and how: a progress line, a wave, a logo, a picture, a mark. */
	import type { What } from '$api/client';
	import { house } from '$api/house.svelte';
	import ColourField from '$screens/house/ColourField.svelte';
	import Button from '$ui/Button.svelte';
	import Check from '$ui/Check.svelte';
	import Slider from '$ui/Slider.svelte';
	import { fineClock } from '$ui/say';
	import type { Change, Finish } from './finish.svelte';

	type Drawn = Extract<What, { kind: 'progress' | 'sound-wave' | 'logo' | 'insert' | 'mark' }>;
	type Props = { what: Drawn; finish: Finish; onset: (change: Change) => void; onlook: (change: Change) => void };
	let { what, finish, onset, onlook }: Props = $props();

	$effect(() => {
		if (what.kind === 'mark') void finish.loadSubjects();
		if (what.kind === 'insert' && what.footage) void finish.loadRecordings();
	});

	const EDGES = [['bottom', 'At the bottom'], ['top', 'At the top'], ['around', 'Around']] as const;
	const WAVES = [['bars', 'Bars'], ['dots', 'Dots'], ['ring', 'Ring'], ['line', 'Whole clip']] as const;
	const COVERS = [['all', 'All'], ['half', 'Half'], ['corner', 'A corner']] as const;
	const MARKS = [['ring', 'Ring'], ['arrow', 'Arrow'], ['box', 'Box'], ['underline', 'Underline'], ['freehand', 'Freehand'], ['spotlight', 'Spotlight']] as const;
	const HEARD = [['not', 'The talk only'], ['under', 'Quietly under the talk'], ['instead', 'In place of the talk']] as const;
	type Footage = NonNullable<Extract<What, { kind: 'insert' }>['footage']>;
	function from(box: HTMLInputElement, footage: Footage): void {
		const ms = Math.round(Number(box.value) * 1000);
		if (Number.isFinite(ms) && ms >= 0 && ms < footage.duration_ms) onset({ footage: { ...footage, from_ms: ms } });
		else box.value = (footage.from_ms / 1000).toFixed(1);
	}
	const percent = (value: number) => `${Math.round(value * 100)} %`;
</script>

{#snippet choice(name: string, field: string, value: string, all: readonly (readonly [string, string])[])}
	<div class="row" role="group" aria-label={name}>
		{#each all as [one, says] (one)}<Button pressed={value === one} onclick={() => onset({ [field]: one })}>{says}</Button>{/each}
	</div>
{/snippet}
{#snippet slider(name: string, field: string, value: number, min: number, max: number, step: number)}
	<Slider {name} says={max <= 0.06 ? `${(value * 100).toFixed(1)} %` : percent(value)} {min} {max} {step} {value} onlook={(to) => onlook({ [field]: to })} onset={(to) => onset({ [field]: to })} />
{/snippet}
{#snippet colour(name: string, value: string | null | undefined, field = 'colour', none = 'the house’s')}
	<ColourField {name} value={value ?? null} {none} onset={(to) => onset({ [field]: to })} onnone={() => onset({ [field]: null })} />
{/snippet}

{#if what.kind === 'progress'}
	{@render choice('Edge', 'edge', what.edge ?? 'bottom', EDGES)}
	{@render slider('Thickness', 'thickness', what.thickness ?? 0.012, 0.004, 0.05, 0.001)}
	{@render colour('Line', what.colour)}
	{@render colour('Track', what.track, 'track', 'none')}
{:else if what.kind === 'sound-wave'}
	{@render choice('Form', 'form', what.form ?? 'bars', WAVES)}
	{@render slider('Width', 'width', what.width ?? 0.7, 0.1, 1, 0.01)}
	{#if what.form !== 'ring'}{@render slider('Height', 'height', what.height ?? 0.14, 0.03, 0.6, 0.01)}{/if}
	{#if what.form !== 'line'}{@render slider('Calm', 'calm', what.calm ?? 0.4, 0, 0.95, 0.05)}{/if}
	{@render colour('Wave', what.colour, 'colour', 'as the letters')}
{:else if what.kind === 'insert' && what.footage}
	{@const footage = what.footage}
	<label>Recording <select value={footage.recording} onchange={(event) => onset({ footage: { ...footage, recording: Number(event.currentTarget.value), from_ms: 0 } })}>
		{#each finish.recordings as one (one.id)}<option value={one.id}>{one.title}</option>{:else}<option value={footage.recording}>recording {footage.recording}</option>{/each}
	</select></label>
	<label>Begins at, s <input inputmode="decimal" value={(footage.from_ms / 1000).toFixed(1)} onchange={(event) => from(event.currentTarget, footage)} /></label>
	<Slider name="Begins at" says={fineClock(footage.from_ms)} min={0} max={Math.max(0, footage.duration_ms - 1000)} step={100} value={footage.from_ms} onlook={(from_ms) => onlook({ footage: { ...footage, from_ms } })} onset={(from_ms) => onset({ footage: { ...footage, from_ms } })} />
	{@render choice('Covers', 'covers', what.covers ?? 'all', COVERS)}
	{@render choice('Entrance', 'comes', what.comes ?? 'cut', [['cut', 'Cut'], ['fade', 'Fade']])}
	<label>Sound <select value={footage.heard ?? 'not'} onchange={(event) => onset({ footage: { ...footage, heard: event.currentTarget.value as Footage['heard'] } })}>
		{#each HEARD as [id, says] (id)}<option value={id}>{says}</option>{/each}
	</select></label>
	{#if footage.heard === 'instead'}<p class="soft">The talk is silent while it shows. Hide the captions there if nobody speaks.</p>{/if}
{:else if what.kind === 'logo' || what.kind === 'insert'}
	<label>Picture <select value={what.picture} onchange={(event) => onset({ picture: Number(event.currentTarget.value) })}>{#each house.everyPicture.filter((one) => !one.retired || one.id === what.picture) as one (one.id)}<option value={one.id}>{one.name}</option>{/each}</select></label>
	{#if what.kind === 'logo'}
		<Check name="Cut to a circle" checked={what.round ?? false} onset={(round) => onset({ round })} />
		{@render slider('Size', 'size', what.size ?? 0.18, 0.04, 0.6, 0.01)}
		{@render slider('Opacity', 'opacity', what.opacity ?? 1, 0.05, 1, 0.05)}
		{@render slider('From the edge', 'margin', what.margin ?? 0.04, 0, 0.2, 0.005)}
	{:else}
		{@render choice('Covers', 'covers', what.covers ?? 'all', COVERS)}
		{@render choice('Entrance', 'comes', what.comes ?? 'cut', [['cut', 'Cut'], ['fade', 'Fade']])}
		{@render slider('Push in', 'push', what.push ?? 0, 0, 0.3, 0.01)}
	{/if}
{:else}
	{@render choice('Form', 'form', what.form ?? 'arrow', MARKS)}
	<Button pressed={finish.drawing} onclick={() => (finish.drawing = !finish.drawing)}>{finish.drawing ? 'Drag on the picture …' : 'Draw it on the picture'}</Button>
	{#if what.form === 'spotlight'}{@render slider('Darkness around it', 'darkness', what.darkness ?? 0.6, 0.2, 0.95, 0.05)}
	{:else}{@render slider('Line', 'width', what.width ?? 0.008, 0.002, 0.04, 0.001)}{/if}
	<label>Follows <select value={what.follows ?? ''} onchange={(event) => onset({ follows: event.currentTarget.value === '' ? null : Number(event.currentTarget.value) })}>
		<option value="">nothing</option>{#each finish.subjects as one (one.subject)}<option value={one.subject}>{one.called}</option>{/each}
	</select></label>
	<Slider name={what.form === 'spotlight' ? 'Fades in over' : 'Drawn on in'} says="{((what.draws_ms ?? 500) / 1000).toFixed(1)} s" min={0} max={3000} step={100} value={what.draws_ms ?? 500} onlook={() => {}} onset={(draws_ms) => onset({ draws_ms })} />
	{#if what.form !== 'spotlight'}{@render colour('Mark', what.colour)}{/if}
{/if}

<style>
	.soft {
		color: var(--ink-soft);
		font-size: 13px;
	}
	label {
		display: grid;
		grid-template-columns: 84px minmax(0, 1fr);
		align-items: center;
		gap: 8px;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 4px;
	}
</style>
