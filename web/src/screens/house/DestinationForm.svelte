<script lang="ts">
	/** A destination as it is set: size, limits, rate, file name, and the areas that the posting app covers. */
	import { untrack } from 'svelte';
	import Plus from '@lucide/svelte/icons/plus';
	import Trash2 from '@lucide/svelte/icons/trash-2';
	import type { WantedDestination } from '$api/client';
	import Button from '$ui/Button.svelte';
	import Check from '$ui/Check.svelte';
	import Dialog from '$ui/Dialog.svelte';
	import CoveredPicture from './CoveredPicture.svelte';
	import { newArea, RATES } from './wanted';

	type Props = { wanted: WantedDestination; name: string; problem: string; onsave: (wanted: WantedDestination) => void; onclose: () => void };
	let { wanted: given, name, problem, onsave, onclose }: Props = $props();

	const wanted = $state(untrack(() => structuredClone($state.snapshot(given)) as Required<WantedDestination>));
	const SIDES = [['x', 'Left'], ['y', 'Top'], ['width', 'Width'], ['height', 'Height']] as const;
	const parts = (value: number) => Math.round(value * 1000) / 10;
</script>

<Dialog {name} wide {onclose}>
	<form id="destination" onsubmit={(event) => { event.preventDefault(); onsave($state.snapshot(wanted)); }}>
		<div class="fields">
			<label class="whole">Name <input bind:value={wanted.name} maxlength="60" required /></label>
			<label>Width <span><input type="number" bind:value={wanted.width} required /> px</span></label>
			<label>Height <span><input type="number" bind:value={wanted.height} required /> px</span></label>
			<label>Longest <span><input type="number" step="0.1" min="1" value={wanted.limit_ms / 1000} onchange={(event) => (wanted.limit_ms = Math.round(event.currentTarget.valueAsNumber * 1000) || 0)} required /> s</span></label>
			<label>Largest file <span><input type="number" bind:value={wanted.largest_mb} required /> MB</span></label>
			<label class="whole">Frames a second
				<select value={wanted.rate ?? ''} onchange={(event) => (wanted.rate = event.currentTarget.value || null)}>
					{#each RATES as [rate, said] (rate)}<option value={rate}>{said}</option>{/each}
				</select>
			</label>
			<label class="whole">File name <input bind:value={wanted.file_name} maxlength="120" required /></label>
			<p class="soft whole">With {'{recording}'}, {'{quote}'}, {'{destination}'}, {'{shape}'}, {'{date}'} or {'{number}'} where those go.</p>
		</div>
		<fieldset class="texts">
			<legend>The texts it takes</legend>
			<label>Title <input type="number" min="0" max="10000" bind:value={wanted.texts.title} required /></label>
			<label>Description <input type="number" min="0" max="100000" bind:value={wanted.texts.description} required /></label>
			<label>Tags <input type="number" min="0" max="60" bind:value={wanted.texts.tags} required /></label>
			<label>Counted in
				<select bind:value={wanted.texts.unit}>
					<option value="graphemes">characters, as a reader sees them</option><option value="code points">code points</option>
					<option value="UTF-16 units">UTF-16 units</option><option value="bytes">bytes</option>
				</select>
			</label>
			<label>A link counts as <input type="number" min="1" max="2000" placeholder="its length" value={wanted.texts.link_length ?? ''} onchange={(event) => (wanted.texts.link_length = event.currentTarget.valueAsNumber || null)} /></label>
			<Check name="Tags stand in the description" checked={wanted.texts.tags_in_description ?? true} onset={(on) => (wanted.texts.tags_in_description = on)} />
		</fieldset>
		<div class="areas">
			<CoveredPicture width={wanted.width} height={wanted.height} covered={wanted.covered} onadd={(area) => wanted.covered.push(area)} />
			<fieldset>
				<legend>What the posting app covers, in percent</legend>
				{#each wanted.covered as area, i (i)}
					<div class="area">
						<input aria-label="Name of covered area {i + 1}" bind:value={area.name} maxlength="60" required />
						<div class="sides">
							{#each SIDES as [side, said] (side)}
								<label>{said} <input type="number" min="0" max="100" step="0.1" value={parts(area[side])} onchange={(event) => (area[side] = Math.min(1, Math.max(0, event.currentTarget.valueAsNumber / 100 || 0)))} /></label>
							{/each}
							<Button kind="quiet" aria-label="Remove covered area {i + 1}" onclick={() => wanted.covered.splice(i, 1)}>{#snippet icon()}<Trash2 size={15} />{/snippet}</Button>
						</div>
					</div>
				{/each}
				<Button disabled={wanted.covered.length >= 12} onclick={() => wanted.covered.push(newArea())}>{#snippet icon()}<Plus size={16} />{/snippet}Add an area</Button>
			</fieldset>
		</div>
		{#if problem}<p class="problem" role="alert">{problem}</p>{/if}
	</form>
	{#snippet actions()}
		<Button kind="main" type="submit" form="destination">Save</Button>
		<Button onclick={onclose}>Cancel</Button>
	{/snippet}
</Dialog>

<style>
	form {
		display: grid;
		gap: 14px;
	}
	.fields {
		display: grid;
		grid-template-columns: 1fr 1fr 1fr 1fr;
		gap: 8px 14px;
	}
	.texts {
		display: grid;
		grid-template-columns: repeat(3, minmax(0, 1fr));
		gap: 6px 14px;
		align-items: end;
	}
	.texts label {
		display: grid;
		gap: 2px;
		font-size: 14px;
	}
	.whole {
		grid-column: 1 / -1;
	}
	.fields label {
		display: grid;
		gap: 2px;
		font-size: 14px;
	}
	input,
	select {
		width: 100%;
		min-width: 0;
		min-height: 32px;
		padding: 0 8px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
	}
	.fields span {
		display: flex;
		align-items: center;
		gap: 6px;
	}
	.soft {
		margin-top: -6px;
		color: var(--ink-soft);
		font-size: 13px;
	}
	.areas {
		display: flex;
		gap: 18px;
	}
	fieldset {
		display: grid;
		flex: 1;
		align-content: start;
		justify-items: start;
		gap: 8px;
		min-width: 0;
		margin: 0;
		padding: 0;
		border: 0;
	}
	legend {
		padding-bottom: 4px;
		color: var(--ink-soft);
		font-size: 14px;
	}
	.area {
		display: grid;
		gap: 4px;
		width: 100%;
		padding-bottom: 8px;
		border-bottom: 1px solid var(--rule);
	}
	.sides {
		display: grid;
		grid-template-columns: repeat(4, 1fr) auto;
		align-items: end;
		gap: 6px;
		font-size: 13px;
	}
	.problem {
		padding: 8px 12px;
		border-left: 4px solid var(--bad);
		border-radius: var(--radius);
		background: var(--bad-wash);
	}
</style>
