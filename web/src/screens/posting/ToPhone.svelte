<script lang="ts">
	/** A code to point a phone at: it opens a small page with the clips of this quote, for a while. */
	import { onDestroy } from 'svelte';
	import Smartphone from '@lucide/svelte/icons/smartphone';
	import { api, ask, type PhoneLink } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import { many } from '$ui/say';

	let { quoteId, allowed }: { quoteId: number; allowed: boolean } = $props();
	let made = $state.raw<PhoneLink | null>(null);
	let left = $state(0);
	/** Links that were made before, and can still be opened. */
	let open = $state.raw<{ id: number; expires_at: string }[]>([]);
	$effect(() => {
		if (allowed) void house.trying(() => ask(api.GET('/api/quotes/{quote_id}/phone', { params }))).then((found) => (open = found ?? []));
	});
	const params = $derived({ path: { quote_id: quoteId } });
	const ticking = setInterval(() => {
		left = made ? Math.max(0, Math.round((Date.parse(made.expires_at) - Date.now()) / 1000)) : 0;
		if (made && !left) made = null;
	}, 1000);
	onDestroy(() => clearInterval(ticking));

	async function make(): Promise<void> {
		made = (await house.trying(() => ask(api.POST('/api/quotes/{quote_id}/phone', { params, body: { minutes: 15 } })))) ?? null;
		left = 15 * 60;
	}
	async function revoke(ids: number[]): Promise<void> {
		const gone = await house.trying(async () => {
			for (const link_id of ids) await ask(api.DELETE('/api/quotes/{quote_id}/phone/{link_id}', { params: { path: { ...params.path, link_id } } }));
			return true;
		});
		if (!gone) return;
		made = null;
		open = open.filter((one) => !ids.includes(one.id));
		house.tell('good', ids.length > 1 ? 'The links open nothing any more.' : 'The link opens nothing any more.');
	}
</script>

<section aria-label="To a phone">
	<h2>To a phone</h2>
	{#if made}
		<div class="made">
			<img src={made.code} alt="QR code of the page for phones" width="164" height="164" />
			<div>
				<p>Point a phone in this network at the code. It opens a page with the exported clips and their text, and nothing else of this house.</p>
				<p class="address">{made.address}</p>
				<p class="soft">Good for {Math.floor(left / 60)}:{String(left % 60).padStart(2, '0')} more.</p>
				<Button onclick={() => void revoke([made!.id])}>Take the link back</Button>
			</div>
		</div>
	{:else if allowed}
		<p class="soft">Play and save the exported clips on a phone, and copy their text.</p>
		<Button onclick={make}>{#snippet icon()}<Smartphone size={16} />{/snippet}Show a code</Button>
		{#if open.length}<p class="soft">{many(open.length, 'earlier link')} can still be opened. <Button kind="quiet" onclick={() => void revoke(open.map((one) => one.id))}>Take back</Button></p>{/if}
	{:else}
		<p class="soft">Phones are not let in. <a href="/house#posting">Switch that on in House</a>, if everyone in your network may reach this machine.</p>
	{/if}
</section>

<style>
	section {
		display: grid;
		gap: 8px;
		justify-items: start;
		padding: 14px 0;
		border-top: 1px solid var(--rule);
	}
	h2 {
		font-size: 16px;
	}
	.made {
		display: grid;
		grid-template-columns: auto minmax(0, 1fr);
		gap: 14px;
	}
	.made div {
		display: grid;
		gap: 6px;
		align-content: start;
		justify-items: start;
	}
	img {
		border: 1px solid var(--rule);
		border-radius: var(--radius);
	}
	.address {
		font-size: 13px;
		overflow-wrap: anywhere;
	}
	.soft {
		color: var(--ink-soft);
		font-size: 14px;
	}
</style>
