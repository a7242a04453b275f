<script lang="ts">
	/** A caption style, with a live picture of it in two shapes, drawn as the clips will be. */
	import { api, ask, Problem, type CaptionLook, type WantedStyle } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Fields from '$ui/Fields.svelte';
	import Slider from '$ui/Slider.svelte';
	import ColourField from './ColourField.svelte';
	import LimitsFields from './LimitsFields.svelte';
	import OwnLimits from './OwnLimits.svelte';
	import StylePicture from './StylePicture.svelte';

	type Props = { wanted: WantedStyle; name: string; problem: string; onsave: (wanted: WantedStyle) => void; onclose: () => void };
	let { wanted, name, problem, onsave, onclose }: Props = $props();

	// svelte-ignore state_referenced_locally
	let style = $state<WantedStyle>($state.snapshot(wanted) as WantedStyle);
	const look = $derived(style.look);
	const set = (change: Partial<CaptionLook>) => (style = { ...style, look: { ...style.look, ...change } });
	const SPOKEN = [['none', 'Not marked'], ['colour', 'Another colour'], ['bar', 'A bar under it'], ['plate', 'A plate behind it'], ['grow', 'It grows'], ['appear', 'Words appear']] as const;
	const COMES = [['none', 'At once'], ['fade', 'Fade in'], ['rise', 'Rise'], ['type', 'Type on']] as const;
	const GOES = [['none', 'At once'], ['fade', 'Fade out'], ['rise', 'Rise'], ['type', 'Type off']] as const;
	const faces = $derived(house.faces.filter((one) => one.name === look.face || (one.offered && !one.retired)));
	const shapes = $derived(['tall', 'wide'].flatMap((shape) => house.destinations.filter((one) => one.shape === shape).slice(0, 1)));
	const everyShape = $derived([...new Set(house.destinations.filter((one) => !one.retired).map((one) => one.shape))]);
	const percent = (value: number) => `${Math.round(value * 100)} %`;
	const ems = (value: number) => `${value.toFixed(2)} em`;
</script>

