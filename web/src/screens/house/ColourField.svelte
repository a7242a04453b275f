<script lang="ts">
	/** A colour: of the house's palette, or typed. `none` is what it is called to have none. */
	import { house } from '$api/house.svelte';

	type Props = { name: string; value: string | null; none?: string; onset: (colour: string) => void; onnone?: () => void };
	let { name, value, none, onset, onnone }: Props = $props();

	function typed(field: HTMLInputElement): void {
		const code = field.value.trim().toUpperCase();
		const whole = code.startsWith('#') ? code : `#${code}`;
		if (/^#[0-9A-F]{6}$/.test(whole)) onset(whole);
		else field.value = value ?? '';
	}
</script>

<div class="colour" role="group" aria-label={name}>
	<span>{name}</span>
	<input type="color" aria-label="{name}: any colour" value={(value ?? '#ffffff').toLowerCase()} onchange={(event) => onset(event.currentTarget.value.toUpperCase())} />
	<input class="code" aria-label="{name}: code" value={value ?? ''} placeholder={none} maxlength="7" onchange={(event) => typed(event.currentTarget)} />
	<span class="swatches">
		{#each house.palette as one (one)}<button type="button" style:background={one} aria-label="{name} {one}" aria-pressed={one === value} onclick={() => onset(one)}></button>{/each}
		{#if onnone}<button type="button" class="none" aria-label="{name}: {none}" title={none} aria-pressed={value === null} onclick={onnone}>×</button>{/if}
	</span>
</div>

<style>
	.colour {
		display: grid;
		grid-template-columns: auto 32px 78px;
		align-items: center;
		gap: 4px 6px;
	}
	input[type='color'] {
		width: 32px;
		height: 28px;
		padding: 1px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: none;
	}
	.code {
		min-height: 28px;
		width: 78px;
		padding: 0 6px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
		font: 13px var(--ui);
	}
	.swatches {
		grid-column: 1 / -1;
		display: flex;
		gap: 3px;
	}
	.swatches button {
		width: 24px;
		height: 24px;
		padding: 0;
		border: 1px solid var(--rule);
		border-radius: 4px;
		cursor: pointer;
	}
	.swatches button[aria-pressed='true'] {
		outline: 2px solid var(--kept);
	}
	.none {
		background: var(--paper-raised);
	}
</style>
