<script lang="ts">
	/** What of a look is changed most: of all captions of a quote, or of one. */
	import Pipette from '@lucide/svelte/icons/pipette';
	import type { CaptionLook } from '$api/client';
	import Swatches from '$screens/house/Swatches.svelte';
	import Button from '$ui/Button.svelte';
	import Slider from '$ui/Slider.svelte';
	import type { Captions } from './captions.svelte';

	type Props = { look: CaptionLook; captions: Captions; onset: (change: Partial<CaptionLook>) => void; onlook: (change: Partial<CaptionLook>) => void };
	let { look, captions, onset, onlook }: Props = $props();

	const CASES = [['as-said', 'As said'], ['upper', 'UPPER'], ['lower', 'lower']] as const;
	const PLATES = [['line', 'Each line'], ['block', 'Block']] as const;
	/** What a change of a plate says nothing of stays as it is. */
	const plated = (change: Partial<NonNullable<CaptionLook['plate']>> | null) => onset({ plate: change as CaptionLook['plate'] });
	const edged = () => onset({ outline: look.outline ? null : { colour: '#161A22', width: 0.08 } });
</script>

{#snippet pipette(name: string, take: (colour: string) => void)}
	<Button kind="quiet" aria-label={name} title={name} pressed={captions.picking === take} onclick={() => (captions.picking = captions.picking ? null : take)}>{#snippet icon()}<Pipette size={16} />{/snippet}</Button>
{/snippet}

<Slider
	name="Size" says="{(look.size * 100).toFixed(1)} %" min={0.03} max={0.12} step={0.001} value={look.size}
	onlook={(size) => onlook({ size })} onset={(size) => onset({ size })}
/>
<div class="row" role="group" aria-label="Case">
	{#each CASES as [value, name] (value)}<Button pressed={(look.case ?? 'as-said') === value} onclick={() => onset({ case: value })}>{name}</Button>{/each}
</div>
<div class="row" role="group" aria-label="Plate">
	<Button pressed={!look.plate} onclick={() => plated(null)}>No plate</Button>
	{#each PLATES as [behind, name] (behind)}<Button pressed={look.plate?.behind === behind} onclick={() => plated({ behind })}>{name}</Button>{/each}
	<Button pressed={!!look.outline} onclick={edged}>Outline</Button>
</div>
<Swatches name="Colour of the letters" each="Letters" value={look.colour} onset={(colour) => onset({ colour })}>
	{@render pipette('Letters from the picture', (colour) => onset({ colour }))}
	{#if look.plate}{@render pipette('Plate from the picture', (colour) => plated({ colour }))}{/if}
</Swatches>

<style>
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 4px;
	}
</style>
