<script lang="ts">
	/** The style of the captions, and what of it is otherwise in this quote. */
	import { api, ask, type CaptionLook } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Fold from '$ui/Fold.svelte';
	import type { Captions } from './captions.svelte';
	import LookControls from './LookControls.svelte';
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
		<LookControls {look} {captions} onset={set} onlook={seen} />
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
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 4px;
	}
	.version {
		margin: 6px 0 10px;
		color: var(--ink-soft);
		font-size: 13px;
	}
</style>
