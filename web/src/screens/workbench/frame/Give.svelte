<script lang="ts">
	/** Gives the framing of the shot in hand to others: which, and what of it, seen before it is done. */
	import { untrack } from 'svelte';
	import { shotStillUrl, type CutShot, type Edit } from '$api/client';
	import Button from '$ui/Button.svelte';
	import Check from '$ui/Check.svelte';
	import Dialog from '$ui/Dialog.svelte';
	import { many } from '$ui/say';
	import type { Frame } from './frame.svelte';

	let { frame, onclose }: { frame: Frame; onclose: () => void } = $props();

	type What = 'layout' | 'closeness' | 'place' | 'moves' | 'behind' | 'tone';
	const WHATS: { id: What; name: string }[] = [
		{ id: 'layout', name: 'Layout and who' }, { id: 'closeness', name: 'Closeness' }, { id: 'place', name: 'Place' }, { id: 'moves', name: 'Moves' }, { id: 'behind', name: 'Background' }, { id: 'tone', name: 'Colour' }
	];
	const bench = $derived(frame.bench);
	/** What is given is fixed: the playhead may move while the dialog is open. */
	const { giver, given, moment, shots } = untrack(() => ({ giver: frame.here, given: frame.shots[frame.here]!, moment: frame.moment, shots: frame.shots }));
	const alike = (one: CutShot, number: number) => number !== giver && one.set_up === given.set_up;
	let chosen = $state(shots.flatMap((one, number) => (alike(one, number) ? [number] : [])));
	/** A place is given where a person set one: the program finds a better one for each shot. */
	let what = $state<What[]>(untrack(() => (frame.framed?.choice.placed ? ['layout', 'closeness', 'place'] : ['layout', 'closeness'])));

	/** The other shapes that take the framing that this shot has in the shape in hand: instead of other shots. */
	let shapes = $state<string[]>([]);
	const others = $derived(frame.every ? [] : frame.shapes.filter((one) => one.destination !== bench.shown));

	const edit = $derived<Edit | null>(
		shapes.length && what.length
			? { kind: 'share-framing', at_ms: moment, destination: bench.shown, to: shapes, what }
			: chosen.length && what.length
			? { kind: 'give-framing', at_ms: moment, to_ms: chosen.map((number) => middle(frame.shots[number]!)), what, destination: frame.destination }
			: null
	);
	$effect(() => {
		if (edit) bench.tryFraming(edit);
		else bench.endTrial();
	});

	function middle(shot: CutShot): number {
		return Math.floor((shot.span.start_ms + shot.span.end_ms) / 2);
	}
	function turn<T>(list: T[], one: T, on: boolean): T[] {
		return on ? [...list, one] : list.filter((other) => other !== one);
	}
	async function give(): Promise<void> {
		if (edit && (await bench.edit(edit))) onclose();
	}
</script>

<Dialog name="Give the framing of shot {giver + 1}" wide {onclose}>
	<div class="what" role="group" aria-label="What to give">
		{#each WHATS as one (one.id)}
			<Check name={one.name} checked={what.includes(one.id)} onset={(on) => (what = turn(what, one.id, on))} />
		{/each}
	</div>
	<div class="which">
		<Button onclick={() => (chosen = frame.shots.flatMap((one, number) => (alike(one, number) ? [number] : [])))}>All of {bench.resolved!.set_ups[given.set_up]}</Button>
		<Button onclick={() => (chosen = frame.shots.flatMap((_, number) => (number === giver ? [] : [number])))}>All shots</Button>
		<Button onclick={() => (chosen = [])}>None</Button>
	</div>
	{#if others.length}
		<div class="which" role="group" aria-label="Other shapes">
			{#each others as one (one.destination)}
				<Check name={one.assembly.destination.name} checked={shapes.includes(one.destination)} onset={(on) => { shapes = turn(shapes, one.destination, on); if (on) chosen = []; }} />
			{/each}
		</div>
	{/if}
	<ul>
		{#each frame.shots as shot, number (shot.span.start_ms)}
			{#if number !== giver}
				<li>
					<label>
						<input type="checkbox" checked={chosen.includes(number)} onchange={(event) => { chosen = turn(chosen, number, event.currentTarget.checked); shapes = []; }} />
						<span class="still">
							<img src={shotStillUrl(bench.quote!.recording_id, shot.span.start_ms, true)} alt="" loading="lazy" />
							{#each bench.version ? frame.windowsIn(bench.version, shot) : [] as window, i (i)}
								<i style:left="{window.x * 100}%" style:top="{window.y * 100}%" style:width="{window.width * 100}%" style:height="{window.height * 100}%"></i>
							{/each}
						</span>
						<span class="told">
							<b>Shot {number + 1}</b> {bench.resolved!.set_ups[shot.set_up]}
							<small>{chosen.includes(number) ? 'will be' : 'stays'}: {bench.version && frame.framedIn(bench.version, shot)?.says}</small>
						</span>
					</label>
				</li>
			{/if}
		{/each}
	</ul>
	{#snippet actions()}
		<Button kind="main" disabled={!edit} onclick={give}>Give to {shapes.length ? many(shapes.length, 'shape') : many(chosen.length, 'shot')}{shapes.length ? '' : frame.every ? ' in every shape' : ` in ${bench.version!.assembly.destination.name}`}</Button>
		<Button onclick={onclose}>Cancel</Button>
	{/snippet}
</Dialog>

<style>
	.what,
	.which {
		display: flex;
		flex-wrap: wrap;
		gap: 4px 16px;
		margin-bottom: 8px;
	}
	.which {
		gap: 6px;
	}
	ul {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 8px;
	}
	label {
		display: flex;
		align-items: center;
		gap: 8px;
		min-width: 0;
		cursor: pointer;
	}
	input {
		width: 18px;
		height: 18px;
		accent-color: var(--kept);
	}
	.still {
		position: relative;
		flex: none;
		width: 128px;
		min-height: 40px;
		background: var(--stage);
		line-height: 0;
		overflow: hidden;
	}
	img {
		width: 100%;
	}
	.still i {
		position: absolute;
		outline: 2px solid var(--found);
		outline-offset: -2px;
	}
	.told {
		min-width: 0;
		font-size: 14px;
	}
	small {
		display: block;
		color: var(--ink-soft);
		font-size: 13px;
	}
</style>
