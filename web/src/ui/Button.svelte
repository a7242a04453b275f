<script lang="ts">
	import type { Snippet } from 'svelte';
	import type { HTMLButtonAttributes } from 'svelte/elements';

	type Props = HTMLButtonAttributes & {
		kind?: 'plain' | 'main' | 'quiet' | 'dark';
		icon?: Snippet;
		pressed?: boolean;
		children?: Snippet;
	};
	let { kind = 'plain', icon, pressed, children, ...rest }: Props = $props();
</script>

<button type="button" {...rest} data-kind={kind} aria-pressed={pressed} class:lone={!children}>
	{#if icon}<span class="icon" aria-hidden="true">{@render icon()}</span>{/if}
	{@render children?.()}
</button>

<style>
	button {
		display: inline-flex;
		align-items: center;
		justify-content: center;
		gap: 6px;
		min-height: 32px;
		padding: 5px 12px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
		cursor: pointer;
		white-space: nowrap;
		transition: background var(--quick);
	}
	button:hover {
		background: var(--paper-sunk);
	}
	.lone {
		padding: 5px 7px;
	}
	.icon {
		display: inline-flex;
	}
	[data-kind='main'] {
		border-color: var(--kept);
		background: var(--kept);
		color: var(--paper-raised);
		font-weight: 700;
	}
	[data-kind='main']:hover {
		background: color-mix(in srgb, var(--kept) 86%, var(--ink));
	}
	[data-kind='quiet'] {
		border-color: transparent;
		background: none;
	}
	[data-kind='dark'] {
		border-color: var(--stage-rule);
		background: var(--stage-raised);
		color: var(--stage-text);
	}
	[data-kind='dark']:hover {
		background: var(--stage-rule);
	}
	[aria-pressed='true'] {
		border-color: var(--kept);
		background: var(--kept-wash);
		color: var(--ink);
		font-weight: 700;
	}
	button:disabled {
		opacity: 0.5;
		cursor: default;
	}
</style>
