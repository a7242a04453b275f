<script lang="ts">
	/** What a quote is posted with, and its posts. */
	import { onDestroy, untrack } from 'svelte';
	import CircleAlert from '@lucide/svelte/icons/circle-alert';
	import CircleCheck from '@lucide/svelte/icons/circle-check';
	import Plus from '@lucide/svelte/icons/plus';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import Tabs from '$ui/Tabs.svelte';
	import { keys } from '$ui/keys.svelte';
	import { trail } from '$ui/trail.svelte';
	import { Desk } from './desk.svelte';
	import { plan } from './posts';
	import PostRow from './PostRow.svelte';
	import ToPhone from './ToPhone.svelte';

	let { id }: { id: number } = $props();
	const desk = untrack(() => new Desk(id));
	void desk.load();
	onDestroy(() => void desk.write());
	let description = $state<HTMLTextAreaElement>();
	const posting = $derived(desk.posting);
	const tabs = $derived([
		{ id: '', name: 'All versions' },
		...(posting?.versions ?? []).map((one) => ({ id: one.destination, name: `${one.name}${posting?.own[one.destination] ? ' ·' : ''}` }))
	]);
	const counted = (what: string) => desk.version?.counted.find((one) => one.what === what);

	$effect(() => {
		if (!posting) return;
		trail.set([
			{ name: 'Shelf', href: '/' }, { name: posting.recording_title, href: `/talk/${posting.recording_id}` },
			{ name: posting.title, href: `/quote/${id}/check` }, { name: 'Post' }
		]);
	});
	$effect(() => keys.use('Post', [{ keys: ['n'], does: 'Plan a post', run: () => void add() }]));

	/** Puts a name in braces where the caret stands in the description. */
	function insert(name: string): void {
		const at = description?.selectionStart ?? desk.fields.description.length;
		const text = desk.fields.description;
		desk.fields.description = `${text.slice(0, at)}{${name}}${text.slice(description?.selectionEnd ?? at)}`;
		desk.typed();
		description?.focus();
	}
	async function add(): Promise<void> {
		await desk.write();
		if (desk.shown) await plan({ quote_id: id, destination: desk.shown });
	}
</script>

