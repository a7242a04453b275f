<script lang="ts">
	/** The house's finishes: what each has, and taking them along. They are made and changed in the Finish step of a quote. */
	import { onMount } from 'svelte';
	import { api, ask, asBody, type FinishOfHouse } from '$api/client';
	import { house } from '$api/house.svelte';
	import { nameOf } from '$screens/workbench/finish/items';
	import Button from '$ui/Button.svelte';

	let chooser: HTMLInputElement;
	let series = $state.raw<string[]>([]);
	onMount(async () => (series = (await house.trying(() => ask(api.GET('/api/series')))) ?? []));

	async function follow(name: string, finish: string | null): Promise<void> {
		await house.trying(() => ask(api.PUT('/api/series-finish', { body: { series: name, finish } })));
		await house.refreshCatalogue();
	}

	async function bring(file: File | undefined): Promise<void> {
		chooser.value = '';
		if (!file) return;
		const added = await house.trying(() => ask(api.POST('/api/finishes/file', { ...asBody(file) })));
		if (!added) return;
		await house.refreshCatalogue();
		house.tell('good', `Added ${added.name}.`);
	}
	async function retire(one: FinishOfHouse): Promise<void> {
		const done = await house.trying(() => ask(api.POST('/api/finishes/{finish}/retire', { params: { path: { finish: one.id } }, body: { retired: !one.retired } })));
		if (!done) return;
		await house.refreshCatalogue();
		house.tell('good', one.retired ? `${one.name} is offered again.` : `${one.name} is offered no more. Quotes that follow it keep it.`);
	}
</script>

<section aria-label="Finishes">
	<div class="head">
		<h2>Finishes</h2>
		<Button kind="quiet" onclick={() => chooser.click()}>From a file …</Button>
		<input bind:this={chooser} type="file" hidden accept="application/json,.json" aria-label="File of a finish" onchange={(event) => void bring(event.currentTarget.files?.[0])} />
	</div>
	<p class="soft">What stands over the picture of every clip of a kind. Make one, or change one, in the Finish step of a quote.</p>
	<ul>
		{#each house.finishes as one (one.id)}
			<li class:retired={one.retired}>
				<span><b>{one.name}</b> <span class="soft">version {one.version}{one.retired ? ', retired' : ''}</span></span>
				<span class="soft">{one.items.map((item) => nameOf(item.what).toLowerCase()).join(', ')}</span>
				<span class="does">
					<a href="/api/finishes/{one.id}/file" download>Save as file</a>
					<Button kind="quiet" aria-label="{one.retired ? 'Offer again' : 'Retire'} {one.name}" onclick={() => void retire(one)}>{one.retired ? 'Offer again' : 'Retire'}</Button>
				</span>
			</li>
		{/each}
	</ul>
	{#if series.length}
		<div class="series" role="group" aria-label="New quotes of a series">
			{#each series as name (name)}
				<label>New quotes of {name} follow
					<select value={house.seriesFinishes[name] ?? ''} onchange={(event) => void follow(name, event.currentTarget.value || null)}>
						<option value="">no finish</option>
						{#each house.finishes.filter((one) => !one.retired || one.id === house.seriesFinishes[name]) as one (one.id)}<option value={one.id}>{one.name}</option>{/each}
					</select>
				</label>
			{/each}
		</div>
	{/if}
</section>

<style>
	section {
		padding: 20px 0;
	}
	.head {
		display: flex;
		align-items: center;
		justify-content: space-between;
	}
	h2 {
		font-size: 18px;
	}
	.soft {
		color: var(--ink-soft);
		font-size: 14px;
	}
	li {
		display: grid;
		grid-template-columns: minmax(0, 1fr) minmax(0, 2fr) auto;
		align-items: center;
		gap: 12px;
		min-height: 44px;
		border-bottom: 1px solid var(--rule);
	}
	.retired {
		color: var(--ink-soft);
	}
	.series {
		display: grid;
		gap: 6px;
		margin-top: 10px;
	}
	.series label {
		display: flex;
		align-items: center;
		gap: 8px;
	}
	.does {
		display: flex;
		align-items: center;
		gap: 8px;
	}
</style>
