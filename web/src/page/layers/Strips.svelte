<script lang="ts">
	/** Stretches of time in lanes beside the words: shots, faces. */
	import { theSheet } from '../sheet';
	import type { Strip } from '../stretches';

	let { strips, onstrip }: { strips: Strip[]; onstrip?: (strip: Strip) => void } = $props();

	const sheet = theSheet();
	const seen = $derived(
		sheet.laid.lines.length
			? strips.map((one) => ({ one, y: sheet.yAt(one.fromMs), end: sheet.yAt(one.toMs) })).filter((strip) => sheet.shows(strip.y, strip.end))
			: []
	);
</script>

{#each seen as { one, y, end } (one.id)}
	<button
		type="button" tabindex="-1" class="strip" class:by-hand={one.byHand} title={one.label} aria-label={one.label}
		style:right="{52 + one.lane * 13}px" style:top="{y + 1}px" style:height="{Math.max(3, end - y - 2)}px"
		style:background="var(--speaker-{one.tone})" onclick={() => onstrip?.(one)}
	></button>
{/each}

<style>
	.strip {
		position: absolute;
		width: 9px;
		padding: 0;
		border: 0;
		border-radius: 2px;
		opacity: 0.75;
		cursor: pointer;
	}
	.strip:hover {
		opacity: 1;
	}
	.by-hand {
		border-top: 3px solid var(--note);
	}
</style>
