<script lang="ts">
	/** How the shot in hand is framed: who is shown, how close, in which layout, and what is doubtful. */
	import ArrowDownUp from '@lucide/svelte/icons/arrow-down-up';
	import Check from '@lucide/svelte/icons/check';
	import ChevronDown from '@lucide/svelte/icons/chevron-down';
	import ChevronUp from '@lucide/svelte/icons/chevron-up';
	import Columns2 from '@lucide/svelte/icons/columns-2';
	import Copy from '@lucide/svelte/icons/copy';
	import Pipette from '@lucide/svelte/icons/pipette';
	import RotateCcw from '@lucide/svelte/icons/rotate-ccw';
	import Scissors from '@lucide/svelte/icons/scissors';
	import X from '@lucide/svelte/icons/x';
	import SquareDashedMousePointer from '@lucide/svelte/icons/square-dashed-mouse-pointer';
	import type { FramingChange } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import CheckBox from '$ui/Check.svelte';
	import Slider from '$ui/Slider.svelte';
	import { many } from '$ui/say';
	import Destinations from '../Destinations.svelte';
	import Colour from './Colour.svelte';
	import Place from './Place.svelte';
	import type { Frame } from './frame.svelte';

	let { frame }: { frame: Frame } = $props();

	type Layout = NonNullable<FramingChange['layout']>;
	const LAYOUTS: { id: Layout; name: string; title: string; several?: boolean }[] = [
		{ id: 'one', name: 'One', title: 'Fill the frame with one of them' },
		{ id: 'together', name: 'Together', title: 'All in one window', several: true },
		{ id: 'stacked', name: 'Stacked', title: 'One above the other', several: true },
		{ id: 'beside', name: 'Side by side', title: 'One beside the other', several: true },
		{ id: 'slide', name: 'Slide, speaker', title: 'The slide above, who speaks below' },
		{ id: 'whole', name: 'Whole', title: 'Fit the whole picture' }
	];
	/** What is chosen of a shot, and does not make its framing another one. */
	const NOT_FRAMING = ['fine', 'exposure', 'contrast', 'warmth', 'saturation', 'lift'];
	const MOVES = [
		{ id: 'still', name: 'None' }, { id: 'steady', name: 'Few' }, { id: 'usual', name: 'Usual' }, { id: 'lively', name: 'More' }
	] as const;

	const bench = $derived(frame.bench);
	const version = $derived(bench.version!);
	const framed = $derived(frame.framed);
	const choice = $derived(framed?.choice);
	const doubts = $derived(frame.shot ? frame.doubtsOf(frame.shot) : []);
	const setUp = $derived(frame.shot ? bench.resolved!.set_ups[frame.shot.set_up] : '');
	const tiled = $derived(framed?.name === 'stacked' || framed?.name === 'beside');
	const chosen = $derived(Boolean(choice && Object.entries(choice).some(([name, value]) => value !== null && !NOT_FRAMING.includes(name))));
	const sound = $derived(!bench.recording!.width);

	function swap(): void {
		const [one, other, ...more] = framed!.subjects;
		if (one !== undefined && other !== undefined) frame.choose({ subjects: [other, one, ...more], layout: framed!.name });
	}

	/** The colour behind is of the whole quote where there is no shot. */
	/** What stands behind now, of the shot in hand or, without a picture, of the whole clip. */
	const stands = $derived(framed?.behind ?? bench.version?.assembly.picture.at(bench.version.assembly.cover_frames ?? 0)?.behind);
	function behind(change: FramingChange): void {
		if (frame.shot) frame.choose(change);
		else void bench.edit({ kind: 'frame-shot', at_ms: null, destination: null, change });
	}
</script>

