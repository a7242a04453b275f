<script lang="ts">
	/** A named slider that shows its value: `onlook` while it moves, `onset` once it is let go. */
	type Props = {
		name: string;
		says: string;
		min: number;
		max: number;
		step: number;
		value: number;
		disabled?: boolean;
		onlook: (value: number) => void;
		onset: (value: number) => void;
	};
	let { name, says, min, max, step, value, disabled = false, onlook, onset }: Props = $props();
</script>

<label>
	<span>{name} <b>{says}</b></span>
	<input
		type="range" {min} {max} {step} {value} {disabled}
		oninput={(event) => onlook(Number(event.currentTarget.value))} onchange={(event) => onset(Number(event.currentTarget.value))}
	/>
</label>

<style>
	label {
		display: grid;
		width: 100%;
	}
	span {
		display: flex;
		justify-content: space-between;
	}
	input {
		width: 100%;
		height: 24px;
		margin: 0;
		accent-color: var(--kept);
	}
</style>
