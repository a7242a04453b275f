<script lang="ts">
	import X from '@lucide/svelte/icons/x';
	import { house } from '$api/house.svelte';
	import Button from './Button.svelte';
</script>

<div class="told" role="status" aria-live="polite">
	{#each house.told as one (one.id)}
		<p data-kind={one.kind}>
			<span>{one.says}</span>
			{#if one.offer}
				<Button onclick={() => { one.offer?.run(); house.dismiss(one.id); }}>{one.offer.name}</Button>
			{/if}
			<Button kind="quiet" aria-label="Dismiss" onclick={() => house.dismiss(one.id)}>
				{#snippet icon()}<X size={16} />{/snippet}
			</Button>
		</p>
	{/each}
</div>

<style>
	.told {
		position: fixed;
		/* Over the words, where nothing is played or chosen from. */
		left: 16px;
		bottom: 80px;
		z-index: 30;
		display: grid;
		gap: 8px;
		max-width: 400px;
	}
	p {
		display: flex;
		align-items: center;
		gap: 8px;
		padding: 8px 8px 8px 14px;
		border-left: 4px solid var(--good);
		border-radius: var(--radius);
		background: var(--paper-raised);
		box-shadow: var(--shadow);
	}
	span {
		flex: 1;
	}
	[data-kind='bad'] {
		border-color: var(--bad);
		background: var(--bad-wash);
	}
</style>
