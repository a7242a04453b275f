<script lang="ts">
	/** What a text looks like, where that is not as the captions. */
	import type { CaptionLook } from '$api/client';
	import { house } from '$api/house.svelte';
	import Swatches from '$screens/house/Swatches.svelte';
	import Button from '$ui/Button.svelte';
	import Fold from '$ui/Fold.svelte';
	import Slider from '$ui/Slider.svelte';
	import type { Change } from './finish.svelte';

	type Props = { look: Record<string, unknown> | undefined; onset: (change: Change) => void; onlook: (change: Change) => void; moves?: boolean };
	let { look, onset, onlook, moves = true }: Props = $props();

	const own = $derived((look ?? {}) as Partial<CaptionLook>);
	const dressed = (changes: { [field in keyof CaptionLook]?: CaptionLook[field] | undefined }): Change => ({ look: changes });
	const COMES = [['none', 'At once'], ['fade', 'Fade in'], ['rise', 'Rise'], ['slide', 'Slide in'], ['type', 'Type on'], ['pop', 'Pop']] as const;
	const GOES = [['none', 'At once'], ['fade', 'Fade out'], ['rise', 'Rise'], ['type', 'Type off']] as const;
	const faces = $derived(house.faces.filter((one) => one.offered && !one.retired));
</script>

<Fold says="Look{Object.keys(own).length ? ' · its own' : ' · as the captions'}">
	<Slider name="Size" says={own.size ? `${(own.size * 100).toFixed(1)} %` : 'usual'} min={0.03} max={0.16} step={0.001} value={own.size ?? 0.06} onlook={(size) => onlook(dressed({ size }))} onset={(size) => onset(dressed({ size }))} />
	<label>Face <select value={own.face ?? ''} onchange={(event) => onset(dressed({ face: event.currentTarget.value || undefined }))}><option value="">as the captions</option>{#each faces as one (one.name)}<option>{one.name}</option>{/each}</select></label>
	{#if moves}
		<label>Entrance <select value={own.entrance ?? 'none'} onchange={(event) => onset(dressed({ entrance: event.currentTarget.value as CaptionLook['entrance'] }))}>{#each COMES as [value, says] (value)}<option {value}>{says}</option>{/each}</select></label>
		<label>Exit <select value={own.exit ?? 'none'} onchange={(event) => onset(dressed({ exit: event.currentTarget.value as CaptionLook['exit'] }))}>{#each GOES as [value, says] (value)}<option {value}>{says}</option>{/each}</select></label>
	{/if}
	<div class="row" role="group" aria-label="Plate">
		<Button onclick={() => onset(dressed({ plate: null }))}>No plate</Button>
		{#each [['line', 'Each line'], ['block', 'Block']] as const as [behind, name] (behind)}<Button pressed={own.plate?.behind === behind} onclick={() => onset(dressed({ plate: { ...(own.plate ?? {}), behind } as CaptionLook['plate'] }))}>{name}</Button>{/each}
	</div>
	<Swatches name="Colour of the letters" each="Letters" value={own.colour} onset={(colour) => onset(dressed({ colour }))} />
	<Button disabled={!Object.keys(own).length} onclick={() => onset({ look: null })}>As the captions</Button>
</Fold>

<style>
	label {
		display: grid;
		grid-template-columns: 84px minmax(0, 1fr);
		align-items: center;
		gap: 8px;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 4px;
	}
</style>
