<script lang="ts">
	import ChevronDown from '@lucide/svelte/icons/chevron-down';
	import ChevronUp from '@lucide/svelte/icons/chevron-up';
	import Quote from '@lucide/svelte/icons/quote';
	import Trash2 from '@lucide/svelte/icons/trash-2';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import { clock, many, quoted, seconds } from '$ui/say';
	import type { Finding } from './find.svelte';

	type Props = { finding: Finding; onkeep: () => void; onmark: (step: number) => void };
	let { finding, onkeep, onmark }: Props = $props();

	const quotes = $derived(finding.recording?.quotes ?? []);
	const chosen = $derived.by(() => {
		const range = finding.selection.range;
		return range ? many(range.last - range.first + 1, 'word') : '';
	});
</script>

<div class="side">
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
				<Button aria-label="Hit before" title="Hit before (Shift+N)" onclick={() => onmark(-1)}>{#snippet icon()}<ChevronUp size={16} />{/snippet}</Button>
				<Button aria-label="Next hit" title="Next hit (N)" onclick={() => onmark(1)}>{#snippet icon()}<ChevronDown size={16} />{/snippet}</Button>
			{:else}
				<a href="/search?q={encodeURIComponent(finding.searched)}">Search all talks</a>
			{/if}
			{#if finding.note}<p class="note">{finding.note}</p>{/if}
		</section>
	{/if}
	<section class="keep">
		<Button kind="main" disabled={!chosen} title="Keep as quote (Q)" onclick={onkeep}>
			{#snippet icon()}<Quote size={16} />{/snippet}Keep as quote
		</Button>
		<span>{chosen ? `${chosen} selected` : 'Select words on the page'}</span>
	</section>
	<h2>Kept quotes <span>{quotes.length || ''}</span></h2>
	{#if quotes.length}
		<ul>
			{#each quotes as quote (quote.id)}
				<li>
					<a href="/quote/{quote.id}/trim">
						<span class="when">{clock(quote.span.start_ms)} · {seconds(quote.length_ms)}</span>
						<strong>{quote.title}</strong>
						<span class="text">{quote.text}</span>
					</a>
					<Button kind="quiet" aria-label="Remove “{quote.title}”" title="Remove from the list" onclick={() => house.trying(() => finding.remove(quote))}>
						{#snippet icon()}<Trash2 size={16} />{/snippet}
					</Button>
				</li>
			{/each}
		</ul>
	{:else}
		<p class="empty">None yet. A quote you keep is bracketed beside its words and waits here to be trimmed, framed and captioned.</p>
	{/if}
</div>

<style>
	.side {
		min-height: 0;
		overflow-y: auto;
		padding: 12px 14px;
	}
	.hits,
	.keep {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 8px;
		padding-bottom: 10px;
		margin-bottom: 10px;
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
	h2 {
		font-size: 15px;
	}
	h2 span {
		color: var(--ink-soft);
		font-weight: 400;
	}
	li {
		display: flex;
		align-items: start;
		border-bottom: 1px solid var(--rule);
	}
	li a {
		display: grid;
		flex: 1;
		min-width: 0;
		padding: 10px 0;
		text-decoration: none;
	}
	li a:hover strong {
		text-decoration: underline;
	}
	li :global(button) {
		margin-top: 8px;
	}
	.when {
		color: var(--ink-soft);
		font-size: 13px;
	}
	.text {
		display: -webkit-box;
		overflow: hidden;
		-webkit-box-orient: vertical;
		-webkit-line-clamp: 2;
		line-clamp: 2;
		color: var(--ink-soft);
		font: 14px/20px var(--reading);
	}
	.empty {
		padding: 8px 0;
		color: var(--ink-soft);
	}
</style>
