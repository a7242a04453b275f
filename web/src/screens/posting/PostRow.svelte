<script lang="ts">
	/** A post: where it goes, when, how it stands, and what can be done with it. */
	import { untrack } from 'svelte';
	import ExternalLink from '@lucide/svelte/icons/external-link';
	import type { HousePosting, Post } from '$api/client';
	import Button from '$ui/Button.svelte';
	import { cancel, describe, hold, move, schedule, takeDown } from './posts';
	import { CLIPS, isUnsent, STATES, wallTime } from './say';

	let { post, settings, named = false }: { post: Post; settings: HousePosting | null; named?: boolean } = $props();
	let wall = $state(untrack(() => post.wall.slice(0, 16)));
	$effect(() => void (wall = post.wall.slice(0, 16)));
	const unsent = $derived(isUnsent(post));
	const accounts = $derived(settings?.accounts ?? []);

	function moved(): void {
		if (wall && wall !== post.wall.slice(0, 16)) void move(post, wall).then((done) => { if (!done) wall = post.wall.slice(0, 16); });
	}
</script>

<article aria-label="{post.destination_name} of {post.quote_title}, {STATES[post.state]}">
	<p class="head">
		<b class="state" data-state={post.state}>{STATES[post.state]}</b>
		<span>{post.destination_name}{post.account ? ` · ${post.account}, ${post.service}` : ''}</span>
	</p>
	{#if named}<h3><a href="/quote/{post.quote_id}/post">{post.text.title || post.quote_title}</a></h3><p class="soft">{post.recording_title}</p>{/if}
	{#if post.state === 'sending'}
		<p class="going" role="status"><progress max="1" value={post.progress ?? undefined} aria-label="Posting"></progress>{post.cancelling ? 'being cancelled' : ''}</p>
	{/if}
	{#if post.problem && post.state !== 'posted'}<p class="problem" data-bad={post.state === 'failed'}>{post.problem}</p>{/if}
	{#if unsent}
		<div class="fields">
			<label class="whole">When, in {post.zone} <input type="datetime-local" aria-label="When" bind:value={wall} onchange={moved} /></label>
			<label>Account
				<select value={String(post.account_id ?? '')} onchange={(event) => void describe(post, Number(event.currentTarget.value) || null, post.visibility)}>
					<option value="">choose…</option>
					{#each accounts as one (one.id)}<option value={String(one.id)}>{one.name}, {one.service}{one.signed_in ? '' : ' (signed out)'}</option>{/each}
				</select>
			</label>
			<label>Visible to
				<select value={post.visibility} onchange={(event) => void describe(post, post.account_id, event.currentTarget.value as Post['visibility'])}>
					<option value="public">everyone</option><option value="unlisted">anyone with the link</option><option value="private">nobody yet</option>
				</select>
			</label>
		</div>
		<p class="soft">{CLIPS[post.clip]}{post.state === 'scheduled' ? ', with the text as it was when you scheduled it' : ''}</p>
	{:else}
		<p class="soft">{wallTime(post.wall)}{post.visibility === 'public' ? '' : post.visibility === 'unlisted' ? ', for anyone with the link' : ', for nobody yet'}</p>
	{/if}
	<div class="does">
		{#if post.state === 'draft' || post.state === 'failed'}
			<Button kind="main" disabled={!post.account_id} onclick={() => void schedule(post, false)}>Schedule</Button>
			<Button disabled={!post.account_id} onclick={() => void schedule(post, true)}>Post now</Button>
		{:else if post.state === 'scheduled'}
			<Button title="With the clip and the text as they are now" onclick={() => void schedule(post, false)}>Update clip and text</Button>
			<Button onclick={() => void schedule(post, true)}>Post now</Button>
			<Button kind="quiet" onclick={() => void hold(post)}>Back to draft</Button>
		{/if}
		{#if unsent || (post.state === 'sending' && !post.cancelling)}<Button kind="quiet" onclick={() => void cancel(post)}>{post.state === 'draft' ? 'Remove' : 'Cancel'}</Button>{/if}
		{#if post.state === 'posted'}
			{#if post.address}<a href={post.address} target="_blank" rel="noreferrer"><ExternalLink size={15} aria-hidden="true" /> Open the post</a>{/if}
			<Button kind="quiet" onclick={() => void takeDown(post)}>Take down</Button>
		{/if}
	</div>
	{#if unsent && !accounts.length}<p class="soft">No account is connected. <a href="/house#posting">Connect one in House</a>.</p>{/if}
</article>

<style>
	article {
		display: grid;
		gap: 6px;
		padding: 10px 0;
		border-top: 1px solid var(--rule);
	}
	.head {
		display: flex;
		flex-wrap: wrap;
		gap: 2px 10px;
	}
	h3 {
		font: 600 17px/24px var(--reading);
		overflow-wrap: anywhere;
	}
	.state[data-state='posted'] {
		color: var(--good);
	}
	.state[data-state='failed'] {
		color: var(--bad);
	}
	.state[data-state='scheduled'],
	.state[data-state='sending'] {
		color: var(--note);
	}
	.soft {
		color: var(--ink-soft);
		font-size: 14px;
	}
	.problem {
		padding: 6px 10px;
		border-left: 3px solid var(--warn);
		background: var(--warn-wash);
	}
	.problem[data-bad='true'] {
		border-color: var(--bad);
		background: var(--bad-wash);
	}
	.fields {
		display: grid;
		grid-template-columns: repeat(2, minmax(0, 1fr));
		gap: 6px 12px;
		align-items: end;
	}
	label {
		display: grid;
		gap: 2px;
		font-size: 14px;
	}
	.whole {
		grid-column: 1 / -1;
	}
	.fields input {
		width: 100%;
		min-height: 32px;
		padding: 4px 8px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
	}
	.does {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 6px;
	}
	.does a {
		display: inline-flex;
		align-items: center;
		gap: 5px;
		min-height: 32px;
		padding-right: 8px;
	}
	progress {
		width: 140px;
		accent-color: var(--kept);
	}
</style>
