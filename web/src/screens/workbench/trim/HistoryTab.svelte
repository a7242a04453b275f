<script lang="ts">
	/** Every revision of the quote: who, when and what; names, going back, two compared, and a copy. */
	import { goto } from '$app/navigation';
	import { api, ask, type Revision, type Schemas } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Field from '$ui/Field.svelte';
	import { seconds } from '$ui/say';
	import type { Bench } from '../bench.svelte';

	let { bench }: { bench: Bench } = $props();
	let points = $state.raw<Revision[]>([]);
	let chosen = $state.raw<number[]>([]);
	let compared = $state.raw<Schemas['ComparedPoints'] | null>(null);
	let naming = $state<number | null>(null);
	const params = $derived({ path: { quote_id: bench.id } });

	$effect(() => {
		if (bench.quote?.revision) void refresh();
	});

	async function refresh(): Promise<void> {
		points = (await house.trying(() => ask(api.GET('/api/quotes/{quote_id}/history', { params })))) ?? points;
	}

	async function go(to: number): Promise<void> {
		await bench.taken((quote) => ask(api.POST('/api/quotes/{quote_id}/history/go', { params, body: { on_revision: quote.revision, to } })));
	}

	async function name(number: number, field: HTMLInputElement): Promise<void> {
		const path = { quote_id: bench.id, number };
		naming = null;
		await house.trying(() => ask(api.POST('/api/quotes/{quote_id}/history/{number}/name', { params: { path }, body: { name: field.value.trim() || null } })));
		await refresh();
	}

	async function choose(number: number): Promise<void> {
		chosen = chosen.includes(number) ? chosen.filter((one) => one !== number) : [...chosen.slice(-1), number];
		compared = null;
		const [a, b] = [...chosen].sort((x, y) => x - y);
		if (a === undefined || b === undefined) return;
		compared = (await house.trying(() => ask(api.GET('/api/quotes/{quote_id}/history/compare', { params: { ...params, query: { a, b } } })))) ?? null;
	}

	async function copy(): Promise<void> {
		const made = await house.trying(() => ask(api.POST('/api/quotes/{quote_id}/copy', { params, body: { by: house.person || null } })));
		if (!made) return;
		house.tell('good', `Copied as “${made.title}”.`);
		await goto(`/quote/${made.id}/trim`);
	}
	const when = (at: string) => new Date(at).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });
</script>

<section aria-label="History">
	<div class="fields">
		<Field name="Your name here"><input maxlength="80" value={house.person} onchange={(event) => (house.person = event.currentTarget.value)} /></Field>
		<Button onclick={copy}>Copy the quote</Button>
	</div>
	<p class="hint">{chosen.length === 1 ? 'Choose another point to compare with.' : 'Choose two points to compare them.'}</p>
	{#if compared}
		{@const two = compared}
		<div class="compared" role="region" aria-label="Two points compared">
			{#each [0, 1] as side (side)}
				<div>
					<h3>{side ? 'Later' : 'Earlier'}: {seconds(two.lengths_ms[side]!)}</h3>
					{#each two.only_kept[side]! as words, i (i)}<p>+ {words}</p>{:else}<p class="hint">Keeps nothing that the other leaves out.</p>{/each}
				</div>
			{/each}
			{#if two.titles[0] !== two.titles[1]}<p>Title: “{two.titles[0]}”, then “{two.titles[1]}”.</p>{/if}
			{#if two.differs.length}<p>Also different: {two.differs.join(', ')}.</p>{/if}
		</div>
	{/if}
	<ol>
		{#each points as point (point.number)}
			<li data-current={point.current} data-undone={point.undone}>
				<input type="checkbox" aria-label="Compare “{point.said}”" checked={chosen.includes(point.number)} onchange={() => choose(point.number)} />
				<div>
					{#if naming === point.number}
						<!-- svelte-ignore a11y_autofocus -->
						<input class="name" aria-label="Name of this point" maxlength="80" autofocus value={point.name ?? ''} onchange={(event) => name(point.number, event.currentTarget)} onkeydown={(event) => { if (event.key === 'Escape') naming = null; }} />
					{:else if point.name}<b>{point.name}</b>{/if}
					<span>{point.said}</span>
					<small>{point.by ? `${point.by}, ` : ''}{when(point.created_at)}{point.undone ? ', taken back' : ''}</small>
				</div>
				<div class="row">
					<Button kind="quiet" onclick={() => (naming = point.number)}>Name</Button>
					{#if point.current}<em>now</em>{:else}<Button kind="quiet" aria-label="Go to “{point.said}”" onclick={() => go(point.number)}>Go to</Button>{/if}
				</div>
			</li>
		{/each}
	</ol>
</section>

<style>
	.fields {
		display: grid;
		grid-template-columns: 1fr auto;
		align-items: end;
		gap: 8px;
	}
	li {
		display: grid;
		grid-template-columns: 22px 1fr auto;
		align-items: start;
		padding: 6px 0;
		border-top: 1px solid var(--rule);
		font-size: 14px;
	}
	li > input {
		width: 16px;
		height: 16px;
		margin: 3px 0;
		accent-color: var(--note);
	}
	li span {
		display: block;
		overflow-wrap: anywhere;
	}
	li b {
		display: block;
		color: var(--note);
	}
	small {
		color: var(--ink-soft);
	}
	[data-undone='true'] span {
		color: var(--ink-soft);
		text-decoration: line-through;
	}
	.row {
		display: grid;
		justify-items: end;
	}
	.row :global(button) {
		min-height: 26px;
		padding: 2px 6px;
	}
	em {
		padding: 2px 6px;
		color: var(--kept);
		font-style: normal;
		font-weight: 700;
	}
	.name {
		width: 100%;
	}
	.compared {
		margin: 8px 0;
		padding: 8px;
		border-radius: var(--radius);
		background: var(--paper-sunk);
		font-size: 14px;
	}
	.compared h3 {
		font-size: 14px;
	}
	.compared p {
		font-family: var(--reading);
	}
</style>
