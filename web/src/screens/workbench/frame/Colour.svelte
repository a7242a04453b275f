<script lang="ts">
	/** Colour and light, of the shot in hand or of every shot; and a light on the face that is followed. */
	import RotateCcw from '@lucide/svelte/icons/rotate-ccw';
	import ScanFace from '@lucide/svelte/icons/scan-face';
	import type { FramingChange } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Slider from '$ui/Slider.svelte';
	import type { Frame } from './frame.svelte';

	let { frame }: { frame: Frame } = $props();

	const signed = (value: number, digits: number) => `${value > 0 ? '+' : value < 0 ? '−' : ''}${Math.abs(value).toFixed(digits)}`;
	const percent = (value: number) => `${signed(value * 100, 0)} %`;
	type Name = 'exposure' | 'contrast' | 'warmth' | 'saturation' | 'lift';
	const TONES: { name: Name; label: string; usual: number; says: (value: number) => string }[] = [
		{ name: 'exposure', label: 'Exposure', usual: 0, says: (value) => `${signed(value, 2)} stops` },
		{ name: 'contrast', label: 'Contrast', usual: 0, says: percent },
		{ name: 'warmth', label: 'Warmth', usual: 0, says: (value) => (value === 0 ? 'as it is' : `${Math.abs(value * 100).toFixed(0)} % ${value > 0 ? 'warmer' : 'colder'}`) },
		{ name: 'saturation', label: 'Saturation', usual: 1, says: (value) => `${(value * 100).toFixed(0)} %` },
		{ name: 'lift', label: 'Light on the face', usual: 0, says: (value) => `${(value * 100).toFixed(0)} %` }
	];
	const AS_IT_IS = Object.fromEntries(TONES.map((one) => [one.name, one.usual])) as FramingChange;

	/** Whether every shot is changed, or the one in hand. */
	let whole = $state(false);
	const choice = $derived(frame.framed?.choice);
	const changed = $derived(TONES.some(({ name, usual }) => (choice?.[name] ?? usual) !== usual));
	const tones = $derived(TONES.filter(({ name }) => name !== 'lift' || frame.framed?.subjects.length));
</script>

<details class="colour">
	<summary>Colour{changed ? ' · changed' : ''}</summary>
	<div class="row" role="group" aria-label="Which shots to colour">
		<Button pressed={!whole} onclick={() => (whole = false)}>This shot</Button>
		<Button pressed={whole} onclick={() => (whole = true)}>Every shot</Button>
	</div>
	{#each tones as { name, label, usual, says } (name)}
		{@const value = choice?.[name] ?? usual}
		<Slider
			name={label} says={says(value)} min={house.ranges[name].least} max={house.ranges[name].most} step={0.01} {value}
			onlook={(to) => frame.look({ [name]: to }, whole)} onset={(to) => frame.choose({ [name]: to }, whole)}
		/>
	{/each}
	<div class="row">
		<Button title="Make the face as light as it should be; shots of one camera alike" onclick={() => frame.exposeFaces(whole)}>{#snippet icon()}<ScanFace size={16} />{/snippet}Expose {whole ? 'the faces' : 'the face'} well</Button>
		<Button disabled={!changed} title="As it was filmed" onclick={() => frame.choose(AS_IT_IS, whole)}>{#snippet icon()}<RotateCcw size={16} />{/snippet}As filmed</Button>
	</div>
</details>

<style>
	.colour[open] {
		display: grid;
		gap: 8px;
	}
	summary {
		min-height: 28px;
		cursor: pointer;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 4px;
		margin-bottom: 4px;
	}
</style>
