<script lang="ts">
	/** The house's caption styles, its colours to choose from, and the faces it brought. */
	import Plus from '@lucide/svelte/icons/plus';
	import Type from '@lucide/svelte/icons/type';
	import { api, ask, asBody, Problem, type CaptionStyle, type WantedStyle } from '$api/client';
	import { house } from '$api/house.svelte';
	import StyleSample from '$screens/workbench/captions/StyleSample.svelte';
	import Button from '$ui/Button.svelte';
	import StyleEditor from './StyleEditor.svelte';

	let open = $state<{ id: string | null; wanted: WantedStyle } | null>(null);
	let problem = $state('');
	let chooser: HTMLInputElement;
	let facer: HTMLInputElement;
	const own = $derived(house.faces.filter((one) => one.own));

	function edit(one: CaptionStyle): void {
		problem = '';
		open = { id: one.id, wanted: structuredClone({ name: one.name, said: one.said ?? '', look: one.look }) };
	}
	function add(): void {
		problem = '';
		const like = house.styles[0]!;
		open = { id: null, wanted: structuredClone({ name: `${like.name} 2`, said: '', look: like.look }) };
	}

	async function tried(what: () => Promise<string>): Promise<boolean> {
		problem = '';
		try {
			const said = await what();
			await house.refreshCatalogue();
			house.tell('good', said);
			return true;
		} catch (refused) {
			if (!(refused instanceof Problem)) throw refused;
			problem = refused.message;
			if (!open) house.tell('bad', refused.message);
			return false;
		}
	}

	async function save(wanted: WantedStyle): Promise<void> {
		const id = open?.id;
		const query = { by: house.person || null };
		const done = await tried(async () => {
			if (!id) return `Added ${(await ask(api.POST('/api/styles', { params: { query }, body: wanted }))).name}.`;
			const changed = await ask(api.PUT('/api/styles/{style}', { params: { path: { style: id }, query }, body: wanted }));
			const follow = changed.follow ? ` ${changed.follow === 1 ? '1 quote looks' : `${changed.follow} quotes look`} so now.` : '';
			const held = changed.held ? ` ${changed.held === 1 ? '1 exported quote holds' : `${changed.held} exported quotes hold`} what it was.` : '';
			return `${changed.style.name} is at version ${changed.style.version}.${follow}${held}`;
		});
		if (done) open = null;
	}

	const retire = (one: CaptionStyle) =>
		void tried(async () => {
			await ask(api.POST('/api/styles/{style}/retire', { params: { path: { style: one.id } }, body: { retired: !one.retired } }));
			return one.retired ? `${one.name} is offered again.` : `${one.name} is offered no more. Quotes that have it keep it.`;
		});
	const bring = (file: File | undefined) => {
		if (file) void tried(async () => `Added ${(await ask(api.POST('/api/styles/file', { ...asBody(file) }))).name}.`);
		chooser.value = '';
	};
	const bringFace = (file: File | undefined) => {
		if (file) {
			const licence = prompt('What is known of its licence? (for the house’s own records)', '') ?? '';
			void tried(async () => `Added ${(await ask(api.POST('/api/house/faces', { params: { query: { licence } }, ...asBody(file) }))).name}.`);
		}
		facer.value = '';
	};
	const retireFace = (name: string, retired: boolean) =>
		void tried(async () => {
			await ask(api.POST('/api/house/faces/{name}/retire', { params: { path: { name } }, body: { retired } }));
			return retired ? `${name} is offered no more.` : `${name} is offered again.`;
		});
	const palette = (colours: string[]) =>
		void tried(async () => {
			await ask(api.PUT('/api/house/palette', { body: { colours } }));
			return 'Changed the house’s colours.';
		});
</script>

