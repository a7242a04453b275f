<script lang="ts">
	/** Removing files of exports by a rule. */
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Check from '$ui/Check.svelte';
	import Dialog from '$ui/Dialog.svelte';
	import { many } from '$ui/say';
	import type { Outbox } from './outbox.svelte';

	let { outbox, onclose }: { outbox: Outbox; onclose: () => void } = $props();
	let days = $state(30);
	let newest = $state(true);

	async function clear(): Promise<void> {
		const gone = await outbox.clear(days, newest);
		if (gone === undefined) return;
		house.tell('good', gone ? `Removed ${many(gone, 'export')}. The quotes stay, and can be exported again.` : 'There is nothing that old.');
		onclose();
	}
</script>

<Dialog name="Clear out" {onclose}>
	<label>Exports made <input type="number" min="0" max="3650" bind:value={days} /> days ago or earlier</label>
	<Check name="But keep the newest of each version" checked={newest} onset={(on) => (newest = on)} />
	<p>Their files are removed. Quotes stay as they are.</p>
	{#snippet actions()}<Button kind="main" disabled={!(days >= 0)} onclick={clear}>Remove them</Button>{/snippet}
</Dialog>

<style>
	label {
		display: flex;
		align-items: center;
		gap: 8px;
	}
	input {
		width: 80px;
	}
	p {
		color: var(--ink-soft);
	}
</style>
