<script lang="ts">
	/** What an end card says, what it stands on, and how long. */
	import type { What } from '$api/client';
	import { house } from '$api/house.svelte';
	import ColourField from '$screens/house/ColourField.svelte';
	import Check from '$ui/Check.svelte';
	import Slider from '$ui/Slider.svelte';
	import type { Change } from './finish.svelte';
	import LookFields from './LookFields.svelte';

	type Props = { what: Extract<What, { kind: 'end-card' }>; onset: (change: Change) => void; onlook: (change: Change) => void };
	let { what, onset, onlook }: Props = $props();

	const seconds = (ms: number) => `${(ms / 1000).toFixed(1)} s`;
	const pictures = $derived(house.everyPicture.filter((one) => !one.retired || one.id === what.picture));
</script>

<label>Text <textarea rows="2" maxlength="160" placeholder="none" value={what.text ?? ''} onchange={(event) => onset({ text: event.currentTarget.value.trim() })}></textarea></label>
<label>Second text <input maxlength="160" placeholder="none" value={what.second ?? ''} onchange={(event) => onset({ second: event.currentTarget.value.trim() })} /></label>
<p class="soft">{'{title}'} stands for the title of the quote.</p>
<label>Address <input maxlength="200" placeholder="none" value={what.address ?? ''} onchange={(event) => onset({ address: event.currentTarget.value.trim() })} /></label>
<Check name="QR code of the address" checked={what.code ?? false} onset={(code) => onset({ code })} />
{#if what.code && !what.address}<p class="problem">Type the address that the code is to open.</p>{/if}
<label>Logo <select value={what.picture ?? ''} onchange={(event) => onset({ picture: event.currentTarget.value ? Number(event.currentTarget.value) : null })}>
	<option value="">none</option>{#each pictures as one (one.id)}<option value={one.id}>{one.name}</option>{/each}
</select></label>
<Slider name="Length" says={seconds(what.length_ms ?? 3000)} min={500} max={10_000} step={100} value={what.length_ms ?? 3000} onlook={(length_ms) => onlook({ length_ms })} onset={(length_ms) => onset({ length_ms })} />
<Slider name="Under the last words" says={what.under_ms ? seconds(what.under_ms) : 'after them'} min={0} max={5000} step={100} value={what.under_ms ?? 0} onlook={(under_ms) => onlook({ under_ms })} onset={(under_ms) => onset({ under_ms })} />
<ColourField name="Card" value={what.colour ?? null} none="the house’s" onset={(colour) => onset({ colour })} onnone={() => onset({ colour: null })} />
<ColourField name="Letters" value={what.letters ?? null} none="readable" onset={(letters) => onset({ letters })} onnone={() => onset({ letters: null })} />
<LookFields look={what.look} {onset} {onlook} />

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
	.problem {
		color: var(--warn);
		font-size: 14px;
	}
</style>
