<script lang="ts">
	/** A still of a shot, as the shape in hand shows it. */
	import { shotStillUrl, type CutShot } from '$api/client';
	import type { Frame } from './frame.svelte';

	let { frame, shot }: { frame: Frame; shot: CutShot } = $props();

	const HIGH_PX = 42;
	const version = $derived(frame.bench.version);
	const windows = $derived(version ? frame.windowsIn(version, shot) : []);
	const framed = $derived(version ? frame.framedIn(version, shot) : null);
	const filled = $derived(framed?.layout.kind !== 'whole' && windows.length === 1 ? windows[0]! : null);
	const recording = $derived(frame.bench.recording!);
	const aspect = $derived(filled && version ? version.assembly.destination.width / version.assembly.destination.height : recording.width / recording.height);
	const high = $derived(Math.min(HIGH_PX, 40 / aspect));
</script>

<span class="still" style:width="{high * aspect}px" style:height="{high}px">
	<img
		src={shotStillUrl(recording.id, shot.span.start_ms, true)} alt="" loading="lazy"
		style:width="{100 / (filled?.width ?? 1)}%" style:height="{100 / (filled?.height ?? 1)}%"
		style:left="{(-100 * (filled?.x ?? 0)) / (filled?.width ?? 1)}%" style:top="{(-100 * (filled?.y ?? 0)) / (filled?.height ?? 1)}%"
		onerror={(event) => ((event.currentTarget as HTMLImageElement).hidden = true)}
	/>
	{#if !filled}{#each windows as window, i (i)}<i style:left="{window.x * 100}%" style:top="{window.y * 100}%" style:width="{window.width * 100}%" style:height="{window.height * 100}%"></i>{/each}{/if}
</span>

<style>
	.still {
		position: relative;
		flex: none;
		border-radius: 3px;
		background: var(--stage);
		overflow: hidden;
	}
	img {
		position: absolute;
		max-width: none;
	}
	i {
		position: absolute;
		outline: 1px solid var(--found);
		outline-offset: -1px;
	}
</style>
