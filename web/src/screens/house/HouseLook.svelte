<script lang="ts">
	/** The house's colour, and its pictures: logos, and what stands over a clip or behind it. */
	import { api, ask, Problem } from '$api/client';
	import { house } from '$api/house.svelte';
	import { housePictureUrl } from '$player/layers/backdrop';
	import Button from '$ui/Button.svelte';
	import BringPicture from './BringPicture.svelte';

	async function tried(what: () => Promise<unknown>, said: string): Promise<void> {
		try {
			await what();
			await house.refreshCatalogue();
			house.tell('good', said);
		} catch (refused) {
			if (!(refused instanceof Problem)) throw refused;
			house.tell('bad', refused.message);
		}
	}

	const retire = (id: number, retired: boolean, name: string) =>
		void tried(() => ask(api.POST('/api/house/pictures/{picture}/retire', { params: { path: { picture: id } }, body: { retired } })), retired ? `${name} is offered no more.` : `${name} is offered again.`);
	const colour = (to: string) =>
		void tried(() => ask(api.PUT('/api/house/colour', { body: { colour: to.toUpperCase() } })), 'Changed the house’s colour.');
	const copyright = (line: string) =>
		void tried(() => ask(api.PUT('/api/house/copyright', { body: { copyright: line } })), 'Changed the copyright line.');
</script>

<section aria-label="Pictures">
	<div class="head">
		<h2>Pictures and colour</h2>
		<BringPicture />
	</div>
	<p class="soft">Logos and pictures to put over a clip, and what stands behind one that does not fill its shape. Replace one, and every quote that is not yet exported shows the new one.</p>
	<label class="colour">The house’s colour <input type="color" value={house.colour.toLowerCase()} onchange={(event) => colour(event.currentTarget.value)} /></label>
	<label class="colour">Copyright line <input type="text" maxlength="200" placeholder="written into each file" value={house.copyright} onchange={(event) => copyright(event.currentTarget.value)} /></label>
	{#if house.everyPicture.length}
		<ul>
			{#each house.everyPicture as one (one.id)}
				<li class:retired={one.retired}>
					<img src="{housePictureUrl(one.id)}?revision={one.revision}" alt="" loading="lazy" />
					<b>{one.name}</b> <span class="soft">{one.width}×{one.height}{one.retired ? ', retired' : ''}</span>
					<BringPicture replaces={one} />
					<Button kind="quiet" aria-label="{one.retired ? 'Offer again' : 'Retire'} {one.name}" onclick={() => retire(one.id, !one.retired, one.name)}>{one.retired ? 'Offer again' : 'Retire'}</Button>
				</li>
			{/each}
		</ul>
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
	.colour {
		display: flex;
		align-items: center;
		gap: 8px;
		margin: 10px 0;
	}
	input[type='color'] {
		width: 40px;
		height: 32px;
		padding: 2px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
	}
	ul {
		display: flex;
		flex-wrap: wrap;
		gap: 12px;
		margin: 0;
		padding: 0;
		list-style: none;
	}
	li {
		display: grid;
		justify-items: start;
		width: 180px;
		font-size: 14px;
	}
	li b {
		max-width: 180px;
		overflow: hidden;
		text-overflow: ellipsis;
		white-space: nowrap;
	}
	img {
		width: 180px;
		height: 110px;
		border-radius: var(--radius);
		object-fit: cover;
	}
	.retired img {
		opacity: 0.45;
	}
</style>
