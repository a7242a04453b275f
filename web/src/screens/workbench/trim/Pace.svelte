<script lang="ts">
	/** How fast a stretch plays in which something is shown and nothing is said, and whether it is heard. */
	import Button from '$ui/Button.svelte';
	import Check from '$ui/Check.svelte';
	import type { Trim } from './trim.svelte';

	let { trim, fromMs, toMs }: { trim: Trim; fromMs: number; toMs: number } = $props();
	const TIMES = [1.5, 2, 3, 4];
	const fast = $derived(trim.fastBetween(fromMs, toMs));
	const play = (times: number | null, silent = fast?.silent ?? false) => void trim.playFast(fromMs, toMs, times, silent);
</script>

<div class="pace" role="group" aria-label="Speed of this stretch" title="For what is shown while nothing is said">
	<span class="name">Plays</span>
	<Button pressed={!fast} onclick={() => play(null)}>1×</Button>
	{#each TIMES as times (times)}<Button pressed={fast?.times === times} onclick={() => play(times)}>{times}×</Button>{/each}
</div>
{#if fast}<Check name="Silent" checked={fast.silent ?? false} onset={(silent) => play(fast.times, silent)} />{/if}

<style>
	.pace {
		display: flex;
		align-items: center;
		gap: 4px;
		margin-top: 8px;
	}
	.pace :global(button) {
		padding-inline: 7px;
	}
	.name {
		margin-right: auto;
		color: var(--ink-soft);
		font-size: 14px;
	}
</style>