{#snippet count(what: string)}
	{@const one = counted(what)}
	{#if one}<small class="count" data-over={one.length > one.most}>{one.length.toLocaleString('en')} of {one.most.toLocaleString('en')}</small>{/if}
{/snippet}

{#if desk.missing}
	<p class="missing">{desk.missing} <a href="/outbox">To the Outbox</a></p>
{:else if posting}
	<div class="desk">
		<div class="write">
			<h1>{posting.title}</h1>
			{#if posting.versions.length}
				<Tabs name="Written for" {tabs} open={desk.tab} onopen={(tab) => void desk.open(tab)} />
				<form onsubmit={(event) => event.preventDefault()} oninput={() => desk.typed()} onfocusout={() => void desk.write()}>
					<label><span>Title {@render count('title')}</span><input maxlength="300" bind:value={desk.fields.title} /></label>
					<label><span>Description {@render count('description')}</span><textarea rows="9" maxlength="10000" bind:this={description} bind:value={desk.fields.description}></textarea></label>
					<div class="names" role="group" aria-label="Names that stand for something">
						{#each Object.entries(posting.values) as [name, value] (name)}
							<Button kind="quiet" title={value ? `${name}: ${value}` : `Nothing is known for ${name}: its line is left out`} onclick={() => insert(name)}>{`{${name}}`}</Button>
						{/each}
					</div>
					<label><span>Tags {@render count('tags')}</span><input placeholder="apart by commas" maxlength="2000" bind:value={desk.fields.tags} /></label>
					<div class="names" role="group" aria-label="Suggested tags">
						{#each posting.tags.filter((tag) => !desk.text.tags.some((one) => one.toLowerCase() === tag.toLowerCase())) as tag (tag)}
							<Button kind="quiet" title="A key phrase of this talk" onclick={() => desk.suggest(tag)}>+ {tag}</Button>
						{/each}
					</div>
					<label><span>Alt text, for people who can't see the picture {@render count('alt')}</span><textarea rows="3" maxlength="2000" bind:value={desk.fields.alt}></textarea></label>
				</form>
				<p class="soft">
					{#if desk.tab && !desk.own}As all versions have it. What you change here is for {house.destination(desk.tab)?.name} only.
					{:else if !desk.tab && posting.drafted}A draft, put together from the quote's own words.
					{:else}<Button kind="quiet" onclick={() => void desk.toDraft()}>{desk.tab ? 'Use the text of all versions' : 'Back to the draft'}</Button>{/if}
				</p>
				<label class="link"><span>Link to the full talk, for every quote of it</span><input type="url" placeholder="https://" maxlength="2000" value={posting.link} onchange={(event) => void desk.link(event.currentTarget.value.trim())} /></label>
			{:else}
				<p class="soft">This quote has no version yet. <a href="/quote/{id}/frame">Add one on the workbench</a>.</p>
			{/if}
		</div>
		<div class="side">
			{#if desk.version}
				<section aria-label="As it is sent">
					<header>
						<h2>As it is sent to</h2>
						<select aria-label="Version" value={desk.shown} onchange={(event) => desk.look(event.currentTarget.value)}>
							{#each posting.versions as one (one.destination)}<option value={one.destination}>{one.name}</option>{/each}
						</select>
					</header>
					<blockquote>
						<b>{desk.version.text.title}</b>
						<p>{desk.version.text.description}</p>
						<p class="tags">{(desk.version.text.tags ?? []).join(' · ')}</p>
					</blockquote>
					{#each desk.version.faults as fault, i (i)}
						<p class="fault"><CircleAlert size={16} aria-hidden="true" /> {fault}</p>
					{:else}<p class="fine"><CircleCheck size={16} aria-hidden="true" /> Fits what {desk.version.name} takes</p>{/each}
				</section>
			{/if}
			<section aria-label="Posts">
				<header>
					<h2>Posts</h2>
					<Button onclick={add} disabled={!desk.shown} title="N">{#snippet icon()}<Plus size={16} />{/snippet}Plan a post</Button>
				</header>
				{#each desk.posts as post (post.id)}<PostRow {post} settings={desk.settings} />{:else}<p class="soft">Not posted and not planned. <a href="/calendar">Calendar</a></p>{/each}
			</section>
			<ToPhone quoteId={id} allowed={desk.settings?.phones ?? false} />
		</div>
	</div>
{/if}

<style>
	.desk {
		display: grid;
		grid-template-columns: minmax(0, 1fr) minmax(0, 460px);
		height: 100%;
	}
	.write,
	.side {
		min-height: 0;
		padding: 20px 28px;
		overflow-y: auto;
	}
	.side {
		border-left: 1px solid var(--rule);
		background: var(--paper-raised);
	}
	h1 {
		font: 600 24px/32px var(--reading);
		overflow-wrap: anywhere;
	}
	h2 {
		font-size: 16px;
	}
	form {
		display: grid;
		gap: 8px;
		padding-top: 12px;
	}
	label {
		display: grid;
		gap: 3px;
	}
	label span {
		display: flex;
		justify-content: space-between;
		font-size: 14px;
	}
	.write textarea {
		font: 17px/26px var(--reading);
		resize: vertical;
	}
	.write input {
		min-height: 36px;
		padding: 4px 8px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
	}
	.count {
		color: var(--ink-soft);
		font-variant-numeric: tabular-nums;
	}
	.count[data-over='true'] {
		color: var(--bad);
		font-weight: 700;
	}
	.names {
		display: flex;
		flex-wrap: wrap;
		gap: 0 2px;
		margin-top: -6px;
		font-size: 14px;
	}
	.soft,
	.tags {
		color: var(--ink-soft);
		font-size: 14px;
	}
	.link {
		margin-top: 14px;
	}
	section {
		padding-bottom: 14px;
	}
	section header {
		display: flex;
		align-items: center;
		gap: 10px;
		padding-bottom: 8px;
	}
	section header h2 {
		flex: 1;
	}
	blockquote {
		margin: 0 0 8px;
		padding: 10px 14px;
		border-left: 3px solid var(--kept);
		background: var(--paper);
	}
	blockquote p {
		white-space: pre-wrap;
		overflow-wrap: anywhere;
	}
	.fault,
	.fine {
		display: flex;
		gap: 6px;
		align-items: start;
		padding: 2px 0;
	}
	.fault {
		color: var(--bad);
	}
	.fine {
		color: var(--good);
	}
	.missing {
		padding: 48px;
		text-align: center;
	}
	@media (max-width: 900px) {
		.desk {
			grid-template-columns: minmax(0, 1fr);
			height: auto;
		}
	}
</style>
