<script lang="ts">
	import AudioLines from '@lucide/svelte/icons/audio-lines';
	import Cloud from '@lucide/svelte/icons/cloud';
	import { api, ask } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from './Button.svelte';

	/** Having a transcript made: on this machine, roughly, or by a service. */
	let { recordingId, replaces }: { recordingId: number; replaces: boolean } = $props();

	async function make(by: 'recogniser' | 'service'): Promise<void> {
		const params = { path: { recording_id: recordingId } };
		const asked = await house.trying(() => ask(api.POST('/api/recordings/{recording_id}/transcribe', { params, body: { by } })));
		if (asked) house.tell('good', `The transcript is being made${replaces ? '; it will replace the one there is' : ''}. You can stop it on the shelf.`);
		await house.refreshWork();
	}
</script>

<Button title="Offline, and rough: names and rare words are often wrong" onclick={() => make('recogniser')}>
	{#snippet icon()}<AudioLines size={16} />{/snippet}Recognise it here, roughly
</Button>
<Button title="Sends the sound to the transcription service that is set up" onclick={() => make('service')}>
	{#snippet icon()}<Cloud size={16} />{/snippet}Send it to the service
</Button>
