<script lang="ts">
	/** Which music is heard, how loud, and how it makes room for the voice. */
	import { houseSoundUrl, type What } from '$api/client';
	import { house } from '$api/house.svelte';
	import Check from '$ui/Check.svelte';
	import Fold from '$ui/Fold.svelte';
	import Slider from '$ui/Slider.svelte';
	import type { Change } from './finish.svelte';

	type Props = { what: Extract<What, { kind: 'music' }>; onset: (change: Change) => void };
	let { what, onset }: Props = $props();

	const piece = $derived(house.everySound.find((one) => one.id === what.sound));
	const sounds = $derived(house.everySound.filter((one) => !one.retired || one.id === what.sound));
	const below = $derived(what.below_db ?? 6);
	const duck = $derived(what.duck_db ?? 14);
	const still = () => undefined;
	const seconds = (ms: number) => `${(ms / 1000).toFixed(1)} s`;
	const SPEEDS = [[150, 'quick'], [300, 'usual'], [900, 'slow']] as const;
</script>

<label>Piece <select value={what.sound} onchange={(event) => onset({ sound: Number(event.currentTarget.value) })}>{#each sounds as one (one.id)}<option value={one.id}>{one.name}</option>{/each}</select></label>
{#if piece}
	<audio controls preload="none" src={houseSoundUrl(piece.id, piece.revision)} aria-label="Listen to {piece.name}"></audio>
	<p class="soft">{seconds(piece.duration_ms)}{piece.loop ? ', loops without a seam' : ''}. {piece.licence || 'No licence note.'}</p>
{/if}
<Slider name="Between phrases" says="{below} dB below the voice" min={-6} max={30} step={1} value={below} onlook={still} onset={(below_db) => onset({ below_db })} />
<Slider name="While somebody speaks" says="{below + duck} dB below" min={0} max={30} step={1} value={duck} onlook={still} onset={(duck_db) => onset({ duck_db })} />
<label>Ducking <select value={String(what.fall_ms ?? 300)} onchange={(event) => onset({ fall_ms: Number(event.currentTarget.value) })}>
	{#if !SPEEDS.some(([ms]) => ms === (what.fall_ms ?? 300))}<option value={String(what.fall_ms)}>in {seconds(what.fall_ms ?? 300)}</option>{/if}
	{#each SPEEDS as [ms, says] (ms)}<option value={String(ms)}>{says}, in {seconds(ms)}</option>{/each}
</select></label>
<Check name="Loop it" checked={what.repeats ?? true} onset={(repeats) => onset({ repeats })} />
<Fold says="Start and fades">
	<Slider name="Starts in the piece at" says={seconds(what.from_ms ?? 0)} min={0} max={Math.max(0, (piece?.duration_ms ?? 1000) - 1000)} step={100} value={what.from_ms ?? 0} onlook={still} onset={(from_ms) => onset({ from_ms })} />
	<Slider name="Fade in" says={seconds(what.fade_in_ms ?? 300)} min={0} max={5000} step={100} value={what.fade_in_ms ?? 300} onlook={still} onset={(fade_in_ms) => onset({ fade_in_ms })} />
	<Slider name="Fade out" says={seconds(what.fade_out_ms ?? 1200)} min={0} max={5000} step={100} value={what.fade_out_ms ?? 1200} onlook={still} onset={(fade_out_ms) => onset({ fade_out_ms })} />
</Fold>

<style>
	label {
		display: grid;
		grid-template-columns: 84px minmax(0, 1fr);
		align-items: center;
		gap: 8px;
	}
	audio {
		width: 100%;
		height: 34px;
	}
	.soft {
		color: var(--ink-soft);
		font-size: 13px;
	}
</style>
