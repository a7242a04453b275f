<script lang="ts">
	import { problemFrom } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Dialog from '$ui/Dialog.svelte';
	import { many } from '$ui/say';

	/** A choice made in a table is looked at before it is kept. */
	let { file, onclose }: { file: File; onclose: (changed: boolean) => void } = $props();
	let preview = $state.raw<{ changes: string[]; problems: string[] } | null>(null);
	let changed = false;

	async function send(apply: boolean): Promise<void> {
		const answer = await fetch(`/api/shortlist/read-back?apply=${apply}`, { method: 'POST', body: file, headers: { 'content-type': 'text/csv' } });
		const body: unknown = await answer.json();
		if (!answer.ok) throw problemFrom(answer.status, body);
		preview = body as typeof preview;
		changed ||= apply;
	}
	$effect(() => {
		void house.trying(() => send(false)).then(() => { if (!preview) onclose(false); });
	});
	async function apply(): Promise<void> {
		await house.trying(() => send(true));
		house.tell('good', `The choice in ${file.name} was kept.`);
		onclose(changed);
	}
</script>

<Dialog name="Import choices" onclose={() => onclose(changed)}>
	{#if preview}
		<p>{preview.changes.length ? `${file.name} changes this:` : `${file.name} changes nothing.`}</p>
		<ul>{#each preview.changes as one (one)}<li>{one}</li>{/each}</ul>
		{#if preview.problems.length}
			<p class="bad">{many(preview.problems.length, 'row')} can't be used and will be left as they are:</p>
			<ul>{#each preview.problems as one (one)}<li>{one}</li>{/each}</ul>
		{/if}
	{/if}
	{#snippet actions()}
		{#if preview?.changes.length}<Button kind="main" onclick={apply}>Apply these choices</Button>{/if}
	{/snippet}
</Dialog>

<style>
	ul {
		padding: 6px 0 12px;
	}
	li {
		padding: 3px 0;
		border-bottom: 1px solid var(--rule);
	}
	.bad {
		color: var(--bad);
	}
</style>