<section aria-label="Caption styles">
	<div class="head">
		<h2>Caption styles</h2>
		<span>
			<Button kind="quiet" onclick={() => chooser.click()}>From a file …</Button>
			<Button onclick={add}>{#snippet icon()}<Plus size={16} />{/snippet}New style</Button>
		</span>
		<input bind:this={chooser} type="file" hidden accept="application/json,.json" aria-label="File of a caption style" onchange={(event) => bring(event.currentTarget.files?.[0])} />
	</div>
	<ul class="styles">
		{#each house.styles as one (one.id)}
			<li class:retired={one.retired}>
				<button type="button" class="card" onclick={() => edit(one)} aria-label="Edit {one.name}">
					<StyleSample look={one.look} />
					<b>{one.name}</b> <span class="soft">version {one.version}{one.retired ? ', retired' : ''}</span>
				</button>
				<span class="soft">{one.said}</span>
				<span class="does">
					<a href="/api/styles/{one.id}/file" download>Save as file</a>
					<Button kind="quiet" aria-label="{one.retired ? 'Offer again' : 'Retire'} {one.name}" onclick={() => retire(one)}>{one.retired ? 'Offer again' : 'Retire'}</Button>
				</span>
			</li>
		{/each}
	</ul>
	{#if open}
		{#key open}<StyleEditor wanted={open.wanted} name={open.id ? `Edit ${open.wanted.name}` : 'New caption style'} {problem} onsave={(wanted) => void save(wanted)} onclose={() => (open = null)} />{/key}
	{/if}
	<div class="head">
		<h3>Colours</h3>
	</div>
	<div class="palette">
		{#each house.palette as colour (colour)}
			<button type="button" class="swatch" style:background={colour} title="Take {colour} out" aria-label="Take {colour} out" onclick={() => palette(house.palette.filter((one) => one !== colour))}></button>
		{/each}
		<label>Add <input type="color" onchange={(event) => palette([...house.palette, event.currentTarget.value.toUpperCase()])} /></label>
	</div>
	<div class="head">
		<h3>Faces of the house’s own</h3>
		<Button onclick={() => facer.click()}>{#snippet icon()}<Type size={16} />{/snippet}Bring in a font …</Button>
		<input bind:this={facer} type="file" hidden accept=".ttf,.otf,font/ttf,font/otf" aria-label="Font file" onchange={(event) => bringFace(event.currentTarget.files?.[0])} />
	</div>
	{#if own.length}
		<ul class="faces">
			{#each own as one (one.name)}
				<li class:retired={one.retired}>
					<span class="letters" style:font-family="'{one.name}'">Keep the wick short</span> <b>{one.name}</b> <span class="soft">{one.licence}</span>
					<Button kind="quiet" aria-label="{one.retired ? 'Offer again' : 'Retire'} {one.name}" onclick={() => retireFace(one.name, !one.retired)}>{one.retired ? 'Offer again' : 'Retire'}</Button>
				</li>
			{/each}
		</ul>
	{:else}<p class="soft">TTF and OTF files, one for each weight. They appear in the preview and in the clips alike.</p>{/if}
</section>

<style>
	section {
		padding: 20px 0;
		border-bottom: 1px solid var(--rule);
	}
	.head {
		display: flex;
		align-items: center;
		justify-content: space-between;
		min-height: 40px;
	}
	h2 {
		font-size: 18px;
	}
	h3 {
		font-size: 16px;
	}
	.soft {
		color: var(--ink-soft);
		font-size: 14px;
	}
	ul {
		margin: 0;
		padding: 0;
		list-style: none;
	}
	.styles {
		display: grid;
		grid-template-columns: repeat(auto-fill, minmax(200px, 1fr));
		gap: 12px;
		margin: 8px 0 12px;
	}
	.styles li {
		display: grid;
		align-content: start;
		gap: 2px;
	}
	.card {
		display: block;
		padding: 6px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
		font: inherit;
		text-align: left;
		cursor: pointer;
	}
	.card:hover {
		border-color: var(--ink-soft);
	}
	.retired .card {
		opacity: 0.55;
	}
	.does {
		display: flex;
		align-items: center;
		gap: 8px;
		font-size: 14px;
	}
	.palette {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 6px;
	}
	.palette label {
		display: flex;
		align-items: center;
		gap: 6px;
		margin-left: 8px;
	}
	.swatch {
		width: 32px;
		height: 32px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		cursor: pointer;
	}
	.faces li {
		display: flex;
		align-items: center;
		gap: 12px;
	}
	.letters {
		font-size: 22px;
	}
</style>
