<script lang="ts">
	/** Asking the speaker: a page of their own under a secret address, and what they answered. */
	import { api, ask, type Approval } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import { answered, day } from '$ui/say';
	import type { Bench } from '../bench.svelte';

	let { bench }: { bench: Bench } = $props();
	let approvals = $state.raw<Approval[]>([]);
	let address = $state('');
	let days = $state(14);
	const params = $derived({ path: { quote_id: bench.id } });

	$effect(() => {
		void [house.quoteChanged.count, bench.quote?.revision];
		void house.trying(() => ask(api.GET('/api/quotes/{quote_id}/approvals', { params }))).then((found) => found && (approvals = found));
	});

	async function make(): Promise<void> {
		const made = await house.trying(() => ask(api.POST('/api/quotes/{quote_id}/approvals', { params, body: { days } })));
		if (!made) return;
		({ address, approvals } = made);
	}

	async function revoke(id: number): Promise<void> {
		const path = { quote_id: bench.id, approval_id: id };
		await house.trying(() => ask(api.DELETE('/api/quotes/{quote_id}/approvals/{approval_id}', { params: { path } })));
		approvals = approvals.map((one) => (one.id === id ? { ...one, open: false } : one));
		address = '';
	}

	async function copy(): Promise<void> {
		await navigator.clipboard.writeText(address);
		house.tell('good', 'The address is copied. Send it to the speaker.');
	}
</script>

<section aria-label="The speaker’s approval">
	<h2>The speaker’s approval</h2>
	<p class="hint">A page to read and answer, for whoever has its address.</p>
	<div class="row">
		<label>for <select bind:value={days}>{#each [3, 7, 14, 30] as one (one)}<option value={one}>{one} days</option>{/each}</select></label>
		<Button onclick={make}>Create a page</Button>
	</div>
	{#if address}
		<input readonly aria-label="Address of the speaker’s page" value={address} onfocus={(event) => event.currentTarget.select()} />
		<div class="row"><Button onclick={copy}>Copy</Button><a href={address} target="_blank" rel="noopener">Open it</a></div>
		<p class="hint">This address is shown once.</p>
	{/if}
	<ul>
		{#each approvals as one (one.id)}
			<li data-answer={one.answer}>
				<span><b>{day(one.created_at)}</b>: {answered(one)}{#if one.note}<q>{one.note}</q>{/if}</span>
				{#if one.open}<Button kind="quiet" onclick={() => revoke(one.id)}>Revoke</Button>{/if}
			</li>
		{/each}
	</ul>
</section>

<style>
	h2 {
		font-size: 15px;
	}
	.row {
		display: flex;
		align-items: center;
		gap: 8px;
		margin: 6px 0;
	}
	input,
	select {
		min-height: 30px;
		padding: 3px 8px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper);
	}
	input {
		width: 100%;
	}
	li {
		display: flex;
		justify-content: space-between;
		gap: 6px;
		padding: 5px 0;
		border-top: 1px solid var(--rule);
		font-size: 14px;
	}
	li[data-answer='approved'] b {
		color: var(--good);
	}
	li[data-answer='change wanted'] b {
		color: var(--struck);
	}
	q {
		display: block;
		font-family: var(--reading);
	}
</style>
