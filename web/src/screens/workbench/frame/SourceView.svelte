<script lang="ts">
	/** The recording's picture with the windows of every shape in it, and who is followed. */
	import type { Edit, Version } from '$api/client';
	import { house } from '$api/house.svelte';
	import { windowAt, type Window } from '$player/layers/panels';
	import { runAt } from '$player/layers/picture';
	import { frameAt } from '$player/stretches';
	import DrawBox from './DrawBox.svelte';
	import type { Frame } from './frame.svelte';
	import { colourUnder } from '$player/colours';
	import { boxAt } from './subjects';

	let { frame }: { frame: Frame } = $props();

	const STEP = 0.005;
	const SETTLE_MS = 400;
	const CLOSER = 1.04;
	let width = $state(600);
	let height = $state(400);
	let canvas: HTMLCanvasElement;
	/** What is in the box that is drawn. */
	let called = $state('');
	function follow(): void {
		void frame.follow(called);
		called = '';
	}

	const bench = $derived(frame.bench);
	const player = $derived(bench.player!);
	const source = $derived({ width: bench.recording!.width, height: bench.recording!.height });
	const scale = $derived(Math.max(0.01, Math.min((width - 24) / source.width, (height - 60) / source.height)));
	const size = $derived({ width: Math.round(source.width * scale), height: Math.round(source.height * scale) });
	const active = $derived(bench.version!);

	type Shown = { version: Version; window: Window; panel: number; active: boolean };
	const windows = $derived(
		frame.shapes
			.flatMap((version): Shown[] => {
				const at = frameAt(version.assembly, player.outMs);
				const panels = runAt(version.assembly, at).panels ?? [];
				return panels.map((panel, number) => ({ version, window: windowAt(panel, at), panel: number, active: version.destination === active.destination }));
			})
			// The window in hand is on top of the others.
			.sort((a, b) => Number(a.active) - Number(b.active))
	);
	const people = $derived(
		(frame.sight?.tracks ?? []).flatMap((track) => {
			const box = boxAt(track, player.sourceMs);
			return box ? [{ subject: track.subject, box }] : [];
		})
	);
	const followed = $derived(new Set(frame.framed?.subjects));

	$effect(() => {
		const ratio = devicePixelRatio || 1;
		canvas.width = size.width * ratio;
		canvas.height = size.height * ratio;
		const pen = canvas.getContext('2d', { alpha: false });
		return player.draws(() => {
			if (player.video.videoWidth) pen?.drawImage(player.video, 0, 0, canvas.width, canvas.height);
		});
	});

	type Place = { x?: number; y?: number; zoom?: number };
	let grabbed: { x: number; y: number; from: { x: number; y: number }; panel: number } | null = null;
	let wanted: { edit: Edit; place?: Place; closeness?: number } | null = null;
	let settling: ReturnType<typeof setTimeout> | undefined;
	const inside = (value: number) => Math.min(1, Math.max(0, value));
	const middleOf = ({ window }: Shown) => ({ x: window.x + window.width / 2, y: window.y + window.height / 2 });

	function placing(place: Place, panel: number, every: boolean): void {
		const edit: Edit = { kind: 'place-window', at_ms: frame.moment, destination: active.destination, panel, every_shape: every, ...place };
		wanted = { edit, place };
		bench.tryFraming(edit);
	}

	function dragged(event: PointerEvent): void {
		if (!grabbed) return;
		const place = { x: inside(grabbed.from.x + (event.clientX - grabbed.x) / size.width), y: inside(grabbed.from.y + (event.clientY - grabbed.y) / size.height) };
		placing(place, grabbed.panel, event.shiftKey || event.altKey);
	}

	function released(): void {
		clearTimeout(settling);
		grabbed = null;
		if (wanted) void bench.edit(wanted.edit);
		wanted = null;
	}

	/** Keys and the wheel move in small steps; the change is made once they rest. */
	function settle(): void {
		clearTimeout(settling);
		settling = setTimeout(released, SETTLE_MS);
	}

	const within = (value: number, range: { least: number; most: number }) => Math.min(range.most, Math.max(range.least, value));

	/** What was begun of another kind is made before something else is: one edit can't say both. */
	function finish(kind: 'place' | 'closeness'): void {
		if (wanted && (wanted.closeness === undefined) !== (kind === 'place')) released();
	}

	/** Shows the shot closer by a part: by how large the face is, or where nobody is followed by scale. */
	function closer(by: number, shown: Shown | undefined): void {
		const framed = frame.framed;
		if (!framed || !shown) return;
		if (framed.subjects.length || framed.name === 'whole') finish('closeness');
		if (framed.name === 'whole') {
			const size = within((wanted?.closeness ?? framed.choice.size ?? 1) * by, house.ranges.size);
			wanted = { edit: frame.changing({ size }), closeness: size };
		} else if (framed.subjects.length) {
			const closeness = within((wanted?.closeness ?? framed.closeness) * by, house.ranges.closeness);
			wanted = { edit: frame.changing({ closeness }), closeness };
		} else {
			const zoom = within((wanted?.place?.zoom ?? 1) * by, house.ranges.zoom);
			placing({ ...wanted?.place, zoom }, shown.panel, frame.every);
		}
		bench.tryFraming(wanted!.edit);
		settle();
	}

	function keyed(event: KeyboardEvent, shown: Shown): void {
		const step = STEP * (event.shiftKey ? 6 : 1);
		if (event.key.startsWith('Arrow')) finish('place');
		const at = { ...middleOf(shown), ...wanted?.place };
		const places: Record<string, Place> = {
			ArrowLeft: { x: inside(at.x - step), y: at.y }, ArrowRight: { x: inside(at.x + step), y: at.y },
			ArrowUp: { x: at.x, y: inside(at.y - step) }, ArrowDown: { x: at.x, y: inside(at.y + step) }
		};
		const place = places[event.key];
		if (place) {
			placing(place, shown.panel, event.altKey);
			settle();
		} else if (['+', '=', '-'].includes(event.key)) closer(event.key === '-' ? 1 / CLOSER : CLOSER, shown);
		else return;
		event.preventDefault();
		event.stopPropagation();
	}

	function wheeled(event: WheelEvent, shown: Shown): void {
		event.preventDefault();
		closer(event.deltaY < 0 ? CLOSER : 1 / CLOSER, shown);
	}

	/** Takes the colour under the pointer for what stands behind. */
	function pick(event: MouseEvent): void {
		frame.picking = false;
		frame.choose({ backdrop: 'colour', colour: colourUnder(canvas, event) });
	}

	function chosen(subject: number, event: MouseEvent): void {
		const others = frame.framed?.subjects ?? [];
		// With Shift held, somebody is added to whom the window shows, or taken away.
		const subjects = event.shiftKey ? (others.includes(subject) ? others.filter((one) => one !== subject) : [...others, subject]) : [subject];
		if (subjects.length) frame.choose(event.shiftKey ? { subjects } : { subjects, layout: 'one' });
	}
