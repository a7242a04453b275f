<script lang="ts">
	/** The house's colours to choose one from; what else can be chosen stands after them. */
	import type { Snippet } from 'svelte';
	import { house } from '$api/house.svelte';

	type Props = { name: string; each: string; value: string | null | undefined; onset: (colour: string) => void; children?: Snippet };
	let { name, each, value, onset, children }: Props = $props();
</script>

<div class="row" role="group" aria-label={name}>
	{#each house.palette as colour (colour)}
		<button type="button" class="swatch" style:background={colour} aria-label="{each} {colour}" aria-pressed={value === colour} onclick={() => onset(colour)}></button>
	{/each}
	{@render children?.()}
</div>

<style>
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 4px;
	}
	.swatch {
		width: 28px;
		height: 28px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		cursor: pointer;
	}
	.swatch[aria-pressed='true'] {
		outline: 2px solid var(--kept);
		outline-offset: 1px;
	}
</style>
