<script lang="ts">
	/** What people are who speak in the house's talks: what a name strap says under their name. */
	import { onMount } from 'svelte';
	import { api, ask } from '$api/client';
	import { house } from '$api/house.svelte';

	let speakers = $state.raw<string[]>([]);
	const people = $derived([...new Set([...Object.keys(house.roles), ...speakers])].sort((a, b) => a.localeCompare(b)));

	onMount(async () => {
		speakers = (await house.trying(() => ask(api.GET('/api/searches'))))?.speakers ?? [];
	});

	async function say(name: string, field: HTMLInputElement): Promise<void> {
		const role = field.value.trim();
		const done = await house.trying(async () => { await ask(api.PUT('/api/house/people', { body: { name, role } })); return true; });
		if (!done) field.value = house.roles[name] ?? '';
		else {
			await house.refreshCatalogue();
			house.tell('good', role ? `${name}: ${role}.` : `${name} has no role any more.`);
		}
	}
</script>

<section aria-label="People">
	<h2>People</h2>
	<p class="soft">A name strap without a role of its own says this under the name.</p>
	{#if people.length}
		<ul>
			{#each people as name (name)}
				<li><label><b>{name}</b> <input maxlength="120" placeholder="no role" aria-label="Role of {name}" value={house.roles[name] ?? ''} onchange={(event) => void say(name, event.currentTarget)} /></label></li>
			{/each}
		</ul>
	{:else}<p class="soft">Nobody is named in a transcript yet. Name who speaks in Find.</p>{/if}
</section>

<style>
	section {
		padding: 20px 0;
	}
	h2 {
		font-size: 18px;
	}
	.soft {
		color: var(--ink-soft);
		font-size: 14px;
	}
	ul {
		display: grid;
		grid-template-columns: repeat(auto-fill, minmax(340px, 1fr));
		gap: 4px 24px;
		margin: 8px 0 0;
		padding: 0;
		list-style: none;
	}
	label {
		display: grid;
		grid-template-columns: 140px minmax(0, 1fr);
		align-items: center;
		gap: 8px;
	}
	b {
		overflow: hidden;
		text-overflow: ellipsis;
		white-space: nowrap;
	}
</style>
