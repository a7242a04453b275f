<script lang="ts">
	import { keys } from './keys.svelte';

	let dialog: HTMLDialogElement;
	$effect(() => {
		if (keys.shown) dialog.showModal();
		else dialog.close();
	});

	const NAMES: Record<string, string> = {
		ArrowUp: '↑', ArrowDown: '↓', ArrowLeft: '←', ArrowRight: '→', ctrl: 'Ctrl', shift: 'Shift', alt: 'Alt'
	};
	const named = (key: string) => key.split('+').map((part) => NAMES[part] ?? (part.length === 1 ? part.toUpperCase() : part));
</script>

<dialog bind:this={dialog} onclose={() => (keys.shown = false)} aria-label="Keys">
	<header>
		<h2>Keyboard shortcuts</h2>
		<button type="button" onclick={() => (keys.shown = false)}>Close</button>
	</header>
	<div>
		{#each [...keys.groups].reverse() as group (group)}
			<section>
				<h3>{group.name}</h3>
				<dl>
					{#each group.keys as key (key)}
						<div>
							<dt>{#each key.keys as press (press)}<span>{#each named(press) as part (part)}<kbd>{part}</kbd>{/each}</span>{/each}</dt>
							<dd>{key.does}</dd>
						</div>
					{/each}
				</dl>
			</section>
		{/each}
	</div>
</dialog>

<style>
	dialog {
		width: min(760px, 90vw);
		max-height: 84vh;
		padding: 20px 24px;
		border: 0;
		border-radius: 10px;
		background: var(--paper-raised);
		color: var(--ink);
		box-shadow: var(--shadow);
	}
	dialog::backdrop {
		background: var(--veil);
	}
	header {
		display: flex;
		justify-content: space-between;
		align-items: center;
	}
	header button {
		min-height: 32px;
		padding: 0 12px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
	}
	section {
		margin-top: 14px;
	}
	h2 {
		font-size: 18px;
	}
	h3 {
		margin-bottom: 6px;
		color: var(--ink-soft);
		font-size: 14px;
	}
	dl {
		columns: 2;
		column-gap: 32px;
		font-size: 14px;
	}
	dl div {
		display: grid;
		grid-template-columns: 104px 1fr;
		gap: 8px;
		padding: 3px 0;
		break-inside: avoid-column;
	}
	dt span {
		margin-right: 3px;
		white-space: nowrap;
	}
	kbd {
		display: inline-block;
		min-width: 22px;
		margin-right: 2px;
		padding: 0 5px;
		border: 1px solid var(--rule);
		border-bottom-width: 2px;
		border-radius: 4px;
		background: var(--paper);
		font: 13px/18px var(--ui);
		text-align: center;
	}
</style>
