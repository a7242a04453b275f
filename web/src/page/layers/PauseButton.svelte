<script lang="ts">
	/** A pause with its length, to be taken in hand. */
	import { chipText, chipTip, type PauseChip } from '../pauses';

	let { pause, onpause }: { pause: PauseChip; onpause?: (pause: PauseChip) => void } = $props();
</script>

<button
	type="button" tabindex="-1" class="pause" data-changed={pause.said !== pause.kept && !pause.join} data-chosen={pause.chosen} title={chipTip(pause)}
	onpointerdown={(event) => event.stopPropagation()} onclick={() => onpause?.(pause)}>{chipText(pause)}</button>

<style>
	.pause {
		min-width: 44px;
		max-width: 78px;
		min-height: 24px;
		margin: 0 3px;
		padding: 0 2px 0 6px;
		border: 0;
		border-left: 2px solid var(--ink-soft);
		border-radius: 0;
		background: none;
		color: var(--ink-soft);
		font: 12px/18px var(--ui);
		font-variant-numeric: tabular-nums;
		text-align: left;
		vertical-align: 1px;
		cursor: pointer;
	}
	.pause:hover {
		background: var(--paper-sunk);
	}
	.pause[data-changed='true'] {
		border-left-color: var(--struck);
		color: var(--struck);
	}
	.pause[data-chosen='true'] {
		border-left: 4px solid var(--note);
		padding-left: 4px;
		background: var(--note-wash);
		color: var(--ink);
	}
</style>
