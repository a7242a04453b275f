<script lang="ts">
	import Trash2 from '@lucide/svelte/icons/trash-2';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import { clock, seconds } from '$ui/say';
	import type { Finding } from './find.svelte';

	let { finding }: { finding: Finding } = $props();

	const quotes = $derived(finding.recording?.quotes ?? []);
</script>

<div class="side">
	<h2>Kept quotes <span>{quotes.length || ''}</span>{#if quotes.length}<a href="/shortlist?talk={finding.id}">Compare them on the shortlist</a>{/if}</h2>
	{#if quotes.length}
		<ul>
			{#each quotes as quote (quote.id)}
				<li>
					<a href="/quote/{quote.id}/trim">
						<span class="when">{clock(quote.span.start_ms)} · {seconds(quote.length_ms)}{quote.made ? ' · exported' : ''}</span>
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
	h2 {
		font-size: 15px;
	}
	h2 a {
		margin-left: 12px;
		font-size: 14px;
		font-weight: 400;
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
