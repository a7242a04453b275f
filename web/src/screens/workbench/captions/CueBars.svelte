<script lang="ts">
	/** Three small bars: how fast a cue is read, how full its longest line is, how well it can be told from the picture. */
	import type { CueContrast } from '$api/client';

	type Props = { speed: number; fastest: number; longest: number; room: number; contrast: CueContrast | null };
	let { speed, fastest, longest, room, contrast }: Props = $props();

	const part = (value: number) => `${Math.min(100, Math.max(6, value * 100))}%`;
	const bars = $derived([
		{ name: 'Reading speed', says: `${speed.toFixed(0)} of ${fastest.toFixed(0)} characters a second`, fill: speed / fastest, bad: speed > fastest * 1.001 },
		{ name: 'Line', says: `${longest} of ${room} characters`, fill: longest / room, bad: longest > room },
		...(contrast === null ? [] : [{ name: 'Contrast', says: `${contrast.contrast.toFixed(1)} to 1`, fill: contrast.contrast / 12, bad: contrast.doubtful }])
	]);
</script>

<span class="bars">
	{#each bars as bar (bar.name)}
		<span class="bar" role="img" aria-label="{bar.name}: {bar.says}" title="{bar.name}: {bar.says}" data-bad={bar.bad}><i style:width={part(bar.fill)}></i></span>
	{/each}
</span>

<style>
	.bars {
		display: grid;
		gap: 3px;
		width: 46px;
		padding: 4px 0;
	}
	.bar {
		display: block;
		height: 5px;
		border-radius: 3px;
		background: var(--rule);
		overflow: hidden;
	}
	.bar i {
		display: block;
		height: 100%;
		border-radius: 3px;
		background: var(--kept);
	}
	.bar[data-bad='true'] i {
		background: var(--warn);
	}
</style>
