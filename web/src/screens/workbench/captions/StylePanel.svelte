<script lang="ts">
	/** The style of the captions, and what of it is otherwise in this quote. */
	import Pipette from '@lucide/svelte/icons/pipette';
	import { api, ask, type CaptionLook } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Fold from '$ui/Fold.svelte';
	import Slider from '$ui/Slider.svelte';
	import type { Captions } from './captions.svelte';
	import StyleSample from './StyleSample.svelte';

	let { captions }: { captions: Captions } = $props();

	const bench = $derived(captions.bench);
	const told = $derived(bench.quote!.document.captions!);
	const style = $derived(house.styles.find((one) => one.id === told.style));
	const look = $derived(captions.track?.look ?? style?.look);
	const own = $derived(Object.keys(told.look ?? {}));
	const set = (change: Partial<CaptionLook>) => void bench.edit({ kind: 'change-caption-look', look: change, reset: [] });
	const seen = (change: Partial<CaptionLook>) => bench.try({ kind: 'change-caption-look', look: change, reset: [] });
	const NAMES: Record<string, string> = { size: 'size', case: 'case', colour: 'colour', plate: 'plate', outline: 'outline', spoken: 'spoken word', face: 'face', speakers: 'speakers', limits: 'limits' };

	async function makeStyle(): Promise<void> {
		if (!style) return;
		const { follow, exported } = await ask(api.GET('/api/styles/{style}/follows', { params: { path: { style: style.id } } }));
		const others = Math.max(0, follow + exported - 1);
		const says = others ? ` ${others} other ${others === 1 ? 'quote follows' : 'quotes follow'} it${exported ? `; ${exported} exported ${exported === 1 ? 'one holds' : 'ones hold'} what it was` : ''}.` : '';
		if (!confirm(`Make this the style ${style.name}?${says}`)) return;
		// As it is stored: what is drawn may be a moment behind.
		const body = { name: style.name, said: style.said ?? '', look: { ...style.look, ...told.look } as CaptionLook };
		const changed = await house.trying(() => ask(api.PUT('/api/styles/{style}', { params: { path: { style: style.id }, query: { by: house.person || null } }, body })));
		if (!changed) return;
		await bench.edit({ kind: 'change-caption-look', reset: own });
		await house.refreshCatalogue();
		house.tell('good', `${style.name} looks like this from now on.`);
	}
</script>

{#snippet pipette(name: string, take: (colour: string) => void)}
	<Button kind="quiet" aria-label={name} title={name} pressed={captions.picking === take} onclick={() => (captions.picking = captions.picking ? null : take)}>{#snippet icon()}<Pipette size={16} />{/snippet}</Button>
{/snippet}

<h2>Style</h2>
<div class="styles" role="radiogroup" aria-label="Caption style">
	{#each house.styles.filter((one) => !one.retired || one.id === told.style) as one (one.id)}
		<label class="style" data-chosen={told.style === one.id}>
			<input type="radio" name="style" class="unseen" checked={told.style === one.id} onchange={() => bench.edit({ kind: 'choose-caption-style', style: one.id })} />
			<StyleSample look={one.look} />
			<span><b>{one.name}</b><br /><small>{one.said}</small></span>
		</label>
	{/each}
</div>
{#if look && style}
	<Fold says="In this quote{own.length ? ` · ${own.map((field) => NAMES[field] ?? field.replace('_', ' ')).join(', ')}` : ''}">
		<Slider
			name="Size" says="{(look.size * 100).toFixed(1)} %" min={0.03} max={0.12} step={0.001} value={look.size}
			onlook={(size) => seen({ size })} onset={(size) => set({ size })}
		/>
		<div class="row" role="group" aria-label="Case">
			{#each [['as-said', 'As said'], ['upper', 'UPPER'], ['lower', 'lower']] as const as [value, name] (value)}
				<Button pressed={(look.case ?? 'as-said') === value} onclick={() => set({ case: value })}>{name}</Button>
			{/each}
		</div>
		<div class="row" role="group" aria-label="Plate">
			<Button pressed={!look.plate} onclick={() => set({ plate: null })}>No plate</Button>
			<Button pressed={look.plate?.behind === 'line'} onclick={() => set({ plate: { ...(look.plate ?? {}), behind: 'line' } as CaptionLook['plate'] })}>Each line</Button>
			<Button pressed={look.plate?.behind === 'block'} onclick={() => set({ plate: { ...(look.plate ?? {}), behind: 'block' } as CaptionLook['plate'] })}>Block</Button>
		</div>
		<div class="swatches" role="group" aria-label="Colour of the letters">
			{#each house.palette as colour (colour)}
				<button type="button" class="swatch" style:background={colour} aria-label="Letters {colour}" aria-pressed={look.colour === colour} onclick={() => set({ colour })}></button>
			{/each}
			{@render pipette('Letters from the picture', (colour) => set({ colour }))}
			{#if look.plate}{@render pipette('Plate from the picture', (colour) => set({ plate: { ...look.plate!, colour } }))}{/if}
		</div>
		<div class="row">
			<Button disabled={!own.length} onclick={() => void bench.edit({ kind: 'change-caption-look', reset: own })}>As the style says</Button>
			<Button disabled={!own.length} onclick={makeStyle}>Make this the style</Button>
		</div>
	</Fold>
	<p class="version">
		{#if told.held}Holds version {told.held} of {style.name}. <Button onclick={() => void bench.edit({ kind: 'hold-caption-style', held: null })}>Follow it again</Button>
		{:else}Follows {style.name} (version {style.version}). <Button onclick={() => void bench.edit({ kind: 'hold-caption-style', held: style.version ?? 1 })}>Hold this version</Button>{/if}
		<a href="/house">Edit styles</a>
	</p>
{/if}

<style>
	h2 {
		margin: 4px 0 6px;
		font-size: 15px;
	}
	.styles {
		display: grid;
		gap: 6px;
		margin-bottom: 10px;
	}
	.style {
		display: grid;
		grid-template-columns: 112px 1fr;
		gap: 10px;
		align-items: center;
		padding: 5px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		cursor: pointer;
		line-height: 17px;
	}
	.style:focus-within {
		outline: 2px solid var(--note);
	}
	.style[data-chosen='true'] {
		border-color: var(--kept);
		background: var(--kept-wash);
	}
	small {
		color: var(--ink-soft);
		font-size: 13px;
	}
	.row,
	.swatches {
		display: flex;
		flex-wrap: wrap;
		gap: 4px;
	}
	.swatch {
		width: 28px;
		height: 28px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		cursor: pointer;
	}
	.swatch[aria-pressed='true'] {
		outline: 2px solid var(--kept);
		outline-offset: 1px;
	}
	.version {
		margin: 6px 0 10px;
		color: var(--ink-soft);
		font-size: 13px;
	}
</style>
