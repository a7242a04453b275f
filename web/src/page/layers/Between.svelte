<script lang="ts">
	/** What stands between the lines: who speaks, and pauses. */
	import type { PauseChip, Pauses } from '../pauses';
	import { theSheet } from '../sheet';
	import PauseButton from './PauseButton.svelte';

	type Props = { pauses: Pauses; onpause?: (pause: PauseChip) => void; tone: (speaker: string) => number | undefined };
	let { pauses, onpause, tone }: Props = $props();

	const sheet = theSheet();
	const chips = $derived(sheet.near(sheet.laid.chips));
</script>

{#each chips as chip (chip.kind + chip.y)}
	{@const colour = chip.kind === 'speaker' ? tone(chip.text) : undefined}
	{@const pause = chip.kind === 'pause' ? pauses.get(chip.word - 1) : undefined}
	<div class="chip" data-kind={chip.kind} class:handled={pause} style:top="{chip.y}px">
		{#if pause}
			<PauseButton {pause} {onpause} />
		{:else}{#if colour !== undefined}<i style:background="var(--speaker-{colour})"></i>{/if}{chip.text}{/if}
	</div>
{/each}

<style>
	.chip {
		position: absolute;
		left: 132px;
		font-size: 13px;
		line-height: 22px;
		color: var(--ink-soft);
	}
	.chip.handled {
		border: 0;
		padding: 0;
	}
	/* A pause is space on the page, with a bar in the margin of the wave and its length beside it. */
	.chip.handled[data-kind='pause'] {
		left: 116px;
	}
	.chip[data-kind='pause']:not(.handled) {
		padding-left: 8px;
		border-left: 2px solid var(--rule);
		line-height: 20px;
		font-size: 12px;
		font-variant-numeric: tabular-nums;
	}
	.chip[data-kind='speaker'] {
		font-weight: 700;
		line-height: 30px;
	}
	.chip i {
		display: inline-block;
		width: 9px;
		height: 9px;
		margin-right: 7px;
		border-radius: 50%;
	}
</style>
