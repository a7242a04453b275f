<script lang="ts">
	/** A version split in parts that each fit, looked at before they are made. */
	import { goto } from '$app/navigation';
	import { api, ask, type Schemas } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Field from '$ui/Field.svelte';
	import { seconds } from '$ui/say';
	import type { Trim } from './trim.svelte';

	let { trim, over }: { trim: Trim; over: number } = $props();
	const bench = $derived(trim.bench);
	const part = $derived(bench.quote!.document.part);
	/** The line that the part begins or ends with. */
	function line(kind: 'start' | 'end'): string {
		const there = bench.quote!.document.overlays?.map((one) => ({ ...one.what, when: one.when.kind })).find((one) => one.when === kind && one.kind === 'lines');
		return there?.kind === 'lines' ? there.text : '';
	}
	let count = $state(0);
	let recap = $state('');
	let endLine = $state('');
	let planned = $state.raw<Schemas['SplitView'] | null>(null);
	let busy = $state(false);

	async function split(make: boolean): Promise<void> {
		busy = true;
		const found = await house.trying(() =>
			ask(
				api.POST('/api/quotes/{quote_id}/split', {
					params: { path: { quote_id: bench.id } },
					body: { destination: bench.shown, count: count || null, make, recap: recap.trim(), end_line: endLine.trim() }
				})
			)
		);
		busy = false;
		planned = found ?? null;
		if (!make || !found) return;
		house.tell('good', `Split into ${found.made.length} parts. Each is a quote of its own on the shortlist.`);
		await goto(`/quote/${found.made[0]!.id}/trim`);
	}
</script>

{#if part}
	<section aria-label="Part">
		<h2>Part {part.number} of {part.of}</h2>
		<Field name="Recap, at the beginning">
			<input maxlength="120" value={line('start')} onchange={(event) => bench.edit({ kind: 'set-part-lines', recap: event.currentTarget.value, end_line: line('end') })} />
		</Field>
		<Field name="Last line, at the end">
			<input maxlength="120" value={line('end')} onchange={(event) => bench.edit({ kind: 'set-part-lines', recap: line('start'), end_line: event.currentTarget.value })} />
		</Field>
		{#if bench.quote!.part_of}<p><a href="/quote/{bench.quote!.part_of}/trim">To the whole quote</a></p>{/if}
	</section>
{:else}
	<section aria-label="Parts">
		<h2>Or split it into parts</h2>
		<p class="hint">For a passage that should not be cut: each part inside the limit, at the best turning points.</p>
		<div class="fields">
			<Field name="Parts">
				<select bind:value={count} onchange={() => (planned = null)}>
					<option value={0}>As few as fit</option>
					{#each [2, 3, 4, 5, 6] as number (number)}<option value={number}>{number}</option>{/each}
				</select>
			</Field>
			<Button disabled={busy || (over <= 0 && !count)} onclick={() => split(false)}>Preview</Button>
		</div>
		{#if planned}
			<ol>
				{#each planned.parts as one, i (i)}<li><b>{i + 1} of {planned.parts.length}, {seconds(one.length_ms)}</b> <span>{one.opens}</span> <span>… {one.lands}</span></li>{/each}
			</ol>
			<Field name="Recap from the second on" hint="One line, shown for the first seconds."><input maxlength="120" bind:value={recap} /></Field>
			<Field name="Last line up to the last but one" hint="Such as “More tomorrow”."><input maxlength="120" bind:value={endLine} /></Field>
			<p class="make"><Button kind="main" disabled={busy} onclick={() => split(true)}>Make {planned.parts.length} parts</Button></p>
		{/if}
	</section>
{/if}

<style>
	h2 {
		font-size: 15px;
	}
	.fields {
		display: grid;
		grid-template-columns: 1fr auto;
		align-items: end;
		gap: 8px;
		margin-top: 6px;
	}
	li {
		padding: 6px 0;
		border-top: 1px solid var(--rule);
		font-size: 14px;
	}
	li span {
		display: block;
		color: var(--ink-soft);
		font-family: var(--reading);
	}
	ol {
		margin: 8px 0;
	}
	.make {
		margin-top: 8px;
	}
</style>
