<script lang="ts">
	import Trash2 from '@lucide/svelte/icons/trash-2';
	import { api, ask, asBody } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import { clock, seconds } from '$ui/say';
	import type { Finding } from './find.svelte';

	let { finding }: { finding: Finding } = $props();

	const quotes = $derived(finding.recording?.quotes ?? []);

	/** Keeps what was cut of this recording in another program. */
	async function bring(file: File | undefined): Promise<void> {
		if (!file) return;
		const kind = file.name.toLowerCase().endsWith('.edl') ? 'edl' : 'otio';
		const made = await house.trying(() =>
			ask(api.POST('/api/recordings/{recording_id}/timeline', {
				params: { path: { recording_id: finding.id }, query: { kind } }, ...asBody(file)
			}))
		);
		if (!made) return;
		await finding.refresh();
		const left = made.left_out.length ? ` Left out: ${made.left_out.join('; ')}.` : '';
		house.tell(left ? 'bad' : 'good', `Imported ${made.quotes.map((one) => `“${one.title}”`).join(' and ')}.${left}`);
	}
</script>

<div class="side">
	<h2>Kept quotes <span>{quotes.length || ''}</span>{#if quotes.length}<a href="/shortlist?talk={finding.id}">Compare them on the shortlist</a>{/if}</h2>
	<label class="bring">Import a cut (OTIO, EDL)<input type="file" accept=".otio,.edl" onchange={(event) => { void bring(event.currentTarget.files?.[0]); event.currentTarget.value = ''; }} /></label>
	{#if quotes.length}
		<ul>
			{#each quotes as quote (quote.id)}
				<li>
					<a href="/quote/{quote.id}/trim">
						<span class="when">{clock(quote.span.start_ms)} · {seconds(quote.length_ms)}{quote.posted ? ` · posted to ${quote.posted}` : quote.made ? ' · exported' : ''}</span>
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
	.bring {
		position: relative;
		display: inline-block;
		min-height: 24px;
		color: var(--note);
		font-size: 14px;
		text-decoration: underline;
		text-underline-offset: 3px;
		cursor: pointer;
	}
	.bring input {
		position: absolute;
		width: 1px;
		opacity: 0;
	}
	.bring:has(:focus-visible) {
		outline: 2px solid var(--note);
		outline-offset: 2px;
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
