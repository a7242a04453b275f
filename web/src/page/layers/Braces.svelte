<script lang="ts">
	/** Stretches of words that are offered, braced in the margin. */
	import { LINE_PX } from '../layout';
	import { theSheet } from '../sheet';
	import type { Brace } from '../stretches';

	let { braces, onbrace }: { braces: Brace[]; onbrace?: (index: number) => void } = $props();

	const sheet = theSheet();
	const braced = $derived(sheet.laned(braces));
</script>

{#each braced as { one, index, from, to } (index)}
	<button
		type="button" tabindex="-1" class="brace" data-current={one.current} title={one.label} aria-label={one.label}
		style:top="{from.y + 2}px" style:height="{to.y - from.y + LINE_PX - 4}px" onclick={() => onbrace?.(index)}
	></button>
{/each}

<style>
	.brace {
		position: absolute;
		left: 117px;
		width: 10px;
		padding: 0;
		border: 3px solid var(--found);
		border-right: 0;
		border-radius: 6px 0 0 6px;
		background: none;
		cursor: pointer;
	}
	.brace:hover,
	.brace[data-current='true'] {
		background: var(--found);
	}
</style>
