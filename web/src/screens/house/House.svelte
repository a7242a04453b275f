<script lang="ts">
	import Plus from '@lucide/svelte/icons/plus';
	import { api, ask, Problem, type Destination, type WantedDestination } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import { seconds } from '$ui/say';
	import ShapeMark from '$ui/ShapeMark.svelte';
	import { trail } from '$ui/trail.svelte';
	import HouseFinishes from './HouseFinishes.svelte';
	import HouseLook from './HouseLook.svelte';
	import HousePeople from './HousePeople.svelte';
	import HousePosting from './HousePosting.svelte';
	import HousePrograms from './HousePrograms.svelte';
	import HouseSounds from './HouseSounds.svelte';
	import HouseStyles from './HouseStyles.svelte';
	import DestinationForm from './DestinationForm.svelte';
	import { likeOne, wantedOf } from './wanted';

	trail.set([{ name: 'Shelf', href: '/' }, { name: 'House' }]);

	let open = $state<{ id: string | null; wanted: WantedDestination } | null>(null);
	let problem = $state('');
	const everyOne = $derived(house.everyDestination);

	function edit(one: Destination): void {
		problem = '';
		open = { id: one.id, wanted: wantedOf(one) };
	}
	function add(): void {
		problem = '';
		open = { id: null, wanted: likeOne(house.destinations[0]!, everyOne.map((one) => one.name)) };
	}

	async function done(call: () => Promise<Destination>, said: string): Promise<void> {
		problem = '';
		try {
			const made = await call();
			await house.refreshCatalogue();
			open = null;
			house.tell('good', `${said} ${made.name}.`);
		} catch (refused) {
			if (!(refused instanceof Problem)) throw refused;
			problem = refused.message;
		}
	}

	function save(wanted: WantedDestination): void {
		const id = open?.id;
		if (id) void done(() => ask(api.PUT('/api/destinations/{destination}', { params: { path: { destination: id } }, body: wanted })), 'Changed');
		else void done(() => ask(api.POST('/api/destinations', { body: wanted })), 'Added');
	}

	function retire(one: Destination): void {
		const body = { retired: !one.retired };
		const call = () => ask(api.POST('/api/destinations/{destination}/retire', { params: { path: { destination: one.id } }, body }));
		void done(call, one.retired ? 'Offered again:' : 'Retired').then(() => {
			if (problem) house.tell('bad', problem);
		});
	}
</script>

<div class="house">
	<header>
		<h1>House</h1>
		<p>Where clips go, how their captions look, what is seen and heard with them, and how they are posted.</p>
	</header>
	<section aria-label="Destinations">
		<div class="head">
			<h2>Destinations</h2>
			<Button onclick={add}>{#snippet icon()}<Plus size={16} />{/snippet}New destination</Button>
		</div>
		<table>
			<thead><tr><th></th><th>Name</th><th class="n">Picture</th><th class="n">Longest</th><th class="n">Largest</th><th>Frames/s</th><th>Covered</th><th></th></tr></thead>
			<tbody>
				{#each everyOne as one (one.id)}
					<tr class:retired={one.retired} aria-current={open?.id === one.id}>
						<td><ShapeMark width={one.width} height={one.height} size={22} /></td>
						<td><button type="button" class="name" onclick={() => edit(one)}>{one.name}</button>{#if one.retired}<span class="soft"> retired</span>{/if}</td>
						<td class="n">{one.width}×{one.height}</td>
						<td class="n">{seconds(one.limit_ms)}</td>
						<td class="n">{one.largest_mb} MB</td>
						<td>{one.rate ? Number((Number(one.rate.split('/')[0]) / Number(one.rate.split('/')[1] ?? 1)).toFixed(3)) : 'as recorded'}</td>
						<td class="soft">{(one.covered ?? []).map((area) => area.name).join(', ') || 'nothing'}</td>
						<td class="does"><Button kind="quiet" onclick={() => retire(one)} aria-label="{one.retired ? 'Offer again' : 'Retire'} {one.name}">{one.retired ? 'Offer again' : 'Retire'}</Button></td>
					</tr>
				{/each}
			</tbody>
		</table>
	</section>
	<HouseStyles />
	<HouseFinishes />
	<HouseLook />
	<HouseSounds />
	<HousePeople />
	<HousePosting />
	<HousePrograms />
	{#if open}
		{#key open}
			<DestinationForm wanted={open.wanted} name={open.id ? `Edit ${open.wanted.name}` : 'New destination'} {problem} onsave={save} onclose={() => (open = null)} />
		{/key}
	{/if}
</div>

<style>
	.house {
		height: 100%;
		overflow-y: auto;
		padding: 24px max(28px, calc(50% - 560px));
	}
	h1 {
		font: 600 28px/36px var(--reading);
	}
	header p,
	.soft {
		color: var(--ink-soft);
	}
	header {
		padding-bottom: 12px;
		border-bottom: 1px solid var(--rule);
	}
	.head {
		display: flex;
		align-items: center;
		justify-content: space-between;
		padding: 16px 0 8px;
	}
	h2 {
		font-size: 18px;
	}
	table {
		width: 100%;
		border-collapse: collapse;
	}
	th {
		padding: 4px 10px;
		color: var(--ink-soft);
		font-size: 13px;
		font-weight: 400;
		text-align: left;
	}
	td {
		padding: 4px 10px;
		border-top: 1px solid var(--rule);
	}
	.n {
		text-align: right;
	}
	.does {
		text-align: right;
	}
	.name {
		min-height: 32px;
		padding: 0;
		border: 0;
		background: none;
		font-weight: 700;
		text-align: left;
		text-decoration: underline;
		text-decoration-color: var(--rule);
		text-underline-offset: 3px;
		cursor: pointer;
	}
	.retired td {
		color: var(--ink-soft);
	}
	tr[aria-current='true'] td {
		background: var(--kept-wash);
	}
</style>
