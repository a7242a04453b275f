<script lang="ts">
	/** A style in small, drawn by the page: what it looks like at a glance, beside its name. */
	import type { CaptionLook } from '$api/client';

	let { look }: { look: CaptionLook } = $props();

	const plate = $derived(look.plate ? `color-mix(in srgb, ${look.plate.colour} ${(look.plate.opacity ?? 1) * 100}%, transparent)` : 'transparent');
	const edge = $derived(look.outline ? `${Math.max(0.6, look.outline.width! * 15)}px ${look.outline.colour}` : undefined);
	const mark = $derived(look.spoken?.mark ?? 'none');
	const lit = $derived(look.spoken?.colour ?? look.colour);
</script>

<span
	class="sample" style:font-family="'{look.face}'" style:color={look.colour} style:-webkit-text-stroke={edge}
	style:text-transform={look.case === 'upper' ? 'uppercase' : look.case === 'lower' ? 'lowercase' : undefined} style:letter-spacing="{look.letter_spacing ?? 0}em"
>
	<span class="line" style:background={plate} style:border-radius="{(look.plate?.radius ?? 0)}em">
		Keep the
		<i
			data-mark={mark} style:color={mark === 'colour' || mark === 'grow' ? lit : undefined} style:--lit={lit}
			style:background={mark === 'plate' ? lit : undefined}
		>wick</i>
	</span>
</span>

<style>
	.sample {
		display: grid;
		place-content: center;
		height: 44px;
		border-radius: 4px;
		background: linear-gradient(120deg, var(--stage), var(--stage-rule));
		font-size: 14px;
		paint-order: stroke fill;
		overflow: hidden;
	}
	.line {
		padding: 2px 6px;
		white-space: nowrap;
	}
	i {
		font-style: normal;
		border-radius: 3px;
	}
	i[data-mark='bar'] {
		box-shadow: inset 0 -0.1em var(--lit);
	}
	i[data-mark='plate'] {
		padding: 0 3px;
	}
	i[data-mark='grow'] {
		display: inline-block;
		transform: scale(1.1);
	}
</style>
