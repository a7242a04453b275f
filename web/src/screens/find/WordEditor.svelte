<script lang="ts">
	import { untrack } from 'svelte';
	import Button from '$ui/Button.svelte';
	import type { Wording } from './wording.svelte';

	/** Writing over words where they stand. Enter keeps, Escape leaves them. */
	type Props = { wording: Wording; first: number; last: number; ondone: (changed: boolean) => void };
	let { wording, first, last, ondone }: Props = $props();

	let text = $state(untrack(() => wording.text(first, last)));
	let field: HTMLInputElement;
	const heard = $derived(
		wording.talk?.heard.slice(first, last + 1).some((one) => one !== null)
			? wording.talk.heard.slice(first, last + 1).map((one, i) => one ?? wording.talk!.texts[first + i]).filter(Boolean).join(' ')
			: ''
	);
	const place = untrack(() => {
		const box = document.querySelector(`[data-word="${first}"]`)?.getBoundingClientRect();
		return { left: Math.min((box?.left ?? 200) - 10, innerWidth - 480), top: Math.min((box?.bottom ?? 200) + 4, innerHeight - 120) };
	});

	$effect(() => {
		field.focus();
		field.select();
	});

	async function keep(): Promise<void> {
		if (text.trim() === wording.text(first, last)) return ondone(false);
		if (await wording.correct({ kind: 'correct-words', first, last, text })) ondone(true);
	}
</script>

<form
	class="editor" aria-label="Correct the words" style:left="{place.left}px" style:top="{place.top}px"
	onsubmit={(event) => { event.preventDefault(); void keep(); }}
>
	<input
		bind:this={field} bind:value={text} aria-label="The words as they were said" maxlength="2000" size={Math.max(18, Math.min(60, text.length + 4))}
		onkeydown={(event) => { if (event.key === 'Escape') { event.stopPropagation(); ondone(false); } }}
	/>
	<Button kind="main" type="submit">Keep</Button>
	<Button kind="quiet" onclick={() => ondone(false)}>Cancel</Button>
	{#if heard}<p>It was: “{heard}”</p>{/if}
</form>

<style>
	.editor {
		position: fixed;
		z-index: 20;
		display: flex;
		flex-wrap: wrap;
		gap: 6px;
		max-width: 640px;
		padding: 8px;
		border-radius: 8px;
		background: var(--paper-raised);
		box-shadow: var(--shadow);
	}
	input {
		min-width: 0;
		padding: 4px 8px;
		border: 1px solid var(--note);
		border-radius: var(--radius);
		background: var(--paper);
		font: 17px/24px var(--reading);
	}
	p {
		flex-basis: 100%;
		color: var(--ink-soft);
		font-size: 13px;
	}
</style>
