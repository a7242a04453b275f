<script lang="ts">
	import Globe from '@lucide/svelte/icons/globe';
	import Upload from '@lucide/svelte/icons/upload';
	import X from '@lucide/svelte/icons/x';
	import { api, ask, type ShelfRecording } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Field from '$ui/Field.svelte';
	import { megabytes } from '$ui/say';
	import ComingRow from './ComingRow.svelte';
	import { incoming, stemOf } from './incoming.svelte';

	type Props = { recordings: ShelfRecording[]; series: string[]; onbrought: () => void };
	let { recordings, series, onbrought }: Props = $props();
	let over = $state(false);
	let picker: HTMLInputElement;
	let address = $state('');

	$effect(() => {
		incoming.onbrought = (made) => {
			const read = made.words ? 'It can be read and searched now.' : 'Attach its transcript, or have one made, from its details.';
			house.tell('good', `“${made.title}” is on the shelf. ${read}`);
			onbrought();
		};
		void incoming.look().catch(() => undefined);
	});

	/** A loose transcript belongs to the recording on the shelf that has its name, where there is one. */
	const ownerOf = (file: File) => recordings.find((one) => stemOf(one.file_name) === stemOf(file.name));
	async function attach(file: File, to: ShelfRecording): Promise<void> {
		const done = await house.trying(async () => (await incoming.attach(file, to), true));
		if (done) {
			house.tell('good', `“${to.title}” has the transcript ${file.name}.`);
			onbrought();
		}
	}
	async function fetchIt(): Promise<void> {
		const asked = await house.trying(() =>
			ask(api.POST('/api/fetches', { body: { address, series: incoming.series.trim() || null } }))
		);
		if (asked) address = '';
		await house.refreshWork();
	}
</script>

<section
	class="bring" data-over={over} aria-label="Bring in recordings"
	ondragover={(event) => { event.preventDefault(); over = true; }} ondragleave={() => (over = false)}
	ondrop={(event) => { event.preventDefault(); over = false; incoming.choose(event.dataTransfer?.files ?? []); }}
>
	<h2>Bring in recordings</h2>
	<p>Drop video or audio files here, each with its transcript of the same name where there is one. They are sent at once.</p>
	<input
		bind:this={picker} class="unseen" type="file" multiple tabindex="-1" aria-label="Recordings and transcripts"
		onchange={(event) => { incoming.choose(event.currentTarget.files ?? []); event.currentTarget.value = ''; }}
	/>
	<Button kind="main" onclick={() => picker.click()}>{#snippet icon()}<Upload size={16} />{/snippet}Choose files</Button>
	{#if incoming.problem}<p class="problem" role="alert">{incoming.problem}</p>{/if}
	{#if incoming.items.length}
		<ul>{#each incoming.items as item (item)}<ComingRow {item} />{/each}</ul>
	{/if}
	{#each incoming.loose as file (file)}
		{@const owner = ownerOf(file)}
		<div class="loose">
			<span>{file.name}: {owner ? `goes with “${owner.title}”?` : 'no recording has this name. Which does it belong to?'}</span>
			{#if owner}
				<Button onclick={() => attach(file, owner)}>Attach</Button>
			{:else}
				<select aria-label="Recording for {file.name}" onchange={(event) => { const to = recordings.find((one) => one.id === Number(event.currentTarget.value)); if (to) void attach(file, to); }}>
					<option value="">Choose…</option>
					{#each recordings as one (one.id)}<option value={one.id}>{one.title}</option>{/each}
				</select>
			{/if}
			<Button kind="quiet" aria-label="Drop {file.name}" onclick={() => incoming.dropLoose(file)}>{#snippet icon()}<X size={15} />{/snippet}</Button>
		</div>
	{/each}
	{#each incoming.unfinished as upload (upload.id)}
		<div class="loose">
			<span>{upload.name}: {Math.floor((upload.offset / Math.max(1, upload.length)) * 100)} % of {megabytes(upload.length)} is here. Choose the same file again to resume.</span>
			<Button kind="quiet" aria-label="Forget {upload.name}" title="Forget it" onclick={() => house.trying(() => incoming.forget(upload))}>{#snippet icon()}<X size={15} />{/snippet}</Button>
		</div>
	{/each}
	<details>
		<summary>More ways, and the series</summary>
		<Field name="Series of what you bring in">
			<input bind:value={incoming.series} list="series-names" maxlength="120" placeholder="None" />
		</Field>
		<datalist id="series-names">{#each series as name (name)}<option value={name}></option>{/each}</datalist>
		<form onsubmit={(event) => { event.preventDefault(); void fetchIt(); }}>
			<Field name="Web address of a recording" hint="From hosts that were allowed where Nimble Quote was set up.">
				<input bind:value={address} type="text" inputmode="url" maxlength="2000" placeholder="https://…" />
			</Field>
			<Button type="submit" disabled={!address.trim()}>{#snippet icon()}<Globe size={16} />{/snippet}Fetch it</Button>
		</form>
		<p>Files put into the inbox folder come in by themselves, and <code>nimble-quote add FILE</code> brings them in from a command line.</p>
	</details>
</section>

<style>
	.bring {
		display: grid;
		gap: 10px;
		justify-items: start;
		padding: 18px;
		border: 2px dashed var(--rule);
		border-radius: 10px;
		background: var(--paper-raised);
	}
	[data-over='true'] {
		border-color: var(--kept);
		background: var(--kept-wash);
	}
	h2 {
		font-size: 17px;
	}
	p {
		color: var(--ink-soft);
	}
	ul {
		display: grid;
		gap: 10px;
		width: 100%;
	}
	.loose {
		display: flex;
		flex-wrap: wrap;
		gap: 6px 8px;
		align-items: center;
		width: 100%;
		padding: 6px 10px;
		border-left: 3px solid var(--found);
		background: var(--paper);
		font-size: 14px;
	}
	.loose span {
		flex: 1 1 180px;
		overflow-wrap: anywhere;
	}
	select {
		max-width: 100%;
		min-height: 30px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
	}
	.problem {
		padding: 8px 10px;
		border-left: 4px solid var(--bad);
		border-radius: var(--radius);
		background: var(--bad-wash);
		color: var(--ink);
		overflow-wrap: anywhere;
	}
	details {
		width: 100%;
	}
	details[open] {
		display: grid;
		gap: 10px;
	}
	details p {
		margin-top: 8px;
		font-size: 13px;
	}
	form {
		display: grid;
		gap: 6px;
		justify-items: start;
		margin-top: 8px;
	}
	form :global(label) {
		width: 100%;
	}
	summary {
		color: var(--note);
		cursor: pointer;
		min-height: 24px;
	}
	code {
		overflow-wrap: anywhere;
	}
</style>
