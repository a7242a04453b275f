<script lang="ts">
	/** Brings a picture of the house's in from a file; or puts it in the place of another. */
	import ImagePlus from '@lucide/svelte/icons/image-plus';
	import { api, ask, asBody, type HousePicture } from '$api/client';
	import BringFile from './BringFile.svelte';

	type Props = { replaces?: HousePicture; onbrought?: (picture: HousePicture) => void };
	let { replaces, onbrought }: Props = $props();

	const send = (file: File, name: string) =>
		replaces
			? ask(api.PUT('/api/house/pictures/{picture}', { params: { path: { picture: replaces.id } }, ...asBody(file) }))
			: ask(api.POST('/api/house/pictures', { params: { query: { name } }, ...asBody(file) }));
</script>

<BringFile
	says="New picture" accept="image/jpeg,image/png,image/webp,image/svg+xml" label={replaces ? `A picture for ${replaces.name}` : 'A picture of the house’s'}
	replaces={replaces?.name} {send} {onbrought} told={(one: HousePicture) => (replaces ? `Replaced ${replaces.name} in every quote.` : `Added ${one.name}.`)}
>
	{#snippet icon()}<ImagePlus size={16} />{/snippet}
</BringFile>
