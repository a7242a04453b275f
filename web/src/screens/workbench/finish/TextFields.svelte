<script lang="ts">
	/** What a text says, and what it looks like where that is not as the captions. */
	import type { CaptionLook, What } from '$api/client';
	import { house } from '$api/house.svelte';
	import Swatches from '$screens/house/Swatches.svelte';
	import Button from '$ui/Button.svelte';
	import Fold from '$ui/Fold.svelte';
	import Slider from '$ui/Slider.svelte';
	import type { Change } from './finish.svelte';

	type Text = Extract<What, { kind: 'title' | 'lines' | 'name-strap' | 'time-left' }>;
	type Props = { what: Text; onset: (change: Change) => void; onlook: (change: Change) => void };
	let { what, onset, onlook }: Props = $props();

	const own = $derived((what.look ?? {}) as Partial<CaptionLook>);
	const dressed = (look: { [field in keyof CaptionLook]?: CaptionLook[field] | undefined }): Change => ({ look });
	const COMES = [['none', 'At once'], ['fade', 'Fade in'], ['rise', 'Rise'], ['slide', 'Slide in'], ['type', 'Type on'], ['pop', 'Pop']] as const;
	const GOES = [['none', 'At once'], ['fade', 'Fade out'], ['rise', 'Rise'], ['type', 'Type off']] as const;
	const faces = $derived(house.faces.filter((one) => one.offered && !one.retired));
</script>

{#if what.kind === 'title' || what.kind === 'lines'}
	<label>Text <textarea rows="2" required maxlength={what.kind === 'title' ? 160 : 120} value={what.text} onchange={({ currentTarget: box }) => { if (box.value.trim()) onset({ text: box.value.trim() }); else box.value = what.text; }}></textarea></label>
{/if}
{#if what.kind === 'title'}
	<p class="soft">{'{title}'} stands for the title of the quote.</p>
	<label>Second text <input maxlength="160" placeholder="none" value={what.second ?? ''} onchange={(event) => onset({ second: event.currentTarget.value })} /></label>
{:else if what.kind === 'name-strap'}
	<label>Name <input maxlength="160" placeholder="whoever speaks" value={what.name ?? ''} onchange={(event) => onset({ name: event.currentTarget.value })} /></label>
	<label>Role <input maxlength="160" placeholder="none" value={what.role ?? ''} onchange={(event) => onset({ role: event.currentTarget.value })} /></label>
{/if}
<Fold says="Look{Object.keys(own).length ? ' · its own' : ' · as the captions'}">
	<Slider name="Size" says={own.size ? `${(own.size * 100).toFixed(1)} %` : 'usual'} min={0.03} max={0.16} step={0.001} value={own.size ?? 0.06} onlook={(size) => onlook(dressed({ size }))} onset={(size) => onset(dressed({ size }))} />
	<label>Face <select value={own.face ?? ''} onchange={(event) => onset(dressed({ face: event.currentTarget.value || undefined }))}><option value="">as the captions</option>{#each faces as one (one.name)}<option>{one.name}</option>{/each}</select></label>
	<label>Entrance <select value={own.entrance ?? 'none'} onchange={(event) => onset(dressed({ entrance: event.currentTarget.value as CaptionLook['entrance'] }))}>{#each COMES as [value, says] (value)}<option {value}>{says}</option>{/each}</select></label>
	<label>Exit <select value={own.exit ?? 'none'} onchange={(event) => onset(dressed({ exit: event.currentTarget.value as CaptionLook['exit'] }))}>{#each GOES as [value, says] (value)}<option {value}>{says}</option>{/each}</select></label>
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
	textarea {
		resize: vertical;
	}
	.soft {
		color: var(--ink-soft);
		font-size: 13px;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 4px;
	}
</style>
