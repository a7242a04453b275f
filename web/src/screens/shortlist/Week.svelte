<script lang="ts">
	import { onMount } from 'svelte';
	import CalendarPlus from '@lucide/svelte/icons/calendar-plus';
	import { goto } from '$app/navigation';
	import { api, ask } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Dialog from '$ui/Dialog.svelte';
	import Field from '$ui/Field.svelte';
	import Check from '$ui/Check.svelte';
	import { many, seconds } from '$ui/say';
	import type { Shortlist } from './shortlist.svelte';

	/** A balanced week of posts out of the quotes on the list; each post can be swapped. */
	let { list, onclose }: { list: Shortlist; onclose: () => void } = $props();
	let posts = $state(4);
	let wanted = $state.raw<string[]>(['tall-60']);
	let choosing = $state(false);

	const slip = (id: number) => list.slips?.find((one) => one.id === id);
	function turn(id: string, on: boolean): void {
		wanted = on ? [...wanted, id] : wanted.filter((one) => one !== id);
	}
	/** A day of the week that the posts are planned for. */
	let from = $state('');
	onMount(async () => {
		from = (await house.trying(() => ask(api.GET('/api/house/posting'))))?.next_week ?? '';
	});

	async function suggest(): Promise<void> {
		choosing = true;
		try {
			await list.suggestWeek(posts, wanted);
		} finally {
			choosing = false;
		}
	}
	/** Spreads the week over the calendar, as drafts. */
	async function plan(): Promise<void> {
		const wanted = (list.week ?? []).map((post): [number, string] => [post.quote_id, post.destination]);
		const planned = await house.trying(() => ask(api.POST('/api/posts/week', { body: { week_of: from, posts: wanted, by: house.person || null } })));
		await house.refreshPosts();
		if (!planned) return;
		for (const note of planned.notes) house.tell('good', note);
		house.tell('good', `${many(planned.posts.length, 'draft')} in the calendar.`);
		await goto('/calendar');
	}
	async function pick(): Promise<void> {
		for (const post of list.week ?? []) {
			const one = slip(post.quote_id);
			if (one && one.mark !== 'picked') await list.say(one, { mark: 'picked' });
		}
		house.tell('good', `${many(list.week?.length ?? 0, 'quote')} picked for the week.`);
		onclose();
	}
</script>

<Dialog name="Suggest a week" wide {onclose}>
	<form onsubmit={(event) => { event.preventDefault(); void suggest(); }}>
		<Field name="Posts"><input type="number" min={house.ranges.posts.least} max={house.ranges.posts.most} bind:value={posts} /></Field>
		<fieldset>
			<legend>To</legend>
			{#each house.destinations as one (one.id)}<Check name={one.name} checked={wanted.includes(one.id)} onset={(on) => turn(one.id, on)} />{/each}
		</fieldset>
		<Button type="submit" kind="main" disabled={choosing || !wanted.length || !(posts >= house.ranges.posts.least)}>{choosing ? 'Choosing…' : 'Suggest'}</Button>
	</form>
	{#if list.week}
		{#if list.week.length < posts}<p class="few">{list.week.length ? `Only ${many(list.week.length, 'quote')}` : 'No quote'} on this list can be posted there. Parked, done and posted ones are left out.</p>{/if}
		<ol>
			{#each list.week as post, i (i)}
				{@const one = slip(post.quote_id)}
				<li>
					<b class="n">{i + 1}</b>
					<div class="what">
						<strong>{one?.title}</strong>
						<span>{[one?.speakers.join(', '), one?.recording_title, `${seconds(one?.length_ms ?? 0)} to ${house.destination(post.destination)?.name}`].filter(Boolean).join(' · ')}</span>
						<em>{post.reason}</em>
					</div>
					{#if post.instead.length}
						<Field name="Swap for">
							<select value="" onchange={(event) => { list.swap(i, Number(event.currentTarget.value)); event.currentTarget.value = ''; }}>
								<option value="">…</option>
								{#each post.instead.filter((id) => !list.week?.some((other) => other.quote_id === id)) as id (id)}<option value={id}>{slip(id)?.title}</option>{/each}
							</select>
						</Field>
					{/if}
				</li>
			{/each}
		</ol>
	{:else}
		<p class="few">Chooses quotes that differ in talk, topic, speaker and length, fit where they go, and are not from talks you posted from in the last two weeks. What you picked counts more.</p>
	{/if}
	{#snippet actions()}
		{#if list.week?.length}
			<Button onclick={pick}>Mark these as picked</Button>
			<label class="from">Week of <input type="date" bind:value={from} required /></label>
			<Button kind="main" disabled={!from} onclick={plan}>{#snippet icon()}<CalendarPlus size={16} />{/snippet}Plan these in the calendar</Button>
		{/if}
	{/snippet}
</Dialog>

<style>
	form,
	fieldset {
		display: flex;
		flex-wrap: wrap;
		gap: 4px 14px;
		align-items: end;
	}
	fieldset {
		margin: 0;
		padding: 0;
		border: 0;
	}
	form > :global(label) {
		width: 70px;
	}
	li {
		display: grid;
		grid-template-columns: 28px minmax(0, 1fr) 180px;
		gap: 10px;
		align-items: center;
		padding: 10px 0;
		border-top: 1px solid var(--rule);
	}
	ol {
		margin-top: 14px;
	}
	.n {
		font-size: 18px;
	}
	.what {
		display: grid;
	}
	.what span,
	.few {
		color: var(--ink-soft);
	}
	.few {
		margin-top: 14px;
	}
	.from {
		display: flex;
		align-items: center;
		gap: 6px;
		margin-left: auto;
	}
	em {
		font-style: normal;
	}
</style>
