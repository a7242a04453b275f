<script lang="ts">
	/** Music and sounds of the house's, to listen to, name, replace and retire, each with what is noted of its licence. */
	import { api, ask, houseSoundUrl, type HouseSound } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import BringSound from './BringSound.svelte';

	async function tried(what: () => Promise<unknown>, said: string): Promise<void> {
		const done = await house.trying(async () => { await what(); return true; });
		if (!done) return;
		await house.refreshCatalogue();
		house.tell('good', said);
	}
	const path = (one: HouseSound) => ({ path: { sound: one.id } });
	const retire = (one: HouseSound) =>
		void tried(() => ask(api.POST('/api/house/sounds/{sound}/retire', { params: path(one), body: { retired: !one.retired } })), one.retired ? `${one.name} is offered again.` : `${one.name} is offered no more.`);
	function describe(one: HouseSound, change: { name?: string; licence?: string }): void {
		const body = { name: one.name, licence: one.licence ?? '', ...change };
		if (body.name.trim()) void tried(() => ask(api.POST('/api/house/sounds/{sound}/describe', { params: path(one), body })), `Saved ${body.name}.`);
	}
	const length = (ms: number) => `${Math.floor(ms / 60_000)}:${String(Math.floor(ms / 1000) % 60).padStart(2, '0')}`;
</script>

<section aria-label="Music and sounds">
	<div class="head">
		<h2>Music and sounds</h2>
		<BringSound />
	</div>
	<p class="soft">Music ducks under the voice automatically. Your licence note is shown with every clip that uses the piece.</p>
	<ul>
		{#each house.everySound as one (one.id)}
			<li class:retired={one.retired}>
				<input class="name" aria-label="Name of {one.name}" maxlength="80" value={one.name} onchange={(event) => describe(one, { name: event.currentTarget.value })} />
				<span class="soft">{length(one.duration_ms)}{one.loop ? ', loops' : ''}{one.retired ? ', retired' : ''}</span>
				<audio controls preload="none" src={houseSoundUrl(one.id, one.revision)} aria-label="Listen to {one.name}"></audio>
				<input class="licence" aria-label="Licence of {one.name}" maxlength="500" placeholder="Licence: what it may be used for, and whom to credit" value={one.licence ?? ''} onchange={(event) => describe(one, { licence: event.currentTarget.value })} />
				<BringSound replaces={one} />
				<Button kind="quiet" aria-label="{one.retired ? 'Offer again' : 'Retire'} {one.name}" onclick={() => retire(one)}>{one.retired ? 'Offer again' : 'Retire'}</Button>
			</li>
		{/each}
	</ul>
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
	ul {
		margin: 8px 0 0;
		padding: 0;
		list-style: none;
	}
	li {
		display: grid;
		grid-template-columns: 180px 96px 240px minmax(0, 1fr) auto auto;
		align-items: center;
		gap: 10px;
		padding: 6px 0;
		border-top: 1px solid var(--rule);
	}
	audio {
		width: 100%;
		height: 34px;
	}
	.retired audio {
		opacity: 0.45;
	}
	.name {
		font-weight: 700;
	}
</style>
