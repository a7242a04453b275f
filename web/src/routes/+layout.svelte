<script lang="ts">
	import '../app.css';
	import type { Snippet } from 'svelte';
	import { house } from '$api/house.svelte';
	import Head from '$ui/Head.svelte';
	import KeyList from '$ui/KeyList.svelte';
	import Told from '$ui/Told.svelte';
	import { keys } from '$ui/keys.svelte';

	let { children }: { children: Snippet } = $props();
	let away = $state('');
	let field = $state<HTMLInputElement>();

	const open = async () => {
		away = '';
		await house.open().catch((refused: Error) => (away = refused.message));
	};
	void open();

	$effect(() =>
		keys.use('Everywhere', [
			{ keys: ['/'], does: 'Search', run: () => { field?.focus(); field?.select(); } },
			{ keys: ['?'], does: 'Show the keys of this place', run: () => (keys.shown = true) }
		])
	);
</script>

<svelte:window onkeydown={(event) => keys.press(event)} onclick={(event) => keys.letGo(event)} />

<div class="house">
	<Head bind:field />
	<main>
		{#if away}
			<p class="away">{away} <button type="button" onclick={() => location.reload()}>Try again</button></p>
		{:else if house.destinations.length}
			{@render children()}
		{/if}
	</main>
	<Told />
	<KeyList />
</div>

<style>
	.house {
		display: grid;
		grid-template-rows: 48px minmax(0, 1fr);
		height: 100vh;
	}
	main {
		min-height: 0;
		min-width: 0;
	}
	.away {
		padding: 48px;
		text-align: center;
	}
</style>
