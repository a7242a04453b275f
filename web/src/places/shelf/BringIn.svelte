<script lang="ts">
	import FileAudio from '@lucide/svelte/icons/file-audio';
	import FileText from '@lucide/svelte/icons/file-text';
	import Upload from '@lucide/svelte/icons/upload';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import { megabytes } from '$ui/say';
	import { Bringing } from './bring.svelte';

	let { onbrought }: { onbrought: () => void } = $props();
	let bringing = $state(new Bringing());
	let over = $state(false);
	let picker: HTMLInputElement;

	async function bring(): Promise<void> {
		const made = await bringing.bring();
		if (!made) return;
		house.tell('good', `“${made.title}” is on the shelf. It can be read and searched now.`);
		bringing = new Bringing();
		onbrought();
	}
</script>

<section
	class="bring" data-over={over} aria-label="Bring in a recording"
	ondragover={(event) => { event.preventDefault(); over = true; }} ondragleave={() => (over = false)}
	ondrop={(event) => { event.preventDefault(); over = false; bringing.choose(event.dataTransfer?.files ?? []); }}
>
	<h2>Bring in a recording</h2>
	<p>Drop a video or audio file and its transcript (WebVTT or SRT) here, or choose them.</p>
	<input
		bind:this={picker} class="unseen" type="file" multiple tabindex="-1" aria-label="Recording and transcript files"
		onchange={(event) => { bringing.choose(event.currentTarget.files ?? []); event.currentTarget.value = ''; }}
	/>
	<Button onclick={() => picker.click()} disabled={bringing.stage !== null}>
		{#snippet icon()}<Upload size={16} />{/snippet}Choose files
	</Button>
	{#if bringing.media || bringing.transcript}
		<ul>
			<li data-there={bringing.media !== null}>
				<FileAudio size={16} aria-hidden="true" />
				{bringing.media ? `${bringing.media.name} · ${megabytes(bringing.media.size)}` : 'The recording is still to choose'}
			</li>
			<li data-there={bringing.transcript !== null}>
				<FileText size={16} aria-hidden="true" />
				{bringing.transcript?.name ?? 'The transcript is still to choose'}
			</li>
		</ul>
		<label>Title <input bind:value={bringing.title} maxlength="200" placeholder="From the file name" disabled={bringing.stage !== null} /></label>
		<Button kind="main" disabled={!bringing.complete || bringing.stage !== null} onclick={bring}>Put on the shelf</Button>
	{/if}
	{#if bringing.stage}
		<div class="progress" role="status">
			<progress max="1" value={bringing.sent}></progress>
			<span>{bringing.stage} {bringing.sent ? `${Math.round(bringing.sent * 100)} %` : ''}</span>
			<Button kind="quiet" onclick={() => bringing.stop()}>Stop</Button>
		</div>
	{/if}
	{#if bringing.problem}<p class="problem" role="alert">{bringing.problem}</p>{/if}
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
		gap: 4px;
		max-width: 100%;
	}
	li {
		display: flex;
		gap: 8px;
		align-items: center;
		color: var(--ink-soft);
		overflow-wrap: anywhere;
	}
	li[data-there='true'] {
		color: var(--ink);
	}
	label {
		display: grid;
		gap: 2px;
		width: 100%;
		font-size: 14px;
	}
	label input {
		min-height: 32px;
		padding: 4px 8px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper);
	}
	.progress {
		display: grid;
		grid-template-columns: 1fr auto;
		gap: 4px 8px;
		align-items: center;
		width: 100%;
	}
	progress {
		grid-column: 1 / -1;
		width: 100%;
		accent-color: var(--kept);
	}
	.problem {
		padding: 8px 10px;
		border-left: 4px solid var(--bad);
		border-radius: var(--radius);
		background: var(--bad-wash);
		color: var(--ink);
	}
</style>