</script>

<div class="room" bind:clientWidth={width} bind:clientHeight={height}>
	<div class="picture" style:width="{size.width}px" style:height="{size.height}px">
		<canvas bind:this={canvas} style:width="{size.width}px" style:height="{size.height}px"></canvas>
		{#if frame.drawing}
			<DrawBox box={frame.drawing} onbox={(box) => (frame.drawing = box)} onfollow={follow} oncancel={() => (frame.drawing = null)} />
		{:else if frame.picking}
			<button type="button" class="pick" aria-label="Pick a colour from the picture" onclick={pick}></button>
		{:else if !frame.comparing}
			{#each windows as shown, number (`${shown.version.destination} ${shown.panel}`)}
				{@const { window } = shown}
				{#if shown.active}
					<!-- svelte-ignore a11y_no_noninteractive_element_interactions, a11y_no_noninteractive_tabindex -->
					<div
						class="window active" role="application" tabindex="0" data-own-keys
						aria-label="Crop window of {shown.version.assembly.destination.name}{shown.panel ? `, picture ${shown.panel + 1}` : ''}. Arrow keys move it, plus and minus show closer or wider."
						style:left="{window.x * 100}%" style:top="{window.y * 100}%" style:width="{window.width * 100}%" style:height="{window.height * 100}%"
						onpointerdown={(event) => { grabbed = { x: event.clientX, y: event.clientY, from: middleOf(shown), panel: shown.panel }; event.currentTarget.setPointerCapture(event.pointerId); }}
						onpointermove={dragged} onpointerup={released} onpointercancel={released} onkeydown={(event) => keyed(event, shown)} onwheel={(event) => wheeled(event, shown)}
					></div>
				{:else}
					<div class="window" style:left="{window.x * 100}%" style:top="{window.y * 100}%" style:width="{window.width * 100}%" style:height="{window.height * 100}%">
						{#if shown.panel === 0}<span style:bottom="{15 * number}px">{shown.version.assembly.destination.name}</span>{/if}
					</div>
				{/if}
			{/each}
			{#each people as { subject, box } (subject)}
				<button
					type="button" class="who" data-followed={followed.has(subject)} title="Follow {frame.called(subject)} in this shot. With Shift: show them too"
					style:left="{(box.x + box.width / 2) * 100}%" style:top="max(26px, {(box.y - box.height * 0.5) * 100}%)"
					onclick={(event) => chosen(subject, event)}
				>{frame.called(subject)}</button>
			{/each}
		{/if}
	</div>
	{#if frame.drawing}
		<form onsubmit={(event) => { event.preventDefault(); follow(); }}>
			<label>Draw a box around it. What is it? <input type="text" bind:value={called} maxlength="80" placeholder="the pilot boat" onkeydown={(event) => event.key === 'Escape' && (frame.drawing = null)} /></label>
			<button type="submit" class="go">Follow it</button>
			<button type="button" onclick={() => (frame.drawing = null)}>Cancel</button>
		</form>
	{:else if frame.following !== null}
		<p role="status">Following it through the shot … {(frame.following * 100).toFixed(0)} %</p>
	{:else}
		<p>{#if frame.comparing}The recording, as it was filmed.{:else if frame.picking}Click a colour in the picture.{:else}Drag the window to place it in {active.assembly.destination.name}, with Shift in every shape. Wheel: closer or wider. Click a name to follow them, F to follow anything else.{/if}</p>
	{/if}
</div>

<style>
	.room {
		display: grid;
		place-content: center;
		justify-items: center;
		gap: 6px;
		min-width: 0;
		min-height: 0;
		overflow: hidden;
	}
	p {
		max-width: 560px;
		color: var(--stage-soft);
		font-size: 13px;
		line-height: 16px;
		text-align: center;
	}
	form {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		justify-content: center;
		gap: 6px;
		font-size: 13px;
	}
	form input,
	form button {
		min-height: 28px;
		padding: 0 8px;
		border: 1px solid var(--stage-rule);
		border-radius: var(--radius);
		background: var(--stage-raised);
		color: var(--stage-text);
		font: inherit;
	}
	form .go {
		border-color: var(--found);
		background: var(--found);
		color: var(--ink);
		font-weight: 700;
	}
	.picture {
		position: relative;
		overflow: hidden;
	}
	canvas {
		display: block;
	}
	.window {
		position: absolute;
		outline: 1px solid var(--stage-text);
		outline-offset: -1px;
		pointer-events: none;
		opacity: 0.75;
	}
	.window span {
		position: absolute;
		right: 0;
		max-width: 100%;
		padding: 0 3px;
		background: var(--veil);
		color: var(--stage-text);
		font-size: 12px;
		line-height: 15px;
		white-space: nowrap;
		overflow: hidden;
	}
	.active {
		outline: 2px solid var(--found);
		outline-offset: -2px;
		opacity: 1;
		pointer-events: auto;
		cursor: move;
		touch-action: none;
	}
	.active:focus-visible {
		outline: 4px solid var(--found);
		outline-offset: -4px;
	}
	.pick {
		position: absolute;
		inset: 0;
		border: 0;
		background: none;
		cursor: crosshair;
	}
	.who {
		position: absolute;
		min-height: 24px;
		padding: 0 8px;
		border: 1px solid var(--stage-rule);
		border-radius: 12px;
		background: var(--stage-raised);
		color: var(--stage-text);
		font-size: 13px;
		white-space: nowrap;
		transform: translate(-50%, -100%);
		cursor: pointer;
	}
	.who[data-followed='true'] {
		border-color: var(--found);
		background: var(--found);
		color: var(--ink);
		font-weight: 700;
	}
</style>
