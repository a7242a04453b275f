<script lang="ts">
	/** What the cut does to what was said, to mend or accept with a reason; and the speaker's own approval. */
	import CircleCheck from '@lucide/svelte/icons/circle-check';
	import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
	import { asSaidUrl, type Unfair } from '$api/client';
	import Button from '$ui/Button.svelte';
	import { many } from '$ui/say';
	import Approvals from './Approvals.svelte';
	import type { Trim } from './trim.svelte';

	let { trim, ongo }: { trim: Trim; ongo: (word: number) => void } = $props();
	const bench = $derived(trim.bench);
	const found = $derived(bench.unfair);
	const open = $derived(found.filter((one) => one.accepted === null));
	let accepting = $state<string | null>(null);
	let reason = $state('');

	async function accept(one: Unfair): Promise<void> {
		if (!reason.trim()) return;
		if (await bench.edit({ kind: 'accept-note', what: one.id, also: [], reason })) accepting = null;
	}
</script>

<section aria-label="Fair to the speaker">
	{#if open.length === 0}
		<p class="fair"><CircleCheck size={18} aria-hidden="true" /> {found.length ? 'All notes are accepted.' : 'Nothing in this cut changes what was meant.'}</p>
	{:else}
		<h2>{many(open.length, 'note')} on fairness</h2>
	{/if}
	<ul>
		{#each found as one (one.id)}
			<li data-accepted={one.accepted !== null}>
				<p>{#if one.accepted === null}<TriangleAlert size={16} aria-label="Worth a look" />{/if} <b>{one.says}</b></p>
				<dl>
					<dt>Said</dt><dd>{one.said}</dd>
					<dt>Kept</dt><dd>{one.kept || 'nothing'}</dd>
				</dl>
				{#if one.accepted !== null}
					<p class="hint">Accepted: {one.accepted}</p>
					<Button kind="quiet" onclick={() => bench.edit({ kind: 'accept-note', what: one.id, also: [], reason: '' })}>Take that back</Button>
				{:else if accepting === one.id}
					<form onsubmit={(event) => { event.preventDefault(); void accept(one); }}>
						<!-- svelte-ignore a11y_autofocus -->
						<input aria-label="Why it is fair all the same" placeholder="Why it is fair all the same" maxlength="500" autofocus bind:value={reason} onkeydown={(event) => { if (event.key === 'Escape') accepting = null; }} />
						<Button type="submit" disabled={!reason.trim()}>Accept</Button>
					</form>
				{:else}
					<p class="hint">{one.do}</p>
					<div class="row">
						<Button onclick={() => ongo(one.first)}>Show</Button>
						<Button onclick={() => { accepting = one.id; reason = ''; }}>Accept…</Button>
					</div>
				{/if}
			</li>
		{/each}
	</ul>
</section>
<section aria-label="As said beside as kept">
	<h2>As said beside as kept</h2>
	<p class="links"><a href={asSaidUrl(bench.id)} target="_blank" rel="noopener">Open to read or print</a> <a href={asSaidUrl(bench.id, true)} download>Save the page</a></p>
</section>
<Approvals {bench} />

<style>
	.fair {
		display: flex;
		gap: 8px;
		color: var(--good);
	}
	h2 {
		font-size: 15px;
	}
	li {
		padding: 8px 0;
		border-top: 1px solid var(--rule);
	}
	ul {
		margin-top: 6px;
	}
	li p :global(svg) {
		color: var(--warn);
		vertical-align: -3px;
	}
	[data-accepted='true'] > p:first-child b {
		font-weight: 400;
	}
	dl {
		display: grid;
		grid-template-columns: auto 1fr;
		gap: 2px 8px;
		margin: 4px 0;
		font-size: 14px;
	}
	dt {
		color: var(--ink-soft);
	}
	dd {
		font-family: var(--reading);
	}
	.row,
	form {
		display: flex;
		gap: 6px;
		margin-top: 4px;
	}
	input {
		flex: 1;
		min-width: 0;
		padding: 4px 8px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper);
	}
	.links {
		display: flex;
		gap: 14px;
	}
</style>
