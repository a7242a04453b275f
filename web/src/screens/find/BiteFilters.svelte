<script lang="ts">
	import { house } from '$api/house.svelte';
	import Field from '$ui/Field.svelte';
	import { clock } from '$ui/say';
	import type { Bites, Length } from './bites.svelte';

	let { bites }: { bites: Bites } = $props();

	const LENGTHS: [Length, string][] = [['any', 'any'], ['under-20', 'under 20 s'], ['20-40', '20 to 40 s'], ['over-40', 'over 40 s']];

	function turn(id: string, on: boolean): void {
		const wanted = on ? [...bites.destinations, id] : bites.destinations.filter((one) => one !== id);
		if (wanted.length) void bites.choose({ destinations: wanted });
	}
</script>

<fieldset>
	<legend>For</legend>
	{#each house.destinations as one (one.id)}
		<label data-on={bites.destinations.includes(one.id)}>
			<input type="checkbox" checked={bites.destinations.includes(one.id)} onchange={(event) => { turn(one.id, event.currentTarget.checked); event.currentTarget.checked = bites.destinations.includes(one.id); }} />{one.name}
		</label>
	{/each}
</fieldset>
<div class="row">
	<Field name="Length">
		<select value={bites.length} onchange={(event) => void bites.choose({ length: event.currentTarget.value as Length })}>
			{#each LENGTHS as [id, name] (id)}<option value={id}>{name}</option>{/each}
		</select>
	</Field>
	<Field name="Topic">
		<select value={bites.topic ?? ''} onchange={(event) => void bites.choose({ topic: event.currentTarget.value === '' ? null : Number(event.currentTarget.value) })}>
			<option value="">the whole talk</option>
			{#each bites.offer?.topics ?? [] as topic, i (i)}<option value={i}>{clock(topic.span.start_ms)} {topic.phrases.join(', ')}</option>{/each}
		</select>
	</Field>
</div>

<style>
	fieldset {
		display: flex;
		flex-wrap: wrap;
		gap: 4px;
		margin: 0;
		padding: 0;
		border: 0;
	}
	legend {
		float: left;
		padding: 4px 4px 0 0;
		font-size: 14px;
	}
	label {
		padding: 3px 9px;
		border: 1px solid var(--rule);
		border-radius: 13px;
		font-size: 13px;
		cursor: pointer;
	}
	label:has(:focus-visible) {
		outline: 2px solid var(--note);
		outline-offset: 2px;
	}
	[data-on='true'] {
		border-color: var(--kept);
		background: var(--kept-wash);
		font-weight: 700;
	}
	input {
		position: absolute;
		opacity: 0;
	}
	.row {
		display: grid;
		grid-template-columns: 130px minmax(0, 1fr);
		gap: 10px;
		padding: 8px 0 4px;
	}
</style>