<form class="editor" aria-label={name} onsubmit={(event) => { event.preventDefault(); onsave($state.snapshot(style) as WantedStyle); }}>
	<div class="pictures">
		{#each shapes as destination (destination.id)}<StylePicture {style} {destination} />{/each}
	</div>
	<div class="fields">
		<div class="row">
			<label>Name <input required maxlength="40" bind:value={style.name} /></label>
			<label class="wide">For <input maxlength="120" placeholder="what it is for, in a few words" bind:value={style.said} /></label>
		</div>
		<Fields name="Letters" across>
			<label>Face <select value={look.face} onchange={(event) => set({ face: event.currentTarget.value })}>{#each faces as one (one.name)}<option>{one.name}</option>{/each}</select></label>
			<label>Case <select value={look.case} onchange={(event) => set({ case: event.currentTarget.value as CaptionLook['case'] })}><option value="as-said">as said</option><option value="upper">UPPER</option><option value="lower">lower</option></select></label>
			<ColourField name="Letters" value={look.colour} onset={(colour) => set({ colour })} />
			<ColourField name="Emphasis" value={look.emphasis ?? null} none="underlined" onset={(emphasis) => set({ emphasis })} onnone={() => set({ emphasis: null })} />
			<Slider name="Size" says={percent(look.size)} min={0.03} max={0.14} step={0.001} value={look.size} onlook={(size) => set({ size })} onset={(size) => set({ size })} />
			<Slider name="Between letters" says={ems(look.letter_spacing ?? 0)} min={-0.05} max={0.3} step={0.01} value={look.letter_spacing ?? 0} onlook={(letter_spacing) => set({ letter_spacing })} onset={(letter_spacing) => set({ letter_spacing })} />
			<Slider name="Line to line" says={(look.line_spacing ?? 1.28).toFixed(2)} min={1} max={2} step={0.01} value={look.line_spacing ?? 1.28} onlook={(line_spacing) => set({ line_spacing })} onset={(line_spacing) => set({ line_spacing })} />
			<label>Lines stand <select value={look.alignment} onchange={(event) => set({ alignment: event.currentTarget.value as CaptionLook['alignment'] })}><option value="left">left</option><option value="centre">centred</option><option value="right">right</option></select></label>
		</Fields>
		<Fields name="Spoken word" across>
			<label>Marked <select value={look.spoken.mark} onchange={(event) => set({ spoken: { ...look.spoken, mark: event.currentTarget.value as CaptionLook['spoken']['mark'] } })}>{#each SPOKEN as [value, says] (value)}<option {value}>{says}</option>{/each}</select></label>
			{#if look.spoken.mark !== 'none' && look.spoken.mark !== 'appear'}
				<ColourField name="Mark" value={look.spoken.colour ?? null} none="as the letters" onset={(colour) => set({ spoken: { ...look.spoken, colour } })} onnone={() => set({ spoken: { ...look.spoken, colour: null } })} />
			{/if}
		</Fields>
		<Fields name="Plate" across>
			<div class="row" role="group" aria-label="Plate">
				<Button pressed={!look.plate} onclick={() => set({ plate: null })}>None</Button>
				{#each [['line', 'Each line'], ['block', 'Block']] as const as [behind, says] (behind)}
					<Button pressed={look.plate?.behind === behind} onclick={() => set({ plate: { colour: '#161A22', opacity: 1, across: 0.3, down: 0.12, radius: 0.12, ...look.plate, behind } })}>{says}</Button>
				{/each}
			</div>
			{#if look.plate}
				{@const plate = look.plate}
				<ColourField name="Plate" value={plate.colour} onset={(colour) => set({ plate: { ...plate, colour } })} />
				<Slider name="Opacity" says={percent(plate.opacity)} min={0.1} max={1} step={0.05} value={plate.opacity} onlook={(opacity) => set({ plate: { ...plate, opacity } })} onset={(opacity) => set({ plate: { ...plate, opacity } })} />
				<Slider name="Beyond the letters" says={ems(plate.across)} min={0} max={0.8} step={0.02} value={plate.across} onlook={(across) => set({ plate: { ...plate, across } })} onset={(across) => set({ plate: { ...plate, across } })} />
				<Slider name="Above and below" says={ems(plate.down)} min={0} max={0.6} step={0.02} value={plate.down} onlook={(down) => set({ plate: { ...plate, down } })} onset={(down) => set({ plate: { ...plate, down } })} />
				<Slider name="Corners" says={ems(plate.radius)} min={0} max={0.8} step={0.02} value={plate.radius} onlook={(radius) => set({ plate: { ...plate, radius } })} onset={(radius) => set({ plate: { ...plate, radius } })} />
			{/if}
		</Fields>
		<Fields name="Outline and shadow" across>
			<div class="row" role="group" aria-label="Outline">
				<Button pressed={!!look.outline} onclick={() => set({ outline: look.outline ? null : { colour: '#161A22', width: 0.08 } })}>Outline</Button>
				<Button pressed={!!look.shadow} onclick={() => set({ shadow: look.shadow ? null : { colour: '#000000', opacity: 0.6, across: 0, down: 0.06, blur: 0.06 } })}>Shadow</Button>
			</div>
			{#if look.outline}
				{@const outline = look.outline}
				<ColourField name="Outline" value={outline.colour} onset={(colour) => set({ outline: { ...outline, colour } })} />
				<Slider name="Outline width" says={ems(outline.width)} min={0.02} max={0.2} step={0.01} value={outline.width} onlook={(width) => set({ outline: { ...outline, width } })} onset={(width) => set({ outline: { ...outline, width } })} />
			{/if}
			{#if look.shadow}
				{@const shadow = look.shadow}
				<ColourField name="Shadow" value={shadow.colour} onset={(colour) => set({ shadow: { ...shadow, colour } })} />
				<Slider name="Shadow across" says={ems(shadow.across)} min={-0.3} max={0.3} step={0.01} value={shadow.across} onlook={(across) => set({ shadow: { ...shadow, across } })} onset={(across) => set({ shadow: { ...shadow, across } })} />
				<Slider name="Shadow down" says={ems(shadow.down)} min={-0.2} max={0.3} step={0.01} value={shadow.down} onlook={(down) => set({ shadow: { ...shadow, down } })} onset={(down) => set({ shadow: { ...shadow, down } })} />
				<Slider name="Shadow blur" says={ems(shadow.blur)} min={0} max={0.4} step={0.01} value={shadow.blur} onlook={(blur) => set({ shadow: { ...shadow, blur } })} onset={(blur) => set({ shadow: { ...shadow, blur } })} />
			{/if}
		</Fields>
		<Fields name="Lines and place" across>
			<LimitsFields limits={look.limits} onset={(limits) => set({ limits })} />
			<Slider name="Widest" says={percent(look.width ?? 0.86)} min={0.4} max={0.96} step={0.01} value={look.width ?? 0.86} onlook={(width) => set({ width })} onset={(width) => set({ width })} />
		</Fields>
		<Fields name="Height in each shape" across>
			<Slider name="Height" says={percent(look.height ?? 0.7)} min={0.05} max={0.95} step={0.01} value={look.height ?? 0.7} onlook={(height) => set({ height })} onset={(height) => set({ height })} />
			{#each everyShape as shape (shape)}
				{@const height = look.heights?.[shape] ?? look.height ?? 0.7}
				<Slider name="In {shape}" says={percent(height)} min={0.05} max={0.95} step={0.01} value={height} onlook={(at) => set({ heights: { ...look.heights, [shape]: at } })} onset={(at) => set({ heights: { ...look.heights, [shape]: at } })} />
			{/each}
		</Fields>
		<OwnLimits {look} shapes={everyShape} onset={(limits_in) => set({ limits_in })} />
		<Fields name="Entrance, exit, speakers" across>
			<label>Entrance <select value={look.entrance} onchange={(event) => set({ entrance: event.currentTarget.value as CaptionLook['entrance'] })}>{#each COMES as [value, says] (value)}<option {value}>{says}</option>{/each}</select></label>
			<label>Exit <select value={look.exit} onchange={(event) => set({ exit: event.currentTarget.value as CaptionLook['exit'] })}>{#each GOES as [value, says] (value)}<option {value}>{says}</option>{/each}</select></label>
			<label>Another speaker <select value={look.speakers?.mark ?? 'none'} onchange={(event) => set({ speakers: { ...look.speakers, mark: event.currentTarget.value as 'none' } })}><option value="none">Not marked</option><option value="dash">A dash</option><option value="name">Their name</option><option value="colour">Another colour</option></select></label>
			{#if look.speakers?.mark === 'colour'}
				<ColourField name="Second speaker" value={look.speakers.colours?.[0] ?? null} none="as the letters" onset={(colour) => set({ speakers: { mark: 'colour', colours: [colour, ...(look.speakers?.colours ?? []).slice(1)] } })} onnone={() => set({ speakers: { mark: 'colour', colours: [] } })} />
			{/if}
		</Fields>
		{#if problem}<p class="problem" role="alert">{problem}</p>{/if}
		<div class="row">
			<Button kind="main" type="submit">Save style</Button>
			<Button onclick={onclose}>Cancel</Button>
		</div>
	</div>
</form>

<style>
	.editor {
		display: grid;
		grid-template-columns: minmax(0, 380px) minmax(0, 1fr);
		gap: 18px;
		padding: 16px;
		margin: 8px 0 18px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
	}
	.pictures {
		position: sticky;
		top: 0;
		display: grid;
		align-self: start;
		gap: 10px;
	}
	.fields {
		display: grid;
		gap: 8px;
	}
	label {
		display: flex;
		align-items: center;
		justify-content: space-between;
		gap: 8px;
	}
	select {
		max-width: 170px;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 6px;
	}
	.wide {
		flex: 1;
	}
	.wide input {
		flex: 1;
	}
	.problem {
		color: var(--struck);
	}
</style>
