<script lang="ts">
	import type { Offer } from '$api/client';
	import Button from '$ui/Button.svelte';
	import { many } from '$ui/say';
	import type { Bites } from './bites.svelte';

	/** What the finder has learned from what this house kept and passed over. */
	let { bites, taste }: { bites: Bites; taste: Offer['taste'] } = $props();

	const nameOf = (feature: string) => bites.list[0]?.reasons.find((one) => one.feature === feature)?.name ?? feature.replaceAll('_', ' ');
	const moved = $derived(taste.shifts.filter((one) => Math.abs(one.times - 1) >= 0.01));
</script>

<details>
	<summary>What counts for you</summary>
	{#if taste.choices}
		<p>Learned from {many(taste.choices, 'choice')} of yours. Against how it began, in the judging now:</p>
		<ul>
			{#each moved as one (one.feature)}<li><span>{nameOf(one.feature)}</span> counts {one.times.toFixed(2)} times as much</li>{/each}
		</ul>
		<Button onclick={() => bites.forgetTaste()}>Reset</Button>
	{:else}
		<p>Each soundbite is judged by nine features. What you keep, park or call “not this kind” shifts how much each of them counts.</p>
	{/if}
</details>

<style>
	details {
		margin-top: 12px;
		color: var(--ink-soft);
	}
	summary {
		cursor: pointer;
		color: var(--ink);
	}
	ul {
		padding: 6px 0 10px;
	}
	li span {
		color: var(--ink);
	}
</style>
