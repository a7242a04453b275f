<script lang="ts">
	/** Brings a picture of the house's in from a file; or puts it in the place of another. */
	import ImagePlus from '@lucide/svelte/icons/image-plus';
	import { api, ask, type HousePicture } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';

	type Props = { replaces?: HousePicture; onbrought?: (picture: HousePicture) => void };
	let { replaces, onbrought }: Props = $props();

	let chooser: HTMLInputElement;
	let busy = $state(false);

	async function bring(file: File | undefined): Promise<void> {
		if (!file) return;
		busy = true;
		const name = file.name.replace(/\.[^.]*$/, '').slice(0, 80) || 'Picture';
		const sent = { body: file as unknown as string, bodySerializer: () => file, headers: { 'content-type': 'application/octet-stream' } };
		const brought = await house.trying(() =>
			replaces
				? ask(api.PUT('/api/house/pictures/{picture}', { params: { path: { picture: replaces.id } }, ...sent }))
				: ask(api.POST('/api/house/pictures', { params: { query: { name } }, ...sent }))
		);
		busy = false;
		chooser.value = '';
		if (!brought) return;
		await house.refreshCatalogue();
		house.tell('good', replaces ? `Replaced ${replaces.name} in every quote.` : `Added ${brought.name}.`);
		onbrought?.(brought);
	}
</script>

<Button kind={replaces ? 'quiet' : 'plain'} disabled={busy} aria-label={replaces ? `Replace ${replaces.name}` : undefined} onclick={() => chooser.click()}>
	{#snippet icon()}<ImagePlus size={16} />{/snippet}{busy ? 'Bringing it in …' : replaces ? 'Replace' : 'New picture'}
</Button>
<input
	bind:this={chooser} type="file" hidden accept="image/jpeg,image/png,image/webp,image/svg+xml" aria-label={replaces ? `A picture for ${replaces.name}` : 'A picture of the house’s'}
	onchange={(event) => void bring(event.currentTarget.files?.[0])}
/>
