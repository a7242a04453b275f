<script lang="ts">
	/** The exports of one quote: its files as small pictures in their shape, and one line where all is well. */
	import CircleCheck from '@lucide/svelte/icons/circle-check';
	import CalendarPlus from '@lucide/svelte/icons/calendar-plus';
	import FolderArchive from '@lucide/svelte/icons/folder-archive';
	import OctagonAlert from '@lucide/svelte/icons/octagon-alert';
	import { zipUrl } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import { day, many } from '$ui/say';
	import { STATES, wallTime } from '../posting/say';
	import { saidOf, type Card } from './cards';
	import type { Outbox } from './outbox.svelte';
	import VersionTile from './VersionTile.svelte';

	let { outbox, card }: { outbox: Outbox; card: Card } = $props();
	const said = $derived(saidOf(card));
	const made = $derived(card.exports.filter((one) => one.state === 'done'));
	const changed = $derived(made.find((one) => !one.current));
	const posts = $derived(house.posts.filter((one) => one.quote_id === card.quoteId).slice(0, 4));
	let since = $state.raw<string[] | null>(null);

	async function look(): Promise<void> {
		since = since ? null : ((await house.trying(() => outbox.changes(changed!))) ?? null);
	}
</script>

<li>
	<header>
		<div>
			<h2><a href="/quote/{card.quoteId}/check">{card.title}</a></h2>
			<p class="soft"><a href="/talk/{card.recordingId}">{card.recording}</a> · {day(card.at)}{card.older ? ` · ${many(card.older, 'earlier export')}` : ''}</p>
		</div>
		<div class="side">
			<p class="state" data-kind={said.kind}>
				{#if said.kind === 'good'}<CircleCheck size={18} aria-hidden="true" />{:else if said.kind === 'bad'}<OctagonAlert size={18} aria-hidden="true" />{/if}
				{said.says}
			</p>
			<a class="zip" href="/quote/{card.quoteId}/post" title="Its text, its posts, and handing it to a phone"><CalendarPlus size={16} aria-hidden="true" /> Post</a>
			{#if made.length > 1}
				<a class="zip" href={zipUrl(made.map((one) => one.id))} download title="With captions, covers and credits"><FolderArchive size={16} aria-hidden="true" /> Download all {made.length}</a>
			{/if}
		</div>
	</header>
	{#if posts.length}<p class="soft">{posts.map((one) => `${STATES[one.state]}: ${one.destination_name}${one.account ? ` to ${one.account}` : ''}, ${wallTime(one.wall)}`).join(' · ')}</p>{/if}
	{#if changed}
		<p class="changed">The quote was changed since this was exported. <Button kind="quiet" onclick={look}>{since ? 'Hide' : 'What changed?'}</Button></p>
		{#if since}<ol>{#each since as line, i (i)}<li class="line">{line}</li>{/each}</ol>{/if}
	{/if}
	<ul class="tiles">
		{#each card.exports as one (one.id)}<VersionTile {outbox} {one} />{/each}
	</ul>
</li>

<style>
	li {
		padding: 16px 0;
		border-bottom: 1px solid var(--rule);
	}
	header {
		display: flex;
		gap: 16px;
		justify-content: space-between;
	}
	h2 {
		font: 600 18px/24px var(--reading);
		overflow-wrap: anywhere;
	}
	a {
		text-decoration-color: var(--rule);
		text-underline-offset: 4px;
	}
	.soft,
	.changed {
		color: var(--ink-soft);
		font-size: 14px;
	}
	.side {
		display: flex;
		flex-wrap: wrap;
		flex: none;
		gap: 8px;
		align-items: center;
		justify-content: end;
	}
	.state {
		display: flex;
		align-items: center;
		gap: 6px;
	}
	.state[data-kind='good'] {
		color: var(--good);
		font-weight: 700;
	}
	.state[data-kind='bad'] {
		color: var(--bad);
		font-weight: 700;
	}
	.state[data-kind='going'] {
		color: var(--note);
	}
	.zip {
		display: inline-flex;
		align-items: center;
		gap: 6px;
		min-height: 32px;
		padding: 0 10px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
		text-decoration: none;
	}
	ol {
		margin: 4px 0 8px 20px;
		font-size: 14px;
	}
	.line {
		padding: 2px 0;
		border: 0;
		list-style: decimal;
	}
	.tiles {
		display: grid;
		grid-template-columns: repeat(auto-fill, minmax(240px, 1fr));
		gap: 12px 20px;
		margin-top: 12px;
	}
</style>
