<script lang="ts" generics="T extends string">
	/** A row of names of which one is open; arrows move between them. */
	type Props = { name: string; tabs: { id: T; name: string; count?: number }[]; open: T; onopen: (id: T) => void };
	let { name, tabs, open, onopen }: Props = $props();
	let row: HTMLDivElement;

	function keyed(event: KeyboardEvent): void {
		const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
		if (!step) return;
		event.preventDefault();
		event.stopPropagation();
		const at = (tabs.findIndex((tab) => tab.id === open) + step + tabs.length) % tabs.length;
		onopen(tabs[at]!.id);
		(row.children[at] as HTMLElement).focus();
	}
</script>

<div bind:this={row} class="tabs" role="tablist" aria-label={name} tabindex="-1" onkeydown={keyed}>
	{#each tabs as tab (tab.id)}
		<button type="button" role="tab" aria-selected={tab.id === open} tabindex={tab.id === open ? 0 : -1} onclick={() => onopen(tab.id)}>
			{tab.name}{#if tab.count}<span>{tab.count}</span>{/if}
		</button>
	{/each}
</div>

<style>
	.tabs {
		display: flex;
		gap: 2px;
		padding: 0 10px;
		border-bottom: 1px solid var(--rule);
	}
	button {
		min-height: 36px;
		padding: 6px 12px;
		border: 0;
		border-bottom: 3px solid transparent;
		background: none;
		cursor: pointer;
	}
	button:hover {
		background: var(--paper-sunk);
	}
	[aria-selected='true'] {
		border-color: var(--kept);
		font-weight: 700;
	}
	span {
		margin-left: 6px;
		color: var(--ink-soft);
		font-weight: 400;
	}
</style>
