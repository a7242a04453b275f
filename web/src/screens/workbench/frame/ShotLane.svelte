<script lang="ts">
	/** The shots of the cut as blocks beside the words, each with a still and how it is framed. */
	import Scissors from '@lucide/svelte/icons/scissors';
	import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
	import type { FramedShot } from '$api/client';
	import { theSheet } from '$page/sheet';
	import { seconds } from '$ui/say';
	import type { Frame } from './frame.svelte';
	import { camerasOf, restsOf } from './rests';
	import Still from './Still.svelte';

	let { frame }: { frame: Frame } = $props();

	const LEAST_PX = 30;
	const sheet = theSheet();
	const kept = $derived(frame.bench.cut?.kept ?? []);
	/** From where to where a shot is kept: struck words before and after it are no part of its block. */
	const blocks = $derived(
		frame.shots.flatMap((shot, number) => {
			const inside = kept.filter((one) => one.start_ms < shot.span.end_ms && one.end_ms > shot.span.start_ms);
			const first = inside[0];
			if (!first || !sheet.laid.lines.length) return [];
			const y = sheet.yAt(Math.max(first.start_ms, shot.span.start_ms));
			const end = Math.max(y + LEAST_PX, sheet.yAt(Math.min(inside.at(-1)!.end_ms, shot.span.end_ms)));
			const version = frame.bench.version;
			const framed = version ? frame.framedIn(version, shot) : null;
			return sheet.shows(y, end) ? [{ shot, number, y, end, framed, doubts: frame.doubtsOf(shot), moves: movesOf(framed, y, end) }] : [];
		})
	);
	/** Where the first camera moves: the stretches between its rests, in pixels down the block. */
	function movesOf(framed: FramedShot | null, y: number, end: number): { top: number; height: number; says: string }[] {
		const [camera] = framed ? camerasOf(framed.layout) : [];
		const rests = camera ? restsOf(camera) : [];
		return rests.slice(1).flatMap((rest, index) => {
			const [from, to] = [sheet.yAt(rests[index]!.to_ms), sheet.yAt(rest.from_ms)];
			if (to < y || from > end) return [];
			return [{ top: Math.max(0, from - y), height: Math.max(5, Math.min(end, to) - Math.max(y, from)), says: `moves for ${seconds(rest.from_ms - rests[index]!.to_ms)}` }];
		});
	}
	const lengthOf = (spans: { start_ms: number; end_ms: number }[]) => seconds(spans.reduce((sum, one) => sum + one.end_ms - one.start_ms, 0));
</script>

{#each blocks as { shot, number, y, end, framed, doubts, moves } (shot.span.start_ms)}
	<button
		type="button" class="block" aria-current={number === frame.here} aria-label="Shot {number + 1}: {framed?.says ?? 'not shown in this version'}{doubts.length ? `. Doubtful: ${doubts.map((one) => one.says).join('; ')}` : ''}"
		data-doubtful={doubts.length > 0} style:top="{y + 1}px" style:height="{end - y - 3}px" onclick={() => frame.go(number)}
	>
		{#each moves as one (one.top)}<span class="move" title={one.says} style:top="{one.top}px" style:height="{one.height}px"></span>{/each}
		<span class="inside">
			<Still {frame} {shot} />
			<span class="words">
				<b>{number + 1}{#if shot.parted}<i title="The framing was split here"><Scissors size={12} /></i>{/if}</b>
				<span>{framed?.says ?? 'not in this version'}</span>
				{#if doubts.length}<em><TriangleAlert size={12} />{doubts[0]!.says}</em>{/if}
				{#if framed}<small>{lengthOf(framed.kept)}</small>{/if}
			</span>
		</span>
	</button>
{/each}

<style>
	.block {
		position: absolute;
		right: 12px;
		width: 124px;
		padding: 0;
		border: 1px solid var(--rule);
		border-left: 3px solid var(--kept);
		border-radius: 4px;
		background: var(--paper-raised);
		text-align: left;
		overflow: hidden;
		cursor: pointer;
	}
	.block:hover {
		background: var(--paper-sunk);
	}
	.block[data-doubtful='true'] {
		border-left-color: var(--warn);
	}
	.block[aria-current='true'] {
		border-color: var(--ink);
		border-left-width: 5px;
		background: var(--kept-wash);
	}
	.block[aria-current='true'][data-doubtful='true'] {
		border-left-color: var(--warn);
		background: var(--warn-wash);
	}
	.move {
		position: absolute;
		right: 0;
		width: 7px;
		background: repeating-linear-gradient(-45deg, var(--note) 0 3px, var(--note-wash) 3px 6px);
	}
	.inside {
		position: absolute;
		inset: 0;
		display: flex;
		gap: 6px;
		padding: 3px 4px;
		font-size: 12px;
		line-height: 15px;
	}
	.words {
		display: grid;
		align-content: start;
		min-width: 0;
	}
	b i {
		margin-left: 4px;
	}
	em {
		color: var(--warn);
		font-style: normal;
		font-weight: 700;
	}
	em :global(svg) {
		margin-right: 3px;
		vertical-align: -1px;
	}
	small {
		color: var(--ink-soft);
		font-size: 12px;
	}
</style>
