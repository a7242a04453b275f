<script lang="ts">
	import ChevronDown from '@lucide/svelte/icons/chevron-down';
	import ChevronUp from '@lucide/svelte/icons/chevron-up';
	import Quote from '@lucide/svelte/icons/quote';
	import Button from '$ui/Button.svelte';
	import { many, quoted } from '$ui/say';
	import type { Finding } from './find.svelte';

	/** What was searched for and what is selected, whichever tab is open. */
	type Props = { finding: Finding; onkeep: () => void; onmark: (step: number) => void };
	let { finding, onkeep, onmark }: Props = $props();

	const chosen = $derived.by(() => {
		const range = finding.selection.range;
		return range ? many(range.last - range.first + 1, 'word') : '';
	});
</script>

<div>
	{#if finding.searched}
		<section class="hits" aria-label="Search in this talk">
			<p aria-live="polite">
				{#if finding.marks.length}
					<b>{finding.markAt + 1} of {finding.marks.length}</b> for {quoted(finding.searched)}
				{:else}
					Nothing here answers {quoted(finding.searched)}.
				{/if}
			</p>
			{#if finding.marks.length}
				<Button aria-label="Previous match" title="Previous match (Shift+N)" onclick={() => onmark(-1)}>{#snippet icon()}<ChevronUp size={16} />{/snippet}</Button>
				<Button aria-label="Next match" title="Next match (N)" onclick={() => onmark(1)}>{#snippet icon()}<ChevronDown size={16} />{/snippet}</Button>
			{:else}
				<a href="/search?q={encodeURIComponent(finding.searched)}">Search all talks</a>
			{/if}
			{#each finding.notes as note (note)}<p class="note">{note}</p>{/each}
		</section>
	{/if}
	<section class="keep">
		<Button kind="main" disabled={!chosen} title="Keep as quote (Q)" onclick={onkeep}>
			{#snippet icon()}<Quote size={16} />{/snippet}Keep as quote
		</Button>
		<span>{chosen ? `${chosen} selected` : 'Select words on the page'}</span>
	</section>
</div>

<style>
	.hits,
	.keep {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 8px;
		padding: 8px 14px;
		border-bottom: 1px solid var(--rule);
	}
	.hits p:first-child {
		flex: 1;
	}
	.note {
		flex-basis: 100%;
		color: var(--ink-soft);
		font-size: 13px;
	}
	.keep span {
		color: var(--ink-soft);
	}
	.keep :global(button span) {
		color: inherit;
	}
</style>
