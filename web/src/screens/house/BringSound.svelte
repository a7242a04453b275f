<script lang="ts">
	/** Brings music or a sound of the house's in from a file; or puts it in the place of another. */
	import Music from '@lucide/svelte/icons/music';
	import { api, ask, type HouseSound } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';

	type Props = { replaces?: HouseSound; onbrought?: (sound: HouseSound) => void };
	let { replaces, onbrought }: Props = $props();

	let chooser: HTMLInputElement;
	let busy = $state(false);

	async function bring(file: File | undefined): Promise<void> {
		if (!file) return;
		busy = true;
		const name = file.name.replace(/\.[^.]*$/, '').slice(0, 80) || 'Sound';
		const sent = { body: file as unknown as string, bodySerializer: () => file, headers: { 'content-type': 'application/octet-stream' } };
		const brought = await house.trying(() =>
			replaces
				? ask(api.PUT('/api/house/sounds/{sound}', { params: { path: { sound: replaces.id } }, ...sent }))
				: ask(api.POST('/api/house/sounds', { params: { query: { name } }, ...sent }))
		);
		busy = false;
		chooser.value = '';
		if (!brought) return;
		await house.refreshCatalogue();
		house.tell('good', replaces ? `Replaced ${replaces.name} in every quote.` : `Added ${brought.name}. Note its licence in House.`);
		onbrought?.(brought);
	}
</script>

<Button kind={replaces ? 'quiet' : 'plain'} disabled={busy} aria-label={replaces ? `Replace ${replaces.name}` : undefined} onclick={() => chooser.click()}>
	{#snippet icon()}<Music size={16} />{/snippet}{busy ? 'Bringing it in …' : replaces ? 'Replace' : 'New sound'}
</Button>
<input
	bind:this={chooser} type="file" hidden accept="audio/*,.opus,.flac,.m4a" aria-label={replaces ? `A sound for ${replaces.name}` : 'A sound of the house’s'}
	onchange={(event) => void bring(event.currentTarget.files?.[0])}
/>