<aside aria-label="Frame">
	{#if frame.shot && framed}
		<header>
			<h2>Shot {frame.here + 1} of {frame.shots.length}</h2>
			<span class="setup">{setUp}{frame.shot.parted ? ', split' : ''}</span>
		</header>
		<p class="says">{framed.says}{framed.choice.placed ? '' : framed.heads_inside !== null && framed.heads_inside !== undefined && framed.heads_inside < 0.995 ? `, in the window ${(framed.heads_inside * 100).toFixed(1)} %` : ''}</p>
		{#if doubts.length}
			<div class="doubts" role="group" aria-label="Doubtful">
				{#each doubts as one (one.code)}
					<p><b>{one.says[0]!.toUpperCase()}{one.says.slice(1)}</b>{one.shapes.length < frame.shapes.length ? ` in ${one.shapes.join(', ')}` : ''}. {one.do}</p>
				{/each}
				<Button title="It is fine as it is (M)" onclick={() => frame.fine()}>{#snippet icon()}<Check size={16} />{/snippet}It’s fine</Button>
			</div>
		{:else if choice?.fine?.length}
			<p class="quiet">Marked as fine. <button type="button" class="link" onclick={() => frame.doubtAgain()}>Tell me again</button></p>
		{/if}
		<div class="row next">
			<Button kind="quiet" aria-label="Previous doubtful shot" title="Previous doubtful shot (Shift+N)" onclick={() => frame.step(-1)}>{#snippet icon()}<ChevronUp size={16} />{/snippet}</Button>
			<Button kind="quiet" aria-label="Next doubtful shot" title="Next doubtful shot (N)" onclick={() => frame.step(1)}>{#snippet icon()}<ChevronDown size={16} />{/snippet}</Button>
			<span>{frame.doubtful.length ? many(frame.doubtful.length, 'doubtful shot') : 'Nothing doubtful'}</span>
		</div>
		<fieldset>
			<legend>For</legend>
			<div class="row" role="group" aria-label="For which shapes">
				<Button pressed={frame.every} onclick={() => (frame.every = true)}>Every shape</Button>
				<Button pressed={!frame.every} onclick={() => (frame.every = false)}>Only {version.assembly.destination.name}</Button>
			</div>
		</fieldset>
		{#if frame.looking}
			<p class="quiet" role="status">The picture is still being looked at, this quote first. Who is seen comes up here by itself.</p>
		{:else if bench.recording!.seen_by_older}
			<p class="quiet">An older version of Nimble Quote looked at this picture. <button type="button" class="link" onclick={() => void frame.lookAgain()}>Look again</button>: who speaks and who turns away is seen better now. What you framed stays.</p>
		{/if}
		{#if frame.there.length}
			<fieldset>
				<legend>Who</legend>
				<div class="row" role="group" aria-label="Who is shown">
					{#each frame.there as subject (subject)}
						<Button pressed={framed.subjects.includes(subject)} onclick={() => frame.choose({ subjects: [subject], layout: 'one' })}>{frame.called(subject)}</Button>
					{/each}
					{#if frame.there.length === 2}
						<Button pressed={framed.subjects.length === 2} onclick={() => frame.choose({ subjects: framed.subjects.length === 2 ? framed.subjects : frame.there })}>Both</Button>
					{/if}
					{#each frame.things as subject (subject)}
						<Button kind="quiet" aria-label="Follow {frame.called(subject)} no longer" title="Follow {frame.called(subject)} no longer" onclick={() => void frame.forget(subject)}>{#snippet icon()}<X size={16} />{/snippet}</Button>
					{/each}
				</div>
			</fieldset>
		{/if}
		<Button title="Draw a box around anything else that is to be followed (F)" pressed={frame.drawing !== null} disabled={frame.following !== null} onclick={() => frame.draw()}>{#snippet icon()}<SquareDashedMousePointer size={16} />{/snippet}Follow something else</Button>
		<fieldset>
			<legend>Layout</legend>
			<div class="row" role="group" aria-label="Layout">
				{#each LAYOUTS as one (one.id)}
					{#if !one.several || frame.there.length > 1 || framed.name === one.id}
						<Button title={one.title} pressed={framed.name === one.id} onclick={() => frame.choose({ layout: one.id })}>{one.name}</Button>
					{/if}
				{/each}
			</div>
		</fieldset>
		{#if framed.name === 'whole'}
			<Slider
				name="Size" says="{((choice?.size ?? 1) * 100).toFixed(0)} % of the width" min={house.ranges.size.least} max={house.ranges.size.most} step={0.01} value={choice?.size ?? 1}
				onlook={(size) => frame.look({ size })} onset={(size) => frame.choose({ size })}
			/>
			<Slider
				name="Height" says="{((choice?.height ?? 0.5) * 100).toFixed(0)} % down" min={0} max={1} step={0.01} value={choice?.height ?? 0.5}
				onlook={(height) => frame.look({ height })} onset={(height) => frame.choose({ height })}
			/>
		{:else if framed.subjects.length}
			<Slider
				name="Closeness" says="{framed.close_says}, {(framed.closeness * 100).toFixed(0)} %" min={house.ranges.closeness.least} max={house.ranges.closeness.most} step={0.01} value={framed.closeness}
				onlook={(closeness) => frame.look({ closeness })} onset={(closeness) => frame.choose({ closeness })}
			/>
		{/if}
		<p class="sharp" data-grade={framed.sharpness.grade}>{framed.sharpness.says}</p>
		{#if tiled}
			<Slider
				name={framed.name === 'stacked' ? 'Upper picture' : 'Left picture'} says="{((choice?.share ?? 0.5) * 100).toFixed(0)} %" min={house.ranges.share.least} max={house.ranges.share.most} step={0.01} value={choice?.share ?? 0.5}
				onlook={(share) => frame.look({ share })} onset={(share) => frame.choose({ share })}
			/>
			<Button onclick={swap} disabled={framed.subjects.length < 2}>{#snippet icon()}<ArrowDownUp size={16} />{/snippet}Swap them</Button>
		{/if}
		{#if framed.name !== 'whole' && framed.subjects.length}
			<fieldset>
				<legend>Moves</legend>
				<div class="row" role="group" aria-label="Moves">
					{#each MOVES as one (one.id)}
						<Button pressed={(choice?.moves ?? 'usual') === one.id} onclick={() => frame.choose({ moves: one.id })}>{one.name}</Button>
					{/each}
				</div>
			</fieldset>
		{/if}
		<Place {frame} />
		<Colour {frame} />
		<fieldset>
			<legend>This shot</legend>
			<div class="row">
				<Button title="Split the framing at the playhead (S)" onclick={() => frame.split()}>{#snippet icon()}<Scissors size={16} />{/snippet}Split here</Button>
				{#if frame.shot.parted}<Button onclick={() => frame.join()}>Join to the one before</Button>{/if}
				<Button title="Give this framing to other shots, or to other shapes (G)" disabled={frame.shots.length < 2 && (frame.every || frame.shapes.length < 2)} onclick={() => (frame.giving = true)}>{#snippet icon()}<Copy size={16} />{/snippet}Give to…</Button>
				<Button title="Back to the first answer" disabled={!chosen} onclick={() => frame.reset()}>{#snippet icon()}<RotateCcw size={16} />{/snippet}Reset</Button>
				<Button kind="quiet" title="Every shot back to the first answer" onclick={() => frame.reset(true)}>Reset all</Button>
			</div>
		</fieldset>
	{/if}
	{#if sound || framed?.name === 'whole' || framed?.name === 'slide'}
		<fieldset>
			<legend>{sound ? 'Background' : 'Behind the picture'}</legend>
			<div class="row" role="group" aria-label="Behind the picture">
				{#if !sound}<Button pressed={stands?.kind === 'blur'} onclick={() => behind({ backdrop: 'blur' })}>Blurred</Button>{/if}
				<Button pressed={stands?.kind === 'colour'} onclick={() => behind({ backdrop: 'colour' })}>Colour</Button>
				{#each house.pictures as one (one.id)}
					<Button pressed={stands?.picture === one.id} title="{one.name}, a picture of the house’s" onclick={() => behind({ backdrop: stands?.kind === 'soft-picture' ? 'soft-picture' : 'picture', picture: one.id })}>{one.name}</Button>
				{/each}
				{#if !sound}
					<Button kind="quiet" aria-label="Pick a colour from the picture" title="Pick a colour from the picture" pressed={frame.picking} onclick={() => (frame.picking = !frame.picking)}>{#snippet icon()}<Pipette size={16} />{/snippet}</Button>
				{/if}
				{#if stands?.kind === 'colour' && stands.colour !== house.colour}
					<Button kind="quiet" title="The colour that is set in House" onclick={() => behind({ colour: house.colour, backdrop: 'colour' })}>House colour</Button>
				{/if}
				<input
					type="color" aria-label="Colour behind the picture" value={(stands?.colour ?? house.colour).toLowerCase()}
					onchange={(event) => behind({ colour: event.currentTarget.value.toUpperCase(), backdrop: 'colour' })}
				/>
			</div>
			{#if stands?.picture}
				<CheckBox name="Blur the picture" checked={stands.kind === 'soft-picture'} onset={(soft) => behind({ backdrop: soft ? 'soft-picture' : 'picture', picture: stands.picture ?? null })} />
			{/if}
			{#if framed?.behind.kind === 'blur' && !sound}
				<Slider
					name="Blur" says={(framed.behind.blur).toFixed(0)} min={house.ranges.blur.least} max={house.ranges.blur.most} step={0.5} value={framed.behind.blur}
					onlook={(blur) => frame.look({ blur })} onset={(blur) => frame.choose({ blur })}
				/>
			{/if}
		</fieldset>
	{/if}
	<Button pressed={frame.comparing} title="The recording beside this shape, in step (C)" onclick={() => (frame.comparing = !frame.comparing)}>{#snippet icon()}<Columns2 size={16} />{/snippet}Compare with the recording</Button>
	{#if frame.shot}
		<details ontoggle={(event) => { if (event.currentTarget.open) void frame.loadOthers(); }}>
			<summary>Take the framing of another quote</summary>
			{#if frame.others.length}
				<ul class="others">
					{#each frame.others as one (one.id)}
						<li><button type="button" onclick={() => frame.takeFrom(one.id)}>“{one.title}”</button></li>
					{/each}
				</ul>
			{:else}
				<p class="quiet">There is no other quote of this recording.</p>
			{/if}
		</details>
	{/if}
	<details>
		<summary>Where it goes</summary>
		<Destinations {bench} />
		{#if version.treated.shares.length || version.treated.alone}
			<CheckBox
				name="Frame {version.assembly.destination.name} by itself" checked={version.treated.alone}
				onset={(alone) => void bench.edit({ kind: 'treat-alone', destination: version.destination, alone })}
			/>
		{/if}
	</details>
	<CheckBox name="Show safe areas" checked={bench.covered} onset={(on) => (bench.covered = on)} />
</aside>

<style>
	aside {
		display: grid;
		align-content: start;
		gap: 10px;
		overflow-y: auto;
		padding: 12px 14px 24px;
		border-left: 1px solid var(--rule);
		background: var(--paper-raised);
	}
	header {
		display: flex;
		align-items: baseline;
		justify-content: space-between;
		gap: 8px;
	}
	h2 {
		font-size: 16px;
	}
	.setup,
	.quiet {
		color: var(--ink-soft);
		font-size: 14px;
	}
	.says {
		font: 17px/22px var(--reading);
	}
	.doubts {
		display: grid;
		gap: 6px;
		justify-items: start;
		padding: 8px 10px;
		border-left: 4px solid var(--warn);
		border-radius: var(--radius);
		background: var(--warn-wash);
		font-size: 14px;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 4px;
	}
	.next {
		color: var(--ink-soft);
		font-size: 14px;
	}
	aside :global(button) {
		padding-inline: 8px;
		font-size: 14px;
	}
	.link {
		padding: 0;
		border: 0;
		background: none;
		color: var(--kept);
		text-decoration: underline;
		cursor: pointer;
	}
	fieldset {
		display: grid;
		gap: 4px;
		margin: 0;
		padding: 0;
		border: 0;
	}
	legend {
		padding: 0 0 3px;
		color: var(--ink-soft);
		font-size: 13px;
	}
	.sharp {
		padding: 5px 10px;
		border-left: 4px solid var(--good);
		border-radius: var(--radius);
		background: var(--paper);
		font-size: 13px;
	}
	.sharp[data-grade='visible'],
	.sharp[data-grade='soft'] {
		border-color: var(--warn);
		background: var(--warn-wash);
	}
	.others button {
		width: 100%;
		min-height: 28px;
		border: 0;
		border-bottom: 1px solid var(--rule);
		background: none;
		text-align: left;
		cursor: pointer;
	}
	summary {
		min-height: 28px;
		cursor: pointer;
	}
	input[type='color'] {
		width: 40px;
		height: 32px;
		padding: 2px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
	}
</style>
