<script lang="ts">
	import type { Snippet } from 'svelte';
	import X from '@lucide/svelte/icons/x';
	import Button from './Button.svelte';

	/** A window over the place, which Escape closes; the focus comes back to where it was. */
	type Props = { name: string; wide?: boolean; onclose: () => void; children: Snippet; actions?: Snippet };
	let { name, wide = false, onclose, children, actions }: Props = $props();
	let dialog: HTMLDialogElement;

	$effect(() => {
		dialog.showModal();
	});
</script>

<!-- Keys are for the window while it is open. -->
<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<dialog bind:this={dialog} class:wide aria-label={name} {onclose} onkeydown={(event) => event.stopPropagation()}>
	<header>
		<h2>{name}</h2>
		<Button kind="quiet" aria-label="Close" onclick={() => dialog.close()}>{#snippet icon()}<X size={18} />{/snippet}</Button>
	</header>
	<div class="body">{@render children()}</div>
	{#if actions}<footer>{@render actions()}</footer>{/if}
</dialog>

<style>
	dialog {
		width: min(560px, 94vw);
		max-height: 86vh;
		padding: 0;
		border: 0;
		border-radius: 10px;
		background: var(--paper-raised);
		color: var(--ink);
		box-shadow: var(--shadow);
		overflow: hidden;
	}
	dialog[open] {
		display: grid;
		grid-template-rows: auto minmax(0, 1fr) auto;
	}
	.wide {
		width: min(760px, 94vw);
	}
	dialog::backdrop {
		background: var(--veil);
	}
	header,
	footer {
		display: flex;
		align-items: center;
		gap: 8px;
		padding: 12px 18px;
		border-bottom: 1px solid var(--rule);
	}
	header h2 {
		flex: 1;
		font: 600 20px/28px var(--reading);
		overflow-wrap: anywhere;
	}
	footer {
		flex-wrap: wrap;
		border: 0;
		border-top: 1px solid var(--rule);
	}
	.body {
		min-height: 0;
		padding: 14px 18px;
		overflow-y: auto;
	}
</style>
