<script lang="ts" generics="Brought">
	/** Brings a file of the house's in, or puts it in the place of another: a button that opens the chooser, and says that it is busy. */
	import type { Snippet } from 'svelte';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';

	type Props = {
		says: string;
		/** What the chooser is called, for those who do not see it, and what it offers. */
		label: string;
		accept: string;
		/** What it takes the place of. */
		replaces?: string;
		icon: Snippet;
		/** Sends the file under a name; what came of it is told by `told`. */
		send: (file: File, name: string) => Promise<Brought>;
		told: (brought: Brought) => string;
		onbrought?: (brought: Brought) => void;
	};
	let { says, label, accept, replaces, icon, send, told, onbrought }: Props = $props();

	let chooser: HTMLInputElement;
	let busy = $state(false);

	async function bring(file: File | undefined): Promise<void> {
		if (!file) return;
		busy = true;
		const brought = await house.trying(() => send(file, file.name.replace(/\.[^.]*$/, '').slice(0, 80) || 'Unnamed'));
		busy = false;
		chooser.value = '';
		if (!brought) return;
		await house.refreshCatalogue();
		house.tell('good', told(brought));
		onbrought?.(brought);
	}
</script>

<Button kind={replaces ? 'quiet' : 'plain'} disabled={busy} aria-label={replaces ? `Replace ${replaces}` : undefined} {icon} onclick={() => chooser.click()}>
	{busy ? 'Bringing it in …' : replaces ? 'Replace' : says}
</Button>
<input bind:this={chooser} type="file" hidden {accept} aria-label={label} onchange={(event) => void bring(event.currentTarget.files?.[0])} />
