<script lang="ts">
	/** What a cue may be: its lines, how long they are, how long it shows, how fast it is read. */
	import type { Limits } from '$api/client';

	let { limits, onset }: { limits: Limits; onset: (limits: Limits) => void } = $props();

	const FIELDS = [
		{ name: 'Lines', field: 'lines', min: 1, max: 4, step: 1, times: 1 },
		{ name: 'Characters a line', field: 'line_characters', min: 6, max: 60, step: 1, times: 1 },
		{ name: 'Shortest, s', field: 'shortest_ms', min: 0.2, max: 5, step: 0.1, times: 1000 },
		{ name: 'Longest, s', field: 'longest_ms', min: 0.5, max: 15, step: 0.1, times: 1000 },
		{ name: 'Characters a second', field: 'fastest_cps', min: 8, max: 60, step: 1, times: 1 }
	] as const;
</script>

{#each FIELDS as { name, field, min, max, step, times } (field)}
	<label>
		{name}
		<input
			type="number" required {min} {max} {step} value={limits[field] / times}
			onchange={({ currentTarget: box }) => { if (box.reportValidity()) onset({ ...limits, [field]: Math.round(Number(box.value) * times) }); }}
		/>
	</label>
{/each}

<style>
	input {
		width: 76px;
	}
	label {
		display: flex;
		align-items: center;
		justify-content: space-between;
		gap: 8px;
	}
</style>
