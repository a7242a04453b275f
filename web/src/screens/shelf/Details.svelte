<script lang="ts">
	import { untrack } from 'svelte';
	import FileText from '@lucide/svelte/icons/file-text';
	import Trash2 from '@lucide/svelte/icons/trash-2';
	import { api, ask, type ShelfRecording } from '$api/client';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Dialog from '$ui/Dialog.svelte';
	import Field from '$ui/Field.svelte';
	import Transcribing from '$ui/Transcribing.svelte';
	import { many } from '$ui/say';
	import { attachTranscript } from './incoming.svelte';

	type Props = { recording: ShelfRecording; series: string[]; onclose: () => void; onchanged: () => void };
	let { recording, series, onclose, onchanged }: Props = $props();

	const fields = $state(
		untrack(() => ({ title: recording.title, series: recording.series ?? '', held_on: recording.held_on ?? '', notes: recording.notes, link: recording.link }))
	);
	let picker: HTMLInputElement;
	/** Empty where the file tells by itself, or it is guessed. */
	let encoding = $state('');
	let goes = $state<{ quotes: number; clips: number; days: number } | null>(null);
	const params = $derived({ path: { recording_id: recording.id } });

	async function save(): Promise<void> {
		const body = { title: fields.title, series: fields.series || null, held_on: fields.held_on || null, notes: fields.notes, link: fields.link.trim() };
		const kept = await house.trying(() => ask(api.PUT('/api/recordings/{recording_id}/description', { params, body })));
		if (!kept) return;
		onchanged();
		onclose();
	}
	async function attach(file: File | undefined): Promise<void> {
		if (!file) return;
		const done = await house.trying(() => attachTranscript(file, recording.id, undefined, encoding));
		if (done) house.tell('good', `${file.name}: ${many(done.words, 'word')} read.`);
		onchanged();
	}
	async function chooseLanguage(language: string): Promise<void> {
		await house.trying(() => ask(api.PUT('/api/recordings/{recording_id}/language', { params, body: { language } })));
		onchanged();
	}
	async function chooseSound(track: number): Promise<void> {
		await house.trying(() => ask(api.PUT('/api/recordings/{recording_id}/sound', { params, body: { track } })));
		onchanged();
	}
	async function remove(): Promise<void> {
		const gone = await house.trying(async () => (await ask(api.POST('/api/recordings/{recording_id}/remove', { params })), true));
		if (!gone) return;
		const restore = () => ask(api.POST('/api/recordings/{recording_id}/restore', { params }));
		house.tell('good', `“${recording.title}” was removed. It can be put back for a day.`, {
			name: 'Undo', run: () => void house.trying(restore).then(onchanged)
		});
		onchanged();
		onclose();
	}
	const soundName = (i: number) => {
		const track = recording.sound_tracks[i]!;
		return [`Track ${i + 1}`, track.title, track.language, `${track.channels} channel${track.channels === 1 ? '' : 's'}`].filter(Boolean).join(', ');
	};
</script>

<Dialog name={recording.title} {onclose}>
	<div class="fields">
		<Field name="Title"><input bind:value={fields.title} maxlength="200" /></Field>
		<div class="two">
			<Field name="Series"><input bind:value={fields.series} list="all-series" maxlength="120" placeholder="None" /></Field>
			<Field name="Date"><input bind:value={fields.held_on} type="date" /></Field>
		</div>
		<datalist id="all-series">{#each series as name (name)}<option value={name}></option>{/each}</datalist>
		<Field name="Link to the full talk" hint="Stands for {'{link}'} in posting texts"><input type="url" bind:value={fields.link} maxlength="2000" placeholder="https://" /></Field>
		<Field name="Notes"><textarea bind:value={fields.notes} rows="3" maxlength="20000"></textarea></Field>
		{#if recording.sound_tracks.length > 1}
			<Field name="Sound" hint="What is heard, drawn and transcribed.">
				<select value={recording.sound_track} onchange={(event) => chooseSound(Number(event.currentTarget.value))}>
					{#each recording.sound_tracks as _, i (i)}<option value={i}>{soundName(i)}</option>{/each}
				</select>
			</Field>
		{/if}
		<Field name="Language" hint="Detected from the words. The finder and the checks use its word lists.">
			<select value={recording.language} onchange={(event) => chooseLanguage(event.currentTarget.value)}>
				{#each Object.entries(house.languages).sort((a, b) => a[1].localeCompare(b[1])) as [code, name] (code)}<option value={code}>{name}</option>{/each}
			</select>
		</Field>
		<section aria-label="Transcript">
			<h3>Transcript</h3>
			<p>{recording.words ? `${many(recording.words, 'word')}${recording.speakers.length ? `, said by ${recording.speakers.join(', ')}` : ''}.` : 'There is none yet.'}</p>
			<input bind:this={picker} class="unseen" type="file" tabindex="-1" aria-label="Transcript file" onchange={(event) => { void attach(event.currentTarget.files?.[0]); event.currentTarget.value = ''; }} />
			<Field name="Text encoding" hint="Change it only if an attached file shows wrong letters.">
				<select bind:value={encoding}>
					<option value="">Detect</option>
					{#each Object.entries(house.encodings) as [id, name] (id)}<option value={id}>{name}</option>{/each}
				</select>
			</Field>
			<div class="row">
				<Button onclick={() => picker.click()}>{#snippet icon()}<FileText size={16} />{/snippet}{recording.words ? 'Attach another file' : 'Attach a file'}</Button>
				<Transcribing recordingId={recording.id} replaces={recording.words > 0} />
			</div>
		</section>
		{#if goes}
			<div class="sure" role="alert">
				<p>
					With “{recording.title}” {goes.quotes || goes.clips ? `go ${many(goes.quotes, 'quote')} and ${many(goes.clips, 'finished clip')}` : 'goes nothing else'}.
					It can be put back for {many(goes.days, 'day')}; after that it is gone from this machine.
				</p>
				<div class="row"><Button kind="main" onclick={remove}>Remove</Button><Button onclick={() => (goes = null)}>Keep</Button></div>
			</div>
		{/if}
	</div>
	{#snippet actions()}
		<Button kind="main" disabled={!fields.title.trim()} onclick={save}>Save</Button>
		<Button onclick={onclose}>Cancel</Button>
		<span class="room"></span>
		<Button kind="quiet" disabled={goes !== null} onclick={async () => (goes = (await house.trying(() => ask(api.GET('/api/recordings/{recording_id}/goes-with', { params })))) ?? null)}>
			{#snippet icon()}<Trash2 size={16} />{/snippet}Remove…
		</Button>
	{/snippet}
</Dialog>

<style>
	.fields {
		display: grid;
		gap: 12px;
	}
	.two {
		display: grid;
		grid-template-columns: 1fr 180px;
		gap: 12px;
	}
	h3 {
		font-size: 15px;
	}
	section p {
		margin-bottom: 8px;
		color: var(--ink-soft);
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 8px;
		align-items: center;
	}
	.sure {
		display: grid;
		gap: 8px;
		padding: 10px 12px;
		border-left: 4px solid var(--bad);
		border-radius: var(--radius);
		background: var(--bad-wash);
	}
	.room {
		flex: 1;
	}
</style>
