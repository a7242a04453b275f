<script lang="ts">
	import Pause from '@lucide/svelte/icons/pause';
	import Play from '@lucide/svelte/icons/play';
	import Repeat from '@lucide/svelte/icons/repeat';
	import Button from '$ui/Button.svelte';
	import { fineClock, seconds } from '$ui/say';
	import type { Player } from './player.svelte';

	let { player, what, loop = false, openingMs = 0 }: { player: Player; what: string; loop?: boolean; openingMs?: number } = $props();

	const part = $derived(player.lengthMs ? player.outMs / player.lengthMs : 0);
</script>

<div class="transport">
	<input
		type="range" min="0" max="1" step="0.0005" value={part} aria-label="Place in {what}" style:--part="{part * 100}%"
		oninput={(event) => player.seekOut(Number(event.currentTarget.value) * player.lengthMs)}
	/>
	<div class="row">
		<Button kind="dark" aria-label={player.playing ? 'Pause' : `Play ${what}`} title="{player.playing ? 'Pause' : `Play ${what}`} (Space)" onclick={() => player.toggle()}>
			{#snippet icon()}{#if player.playing}<Pause size={18} />{:else}<Play size={18} />{/if}{/snippet}
		</Button>
		<span class="time">{fineClock(player.outMs)} <i>/ {seconds(player.lengthMs)}</i></span>
		{#if openingMs}
			<Button kind="dark" title="Play the opening three seconds" onclick={() => { player.seekOut(0); player.play(openingMs); }}>First 3 s</Button>
		{/if}
		{#if loop}
			<Button kind="dark" pressed={player.looping} aria-label="Loop" title="Play end to start again" onclick={() => (player.looping = !player.looping)}>
				{#snippet icon()}<Repeat size={16} />{/snippet}
			</Button>
		{/if}
	</div>
</div>

<style>
	.row {
		display: flex;
		align-items: center;
		gap: 8px;
	}
	.row :global(button) {
		padding-inline: 8px;
	}
	.transport {
		padding: 4px 12px 8px;
		background: var(--stage);
		color: var(--stage-text);
	}
	input {
		display: block;
		width: 100%;
		height: 24px;
		margin: 0;
		appearance: none;
		background: none;
		cursor: pointer;
	}
	input::-webkit-slider-runnable-track {
		height: 4px;
		border-radius: 2px;
		background: linear-gradient(to right, var(--found) var(--part), var(--stage-rule) var(--part));
	}
	input::-webkit-slider-thumb {
		width: 14px;
		height: 14px;
		margin-top: -5px;
		border-radius: 50%;
		appearance: none;
		background: var(--stage-text);
	}
	input::-moz-range-track {
		height: 4px;
		background: var(--stage-rule);
	}
	.time {
		flex: 1;
		font-size: 13px;
		white-space: nowrap;
	}
	.time i {
		color: var(--stage-soft);
		font-style: normal;
	}
</style>
