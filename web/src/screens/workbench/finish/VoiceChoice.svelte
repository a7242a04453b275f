<script lang="ts">
	/** What is done to the sound of those who speak, as one choice; and the voice as it was recorded, to compare. */
	import Button from '$ui/Button.svelte';
	import Check from '$ui/Check.svelte';
	import type { Finish } from './finish.svelte';

	let { finish }: { finish: Finish } = $props();

	const CHOICES = [['none', 'None'], ['light', 'Light'], ['firm', 'Firm']] as const;
	const says = { none: 'The voice as it was recorded.', light: 'Removes rumble, reduces hum and hiss a little, evens levels gently.', firm: 'Removes rumble and hum, reduces hiss strongly, brings up quiet speakers.' };
</script>

<section aria-label="Speaking sound">
	<h2>Speaking sound</h2>
	<div class="row" role="group" aria-label="Strength">
		{#each CHOICES as [strength, name] (strength)}<Button pressed={finish.voice === strength} onclick={() => void finish.clean(strength)}>{name}</Button>{/each}
	</div>
	<p>{says[finish.voice]}</p>
	{#if finish.voice !== 'none'}<Check name="Play the voice as recorded (B)" checked={finish.bench.plainVoice} onset={(on) => finish.bench.hearPlain(on)} />{/if}
</section>

<style>
	h2 {
		margin-bottom: 6px;
		font-size: 15px;
	}
	.row {
		display: flex;
		gap: 4px;
	}
	p {
		margin-top: 4px;
		color: var(--ink-soft);
		font-size: 13px;
	}
</style>
