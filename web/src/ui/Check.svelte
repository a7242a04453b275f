<script lang="ts">
	/** A named box to check. */
	let { name, checked, onset }: { name: string; checked: boolean; onset: (checked: boolean) => void } = $props();
</script>

<label><input type="checkbox" {checked} onchange={(event) => onset(event.currentTarget.checked)} /> {name}</label>

<style>
	label {
		display: flex;
		align-items: center;
		gap: 8px;
		min-height: 32px;
	}
	input {
		width: 18px;
		height: 18px;
		margin: 0;
		accent-color: var(--kept);
	}
</style>
