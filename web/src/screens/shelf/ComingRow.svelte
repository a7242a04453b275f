<script lang="ts">
	import FileAudio from '@lucide/svelte/icons/file-audio';
	import FileText from '@lucide/svelte/icons/file-text';
	import Pause from '@lucide/svelte/icons/pause';
	import Play from '@lucide/svelte/icons/play';
	import X from '@lucide/svelte/icons/x';
	import Button from '$ui/Button.svelte';
	import { megabytes } from '$ui/say';
	import { incoming, type Coming } from './incoming.svelte';

	let { item }: { item: Coming } = $props();
	const SAYS = { waiting: 'Waiting', sending: 'Sending', paused: 'Paused', reading: 'Reading it', refused: '', done: 'On the shelf' };
</script>

<li>
	<p><FileAudio size={16} aria-hidden="true" /> <span>{item.name}</span> <small>{megabytes(item.media.size)}</small></p>
	{#if item.transcript}<p><FileText size={16} aria-hidden="true" /> <span>{item.transcript.name}</span></p>{/if}
	{#if item.problem}<p class="problem" role="alert">{item.problem}</p>{/if}
	<div class="row" role="status">
		{#if item.stage !== 'refused'}
			<progress max="1" value={item.sent} aria-label="Sending {item.name}"></progress>
			<span>{SAYS[item.stage]}{item.stage === 'sending' || item.stage === 'paused' ? ` ${Math.round(item.sent * 100)} %` : ''}</span>
		{/if}
		{#if item.stage === 'sending'}
			<Button kind="quiet" aria-label="Pause {item.name}" onclick={() => item.pause()}>{#snippet icon()}<Pause size={15} />{/snippet}</Button>
		{:else if item.stage === 'paused'}
			<Button onclick={() => incoming.goOn(item)}>{#snippet icon()}<Play size={15} />{/snippet}Resume</Button>
		{/if}
		{#if item.stage !== 'reading'}
			<Button kind="quiet" aria-label="Remove {item.name}" title="Remove it from this list" onclick={() => incoming.drop(item)}>{#snippet icon()}<X size={15} />{/snippet}</Button>
		{/if}
	</div>
</li>

<style>
	li {
		display: grid;
		gap: 4px;
		padding: 8px 0;
		border-top: 1px solid var(--rule);
	}
	p {
		display: flex;
		gap: 8px;
		align-items: center;
		min-width: 0;
	}
	p span {
		min-width: 0;
		overflow-wrap: anywhere;
	}
	small {
		color: var(--ink-soft);
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 4px 8px;
		align-items: center;
		font-size: 14px;
	}
	progress {
		flex: 1 1 100px;
		accent-color: var(--kept);
	}
	.problem {
		display: block;
		padding: 6px 10px;
		border-left: 4px solid var(--bad);
		border-radius: var(--radius);
		background: var(--bad-wash);
		overflow-wrap: anywhere;
	}
</style>
