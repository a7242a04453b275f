<script lang="ts">
	/** Brings music or a sound of the house's in from a file; or puts it in the place of another. */
	import Music from '@lucide/svelte/icons/music';
	import { api, ask, asBody, type HouseSound } from '$api/client';
	import BringFile from './BringFile.svelte';

	type Props = { replaces?: HouseSound; onbrought?: (sound: HouseSound) => void };
	let { replaces, onbrought }: Props = $props();

	const send = (file: File, name: string) =>
		replaces
			? ask(api.PUT('/api/house/sounds/{sound}', { params: { path: { sound: replaces.id } }, ...asBody(file) }))
			: ask(api.POST('/api/house/sounds', { params: { query: { name } }, ...asBody(file) }));
</script>

<BringFile
	says="New sound" accept="audio/*,.opus,.flac,.m4a" label={replaces ? `A sound for ${replaces.name}` : 'A sound of the house’s'}
	replaces={replaces?.name} {send} {onbrought}
	told={(one: HouseSound) => (replaces ? `Replaced ${replaces.name} in every quote.` : `Added ${one.name}. Note its licence in House.`)}
>
	{#snippet icon()}<Music size={16} />{/snippet}
</BringFile>
