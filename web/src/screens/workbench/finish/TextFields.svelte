<script lang="ts">
	/** What a text says, and what it looks like where that is not as the captions. */
	import type { What } from '$api/client';
	import { house } from '$api/house.svelte';
	import type { Change } from './finish.svelte';
	import LookFields from './LookFields.svelte';

	type Text = Extract<What, { kind: 'title' | 'lines' | 'name-strap' | 'time-left' }>;
	type Props = { what: Text; onset: (change: Change) => void; onlook: (change: Change) => void };
	let { what, onset, onlook }: Props = $props();
</script>

{#if what.kind === 'title' || what.kind === 'lines'}
	<label>Text <textarea rows="2" required maxlength={what.kind === 'title' ? 160 : 120} value={what.text} onchange={({ currentTarget: box }) => { if (box.value.trim()) onset({ text: box.value.trim() }); else box.value = what.text; }}></textarea></label>
{/if}
{#if what.kind === 'title'}
	<p class="soft">{'{title}'} stands for the title of the quote.</p>
	<label>Second text <input maxlength="160" placeholder="none" value={what.second ?? ''} onchange={(event) => onset({ second: event.currentTarget.value })} /></label>
{:else if what.kind === 'name-strap'}
	<label>Name <input maxlength="160" placeholder="whoever speaks" value={what.name ?? ''} onchange={(event) => onset({ name: event.currentTarget.value })} /></label>
	<label>Role <input maxlength="160" placeholder={(what.name && house.roles[what.name]) || 'as House says'} value={what.role ?? ''} onchange={(event) => onset({ role: event.currentTarget.value })} /></label>
{/if}
<LookFields look={what.look} {onset} {onlook} />

<style>
	label {
		display: grid;
		grid-template-columns: 84px minmax(0, 1fr);
		align-items: center;
		gap: 8px;
	}
	textarea {
		resize: vertical;
	}
	.soft {
		color: var(--ink-soft);
		font-size: 13px;
	}
</style>
