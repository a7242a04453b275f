<script lang="ts">
	/** How the house posts: accounts, what texts begin as, when, and whether phones may fetch clips. */
	import { onMount } from 'svelte';
	import Link2 from '@lucide/svelte/icons/link-2';
	import { page } from '$app/state';
	import { api, ask, type HousePosting } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Check from '$ui/Check.svelte';

	let posting = $state.raw<HousePosting | null>(null);
	let section: HTMLElement;

	onMount(async () => {
		posting = (await house.trying(() => ask(api.GET('/api/house/posting')))) ?? null;
		const asked = page.url.searchParams;
		if (asked.get('connected')) house.tell('good', `${asked.get('connected')} is connected.`);
		if (asked.get('not-connected')) house.tell('bad', asked.get('not-connected')!);
		if (page.url.hash === '#posting') section.scrollIntoView();
	});

	async function set(change: Partial<HousePosting>, said: string): Promise<void> {
		const { pattern, time_zone, usual_time, phones } = { ...posting!, ...change };
		const now = await house.trying(() => ask(api.PUT('/api/house/posting', { body: { pattern, time_zone, usual_time, phones } })));
		// Shown as it is kept, also where it was refused.
		posting = now ?? { ...posting! };
		if (now?.phone_problem && change.phones) house.tell('bad', now.phone_problem);
		else if (now) house.tell('good', said);
	}
	async function setZone(field: HTMLInputElement): Promise<void> {
		await set({ time_zone: field.value.trim() }, 'Changed the time zone.');
		field.value = posting!.time_zone;
	}
	async function connect(service: string): Promise<void> {
		const to = await house.trying(() => ask(api.POST('/api/posting/sign-in', { body: { service } })));
		if (to) location.assign(to.address);
	}
	async function disconnect(account_id: number, name: string): Promise<void> {
		const done = await house.trying(async () => (await ask(api.DELETE('/api/posting/accounts/{account_id}', { params: { path: { account_id } } })), true));
		if (!done) return;
		posting = { ...posting!, accounts: posting!.accounts.filter((one) => one.id !== account_id) };
		house.tell('good', `${name} is disconnected. What was posted stays there.`);
	}
	const zones = $derived(posting?.zones ?? []);
</script>

<section id="posting" aria-label="Posting" bind:this={section}>
	<h2>Posting</h2>
	{#if posting}
		<ul>
			{#each posting.accounts as one (one.id)}
				<li>
					<b>{one.name}</b> <span class="soft">{one.service}{one.signed_in ? '' : ', signed out'}</span>
					{#if !one.signed_in}<Button onclick={() => void connect(one.address)}>Connect again</Button>{/if}
					<Button kind="quiet" onclick={() => void disconnect(one.id, one.name)}>Disconnect</Button>
				</li>
			{:else}<li class="soft">No account is connected yet.</li>{/each}
		</ul>
		<p>
			{#each posting.services as service (service)}
				<Button onclick={() => void connect(service)}>{#snippet icon()}<Link2 size={16} />{/snippet}Connect an account at {new URL(service).host}</Button>
			{:else}<span class="soft">No service is set up on this machine.</span>{/each}
		</p>
		<div class="fields">
			<label class="whole">New descriptions start as
				<textarea rows="5" maxlength="2000" value={posting.pattern} onchange={(event) => void set({ pattern: event.currentTarget.value }, 'Changed how new descriptions start.')}></textarea>
				<small>With {posting.names.map((name) => `{${name}}`).join(', ')} where those go. A line whose names are all empty is left out.</small>
			</label>
			<label>Time zone
				<input list="zones" maxlength="80" value={posting.time_zone} onchange={(event) => void setZone(event.currentTarget)} />
				<datalist id="zones">{#each zones as zone (zone)}<option value={zone}></option>{/each}</datalist>
			</label>
			<label>Usual time <input type="time" value={posting.usual_time.slice(0, 5)} onchange={(event) => { if (event.currentTarget.value) void set({ usual_time: event.currentTarget.value }, 'Changed the usual time.'); }} /></label>
		</div>
		<div class="phones">
			<Check name="Let phones in this network fetch clips" checked={posting.phones} onset={(phones) => void set({ phones }, phones ? 'Phones are let in.' : 'Phones are not let in any more.')} />
			<p class="soft">
				{#if posting.phone_address}Open at {posting.phone_address}, over plain HTTP: anyone in this network could read along. Only the short-lived links that you make are answered there.
				{:else if posting.phones}{posting.phone_problem}
				{:else}Off: nothing is reachable from other devices. On: only the short-lived links that you make with “To a phone” are answered, in your local network.{/if}
			</p>
		</div>
	{/if}
</section>

<style>
	section {
		display: grid;
		gap: 10px;
		padding: 20px 0;
		scroll-margin-top: 8px;
	}
	h2 {
		font-size: 18px;
	}
	.soft,
	small {
		color: var(--ink-soft);
		font-size: 14px;
	}
	li {
		display: flex;
		align-items: center;
		gap: 10px;
		min-height: 36px;
	}
	.fields {
		display: grid;
		grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
		gap: 10px 20px;
	}
	.whole {
		grid-column: 1 / -1;
	}
	label {
		display: grid;
		gap: 3px;
		font-size: 14px;
	}
	.fields input {
		min-height: 34px;
		padding: 4px 8px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
	}
	textarea {
		font-size: 15px;
	}
</style>
