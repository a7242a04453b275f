<script lang="ts">
	/** Other programs: the tokens that they come with, and where they are told what happens. */
	import { onMount } from 'svelte';
	import Plus from '@lucide/svelte/icons/plus';
	import { api, ask, type ApiScope, type ApiToken, type Webhook } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Check from '$ui/Check.svelte';
	import { day, many } from '$ui/say';

	const SCOPES: [ApiScope, string][] = [['read', 'Read'], ['write', 'Change'], ['export', 'Export'], ['post', 'Post']];
	const EVENTS: [Webhook['events'][number], string][] = [['clip.ready', 'a clip is ready'], ['post.posted', 'a clip was posted']];
	let tokens = $state.raw<ApiToken[]>([]);
	let webhooks = $state.raw<Webhook[]>([]);
	let name = $state('');
	let scopes = $state.raw<ApiScope[]>(['read']);
	let address = $state('');
	let events = $state.raw<Webhook['events']>(['clip.ready', 'post.posted']);
	/** What is told once: a token, or what a webhook is signed by. */
	let secret = $state.raw<{ of: string; is: string } | null>(null);

	onMount(async () => {
		tokens = (await house.trying(() => ask(api.GET('/api/tokens')))) ?? [];
		webhooks = (await house.trying(() => ask(api.GET('/api/webhooks')))) ?? [];
	});

	const turned = <T,>(list: T[], one: T, on: boolean): T[] => (on ? [...list, one] : list.filter((each) => each !== one));

	async function make(): Promise<void> {
		const made = await house.trying(() => ask(api.POST('/api/tokens', { body: { name, scopes } })));
		if (!made) return;
		tokens = made.tokens;
		secret = { of: `The token “${name}”`, is: made.token };
		name = '';
	}
	async function revoke(one: ApiToken): Promise<void> {
		const done = await house.trying(async () => (await ask(api.DELETE('/api/tokens/{token_id}', { params: { path: { token_id: one.id } } })), true));
		if (done) tokens = tokens.filter((each) => each.id !== one.id);
	}
	async function add(): Promise<void> {
		const made = await house.trying(() => ask(api.POST('/api/webhooks', { body: { address, events } })));
		if (!made) return;
		webhooks = made.webhooks;
		secret = { of: 'What is told there is signed by', is: made.secret };
		address = '';
	}
	async function remove(one: Webhook): Promise<void> {
		const done = await house.trying(async () => (await ask(api.DELETE('/api/webhooks/{webhook_id}', { params: { path: { webhook_id: one.id } } })), true));
		if (done) webhooks = webhooks.filter((each) => each.id !== one.id);
	}
</script>

<section aria-label="Other programs">
	<h2>Other programs</h2>
	<p class="soft">The API is described at <a href="/api/openapi.json">/api/openapi.json</a>. On this machine it needs no token; a token narrows what a program may do.</p>
	{#if secret}<p class="secret" role="status">{secret.of}, shown this once: <code>{secret.is}</code> <Button onclick={() => (secret = null)}>I have it</Button></p>{/if}
	<h3>Tokens</h3>
	<ul>
		{#each tokens as one (one.id)}
			<li><b>{one.name}</b> <span class="soft">{SCOPES.filter(([id]) => one.scopes.includes(id)).map(([, said]) => said.toLowerCase()).join(', ')} · {one.last_used_at ? `last used ${day(one.last_used_at)}` : 'never used'}</span> <Button kind="quiet" aria-label="Revoke {one.name}" onclick={() => void revoke(one)}>Revoke</Button></li>
		{/each}
	</ul>
	<form onsubmit={(event) => { event.preventDefault(); void make(); }}>
		<input aria-label="Name of the token" placeholder="What it is for" maxlength="80" required bind:value={name} />
		{#each SCOPES as [id, said] (id)}<Check name={said} checked={scopes.includes(id)} onset={(on) => (scopes = turned(scopes, id, on))} />{/each}
		<Button type="submit" disabled={!name.trim() || !scopes.length}>{#snippet icon()}<Plus size={16} />{/snippet}Make a token</Button>
	</form>
	<h3>Webhooks</h3>
	<ul>
		{#each webhooks as one (one.id)}
			<li>
				<b>{one.address}</b>
				<span class="soft">{EVENTS.filter(([id]) => one.events.includes(id)).map(([, said]) => said).join(', ')} · {one.waiting ? `${many(one.waiting, 'message')} waiting` : one.last_delivered_at ? `last told ${day(one.last_delivered_at)}` : 'not told yet'}{one.problem ? ` · ${one.problem}` : ''}</span>
				<Button kind="quiet" aria-label="Remove {one.address}" onclick={() => void remove(one)}>Remove</Button>
			</li>
		{/each}
	</ul>
	<form onsubmit={(event) => { event.preventDefault(); void add(); }}>
		<input type="url" aria-label="Address to tell" placeholder="https:// to be told at" maxlength="2000" required bind:value={address} />
		{#each EVENTS as [id, said] (id)}<Check name="when {said}" checked={events.includes(id)} onset={(on) => (events = turned(events, id, on))} />{/each}
		<Button type="submit" disabled={!address.trim() || !events.length}>{#snippet icon()}<Plus size={16} />{/snippet}Add a webhook</Button>
	</form>
</section>

<style>
	section {
		display: grid;
		gap: 8px;
		padding: 20px 0 48px;
	}
	h2 {
		font-size: 18px;
	}
	h3 {
		padding-top: 6px;
		font-size: 15px;
	}
	.soft {
		color: var(--ink-soft);
		font-size: 14px;
	}
	li,
	form {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 4px 12px;
		min-height: 34px;
	}
	li b {
		overflow-wrap: anywhere;
	}
	form input {
		width: 260px;
		min-height: 32px;
		padding: 4px 8px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
	}
	.secret {
		padding: 8px 12px;
		border-left: 3px solid var(--found);
		background: var(--found-wash);
	}
	code {
		font-size: 14px;
		overflow-wrap: anywhere;
		user-select: all;
	}
</style>
