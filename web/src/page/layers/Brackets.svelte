<script lang="ts">
	/** Stretches of words that were kept as quotes, bracketed in the outer margin. */
	import { LINE_PX } from '../layout';
	import { inLanes, theSheet } from '../sheet';
	import type { Bracket } from '../stretches';

	let { brackets }: { brackets: Bracket[] } = $props();

	const sheet = theSheet();
	const lanes = $derived(sheet.laned(inLanes(sheet.laid, brackets)));
</script>

{#each lanes as { one, from, to } (one.id)}
	<svelte:element
		this={one.href ? 'a' : 'div'} class="bracket" href={one.href} data-current={one.current} title={one.label}
		style:top="{from.y + 3}px" style:height="{to.y - from.y + LINE_PX - 6}px" style:right="{10 + Math.min(one.lane, 2) * 16}px"
	>
		<span>{one.label}</span>
	</svelte:element>
{/each}

<style>
	.bracket {
		position: absolute;
		right: 10px;
		width: 34px;
		border: 2px solid var(--kept);
		border-left: 0;
		border-radius: 0 5px 5px 0;
		color: var(--kept);
		text-decoration: none;
	}
	.bracket[data-current='true'] {
		border-color: var(--note);
		color: var(--note);
	}
	.bracket span {
		position: absolute;
		right: 2px;
		top: 2px;
		bottom: 2px;
		overflow: hidden;
		font-size: 12px;
		line-height: 14px;
		writing-mode: vertical-rl;
		white-space: nowrap;
		text-overflow: ellipsis;
	}
	a.bracket:hover {
		background: var(--kept-wash);
	}
</style>
