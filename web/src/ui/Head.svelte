<script lang="ts">
	import Keyboard from '@lucide/svelte/icons/keyboard';
	import Search from '@lucide/svelte/icons/search';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { untrack } from 'svelte';
	import { house } from '$api/house.svelte';
	import { keys } from './keys.svelte';
	import { many } from './say';
	import { trail } from './trail.svelte';

	let { field = $bindable() }: { field?: HTMLInputElement } = $props();

	let typed = $state('');
	$effect(() => {
		const asked = page.url.searchParams.get('q') ?? '';
		untrack(() => {
			if (!sent.has(asked)) typed = asked;
			if (asked === (typed.trim() && typed)) sent.clear();
		});
	});
	/** What was typed and is on its way into the address: the address must not give it back over later letters. */
	const sent = new Set<string>();

	/** In a talk the search looks there while one types; elsewhere, and with Enter on "all talks", in all. */
	function search(inAll: boolean, replace: boolean): void {
		const target = new URL(page.url);
		const talk = trail.recordingId;
		target.pathname = inAll || talk === null ? '/search' : `/talk/${talk}`;
		if (target.pathname !== page.url.pathname) target.search = '';
		if (typed.trim()) target.searchParams.set('q', typed);
		else target.searchParams.delete('q');
		sent.add(target.searchParams.get('q') ?? '');
		void goto(target, { replaceState: replace, keepFocus: true, noScroll: true });
	}
	const inTalk = $derived(trail.recordingId !== null && page.url.pathname.startsWith('/talk/'));
	const saved = $derived(house.saving ? 'Saving…' : 'All changes saved');
</script>

<header>
	<a class="brand" href="/" aria-label="Nimble Quote, to the shelf"><b>”</b> Nimble Quote</a>
	<nav aria-label="Where you are">
		{#each trail.crumbs as crumb, i (i)}
			<span class="mark" aria-hidden="true">›</span>
			{#if crumb.href}<a href={crumb.href}>{crumb.name}</a>{:else}<strong>{crumb.name}</strong>{/if}
		{/each}
	</nav>
	<span class="saved" aria-live="polite">{saved}</span>
	<form role="search" onsubmit={(event) => { event.preventDefault(); search(!inTalk, false); }}>
		<Search size={16} aria-hidden="true" />
		<input
			type="search" placeholder={inTalk ? 'Search this talk  /' : 'Search all talks  /'} aria-label="Search" maxlength="200"
			bind:this={field} bind:value={typed}
			oninput={() => { if (inTalk) search(false, true); }}
			onkeydown={(event) => { if (event.key === 'Escape') field?.blur(); }}
		/>
		{#if inTalk && typed.trim()}
			<button type="button" onclick={() => search(true, false)}>in all talks</button>
		{/if}
	</form>
	{#if house.preparing.length}
		<a class="jobs" href="/" data-busy="true" title={house.preparing.map((one) => one.stage).join(', ')}>
			<span class="dot" aria-hidden="true"></span>{many(house.preparing.length, 'job')}
		</a>
	{/if}
	<a class="jobs" href="/shortlist">Shortlist</a>
	<a class="jobs" href="/calendar">Calendar</a>
	<a class="jobs" href="/house">House</a>
	<a class="jobs" href="/outbox" data-busy={house.working.length > 0}>
		<span class="dot" aria-hidden="true"></span>
		{house.working.length ? `Exporting ${house.working.length}` : 'Outbox'}
	</a>
	<button class="keys" type="button" title="Keyboard shortcuts (?)" aria-label="Keyboard shortcuts" onclick={() => (keys.shown = true)}>
		<Keyboard size={18} />
	</button>
</header>

<style>
	header {
		display: flex;
		align-items: center;
		gap: 14px;
		padding: 0 14px;
		border-bottom: 1px solid var(--rule);
		background: var(--paper-raised);
		min-width: 0;
	}
	.brand {
		display: flex;
		align-items: center;
		gap: 6px;
		font-weight: 700;
		text-decoration: none;
		white-space: nowrap;
	}
	.brand b {
		color: var(--struck);
		font: 600 30px/20px var(--reading);
		height: 14px;
	}
	nav {
		display: flex;
		gap: 8px;
		min-width: 0;
		flex: 1;
		white-space: nowrap;
	}
	nav a,
	nav strong {
		overflow: hidden;
		text-overflow: ellipsis;
		font-weight: 400;
		min-width: 24px;
		flex: 0 4 auto;
	}
	/* Where one is stays readable longest. */
	nav strong {
		flex-shrink: 1;
		min-width: 48px;
	}
	/* What is short as it is gains no room for others. */
	nav a:first-of-type {
		flex-shrink: 0;
	}
	/* The name of the recording stays readable; what comes after it gives way. */
	nav a:nth-of-type(2) {
		flex-shrink: 0;
		max-width: 32ch;
	}
	nav a {
		text-decoration-color: var(--rule);
		text-underline-offset: 3px;
	}
	.mark,
	.saved {
		color: var(--ink-soft);
	}
	.saved {
		font-size: 13px;
		white-space: nowrap;
	}
	form {
		display: flex;
		align-items: center;
		gap: 6px;
		width: 220px;
		height: 32px;
		padding: 0 8px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper);
	}
	form:focus-within {
		border-color: var(--note);
		box-shadow: 0 0 0 1px var(--note);
	}
	input {
		flex: 1;
		min-width: 0;
		border: 0;
		background: none;
		outline: none;
	}
	form button {
		min-height: 24px;
		padding: 0 8px;
		border: 1px solid var(--rule);
		border-radius: 4px;
		background: var(--paper-raised);
		font-size: 13px;
		white-space: nowrap;
		cursor: pointer;
	}
	.jobs {
		display: flex;
		align-items: center;
		gap: 6px;
		min-height: 32px;
		padding: 0 6px;
		text-decoration: none;
		white-space: nowrap;
	}
	.jobs:hover {
		text-decoration: underline;
	}
	.dot {
		width: 10px;
		height: 10px;
		border: 2px solid var(--ink-soft);
		border-radius: 50%;
	}
	[data-busy='true'] .dot {
		border-color: var(--found);
		background: var(--found);
	}
	.keys {
		display: grid;
		place-items: center;
		width: 32px;
		height: 32px;
		border: 0;
		border-radius: var(--radius);
		background: none;
		cursor: pointer;
	}
	.keys:hover {
		background: var(--paper-sunk);
	}
</style>
