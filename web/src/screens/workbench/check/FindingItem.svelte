<script lang="ts">
	/** A finding: where it is, why it matters, what mends it, and letting it stand. */
	import OctagonAlert from '@lucide/svelte/icons/octagon-alert';
	import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
	import Button from '$ui/Button.svelte';
	import { fineClock, many } from '$ui/say';
	import { STEP_NAMES } from '../keys';
	import type { Check } from './check.svelte';
	import type { Told } from './together';

	type Props = { check: Check; finding: Told; inHand: boolean; onlook: () => void; ongo: () => void };
	let { check, finding, inHand, onlook, ongo }: Props = $props();
	let asking = $state(false);
	let reason = $state('');
	let item = $state<HTMLElement>();
	const stop = $derived(finding.severity === 'stop');

	$effect(() => {
		if (inHand) item?.scrollIntoView({ block: 'nearest' });
	});

	async function accept(): Promise<void> {
		if (!reason.trim()) return;
		await check.accept(finding, reason);
		asking = false;
	}
</script>

<li bind:this={item} data-severity={finding.severity} aria-current={inHand}>
	<span class="icon" role="img" aria-label={stop ? 'Spoils the post' : 'Worth a look'}>
		{#if stop}<OctagonAlert size={20} />{:else}<TriangleAlert size={20} />{/if}
	</span>
	<div>
		<p>
			{#if finding.at_ms !== null && finding.at_ms !== undefined}<button type="button" class="at" title="Go to this moment" onclick={onlook}>{fineClock(finding.at_ms)}</button>{/if}
			<b>{finding.says}</b>{#if finding.more}{' '}and {many(finding.more, 'caption')} more like it{/if}
		</p>
		<p class="do">{finding.do}</p>
		{#if asking}
			<form onsubmit={(event) => { event.preventDefault(); void accept(); }}>
				<!-- svelte-ignore a11y_autofocus -->
				<input aria-label="Why it may be exported as it is" placeholder="Why it may be exported as it is" maxlength="500" autofocus bind:value={reason} onkeydown={(event) => { if (event.key === 'Escape') { event.stopPropagation(); asking = false; } }} />
				<Button type="submit" disabled={!reason.trim()}>Overrule</Button>
			</form>
		{:else}
			<div class="row">
				{#if finding.mend}<Button kind="main" onclick={() => check.mend(finding)}>{finding.mend_says}{check.mends(finding).length > 1 ? `, all ${check.mends(finding).length}` : ''}</Button>{/if}
				{#if finding.step}<Button onclick={ongo}>Fix in {STEP_NAMES[finding.step]}</Button>{/if}
				{#if stop}<Button kind="quiet" onclick={() => { asking = true; reason = ''; }}>Overrule…</Button>
				{:else}<Button kind="quiet" title="It stays quiet until what it is about changes (M)" onclick={() => check.accept(finding, 'Marked as fine')}>Mark as fine</Button>{/if}
			</div>
		{/if}
	</div>
</li>

<style>
	li {
		display: grid;
		grid-template-columns: 24px minmax(0, 1fr);
		gap: 10px;
		align-items: start;
		padding: 10px 12px;
		margin-top: 8px;
		border-left: 4px solid var(--warn);
		border-radius: var(--radius);
		background: var(--paper-raised);
	}
	li[aria-current='true'] {
		box-shadow: inset 0 0 0 2px var(--note);
	}
	.icon {
		color: var(--warn);
	}
	li[data-severity='stop'] {
		border-color: var(--bad);
	}
	[data-severity='stop'] .icon {
		color: var(--bad);
	}
	.do {
		color: var(--ink-soft);
		font-size: 14px;
	}
	.at {
		min-height: 24px;
		padding: 0 2px;
		border: 0;
		background: none;
		color: var(--ink-soft);
		text-decoration: underline;
		text-decoration-color: var(--rule);
		text-underline-offset: 3px;
		cursor: pointer;
	}
	.row,
	form {
		display: flex;
		flex-wrap: wrap;
		gap: 6px;
		margin-top: 6px;
	}
	input {
		flex: 1;
		min-width: 160px;
	}
</style>
