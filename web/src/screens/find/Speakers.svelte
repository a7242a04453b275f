<script lang="ts">
	import type { WordSelection } from '$page/selection.svelte';
	import Button from '$ui/Button.svelte';
	import type { Wording } from './wording.svelte';

	/** Who speaks: names to write over, colours to turn, and the selection to give to somebody. */
	let { wording, selection }: { wording: Wording; selection: WordSelection } = $props();
	const speaking = $derived(new Set(wording.talk?.sentences.map((one) => one.speaker)));
	const shown = $derived(wording.speakers.filter((one) => speaking.has(one.name)));
	let added = $state('');

	function rename(name: string, field: HTMLInputElement): void {
		const to = field.value.trim();
		if (!to || to === name) field.value = name;
		else void wording.correct({ kind: 'rename-speaker', name, to });
	}
	function give(speaker: string | null): void {
		const range = selection.range;
		if (range) void wording.correct({ kind: 'assign-speaker', ...range, speaker });
	}
</script>

<section aria-label="Speakers">
	<h3>Speakers</h3>
	{#each shown as one (one.name)}
		<div class="speaker">
			<button
				type="button" class="colour" style:background="var(--speaker-{one.colour})" title="Another colour" aria-label="Another colour for {one.name}"
				onclick={() => wording.correct({ kind: 'recolour-speaker', name: one.name, colour: (one.colour + 1) % 8 })}
			></button>
			<input
				value={one.name} aria-label="Name of {one.name}" maxlength="120" title="Write another name; the name of somebody else here makes them one"
				onchange={(event) => rename(one.name, event.currentTarget)} onkeydown={(event) => { if (event.key === 'Enter') event.currentTarget.blur(); }}
			/>
			<Button disabled={!selection.range} aria-label="The selection is said by {one.name}" title="The selected words are said by {one.name}" onclick={() => give(one.name)}>Assign</Button>
		</div>
	{:else}
		<p>Nobody is named yet. Select words and name who says them.</p>
	{/each}
	<form onsubmit={(event) => { event.preventDefault(); if (added.trim()) give(added.trim()); added = ''; }}>
		<input bind:value={added} aria-label="Somebody else" placeholder="Somebody else" maxlength="120" />
		<Button type="submit" disabled={!selection.range || !added.trim()} title="The selected words are said by this person">Assign</Button>
	</form>
</section>

<style>
	.speaker,
	form {
		display: flex;
		gap: 8px;
		align-items: center;
	}
	.colour {
		flex: none;
		width: 24px;
		height: 24px;
		border: 4px solid var(--paper-raised);
		border-radius: 50%;
		cursor: pointer;
	}
	input {
		flex: 1;
		min-width: 0;
		min-height: 30px;
		padding: 3px 8px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper);
	}
	form input {
		margin-left: 32px;
	}
	p {
		color: var(--ink-soft);
		font-size: 14px;
	}
</style>
