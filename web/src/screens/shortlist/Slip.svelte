<script lang="ts">
	import Columns2 from '@lucide/svelte/icons/columns-2';
	import GripVertical from '@lucide/svelte/icons/grip-vertical';
	import AudioLines from '@lucide/svelte/icons/audio-lines';
	import Pause from '@lucide/svelte/icons/pause';
	import Play from '@lucide/svelte/icons/play';
	import Stamp from '@lucide/svelte/icons/stamp';
	import { stillUrl, type Slip, type SlipMark } from '$api/client';
	import Button from '$ui/Button.svelte';
	import GaugeBar from '$ui/GaugeBar.svelte';
	import Reasons from '$ui/Reasons.svelte';
	import { answered, clock, day, seconds } from '$ui/say';
	import { MARKS, type Shortlist } from './shortlist.svelte';

	type Props = { slip: Slip; list: Shortlist; rank: number; current: boolean; ontake: () => void; ondrag: (dragging: boolean) => void };
	let { slip, list, rank, current, ontake, ondrag }: Props = $props();

	const judged = $derived(list.judged[slip.id]);
	const inHand = $derived(list.sequence.current === String(slip.id));
	const playing = $derived(inHand && list.sequence.playing);
	const lines = $derived(slip.lines.map((line) => line.words.join(' ')));
	const gauges = $derived(slip.gauges.filter((one) => list.limits.includes(one.destination)));

	const readTags = (text: string) => text.split(',').map((tag) => tag.trim().slice(0, 60)).filter(Boolean).slice(0, 20);
</script>

<!-- The slip can be dragged by its handle; keys do the same. -->
<!-- svelte-ignore a11y_no_noninteractive_element_interactions, a11y_click_events_have_key_events -->
<article data-current={current} data-mark={slip.mark} data-quote={slip.id} aria-label="Quote {rank}, {slip.title}" onclick={ontake}>
	<header>
		<span
			class="grip" role="img" aria-label="Drag to another rank" title="Drag to another rank (Shift and the arrow keys)" draggable="true"
			ondragstart={(event) => { event.dataTransfer?.setData('text/plain', String(slip.id)); ondrag(true); }} ondragend={() => ondrag(false)}
		><GripVertical size={16} /><b>{rank}</b></span>
		{#if slip.has_picture}<img src={stillUrl(slip.id)} alt="" width="52" height="52" loading="lazy" />{:else}<span class="sound"><AudioLines size={24} /></span>{/if}
		<div class="who">
			<a href="/quote/{slip.id}/trim">{slip.title}</a>
			<span>{slip.speakers.join(', ')}</span>
			<span><a href="/talk/{slip.recording_id}?t={(slip.span.start_ms / 1000).toFixed(2)}">{slip.recording_title}</a> · {slip.held_on ? `${day(slip.held_on)} · ` : ''}{clock(slip.span.start_ms)}{slip.posted ? ` · posted to ${slip.posted}` : slip.made ? ' · exported' : ''}</span>
		</div>
	</header>
	{#if slip.approval}
		<p class="approval" data-answer={slip.approval.stale ? null : slip.approval.answer}><Stamp size={16} aria-hidden="true" /> <span>{answered(slip.approval)}{#if slip.approval.note}: <q>{slip.approval.note}</q>{/if}</span></p>
	{/if}
	<div class="words">
		<p class="edge">{lines[0] ?? 'This quote has no words.'}</p>
		{#if lines.length > 2}<p>{lines.slice(1, -1).join(' ')}</p>{/if}
		{#if lines.length > 1}<p class="edge">{lines.at(-1)}</p>{/if}
	</div>
	{#if inHand && list.sequence.player}<progress max={list.sequence.player.lengthMs} value={list.sequence.player.outMs} aria-label="Played so far"></progress>{/if}
	<div class="gauges">
		<Button aria-label={playing ? 'Pause' : 'Play this quote'} title="Play (Space)" onclick={() => list.play(slip)}>
			{#snippet icon()}{#if playing}<Pause size={16} />{:else}<Play size={16} />{/if}{/snippet}
		</Button>
		<b>{seconds(slip.length_ms)}</b>
		{#each gauges as gauge (gauge.destination)}<GaugeBar {gauge} />{/each}
	</div>
	{#if judged}
		<Reasons good={judged.best.slice(0, 2).map((one) => `${one.name}: ${one.text}`)} weak={judged.weak ? [judged.weak.text] : []} />
	{/if}
	<div class="saying">
		<label>Mark
			<select value={slip.mark} onchange={(event) => list.say(slip, { mark: event.currentTarget.value as SlipMark })}>
				{#each MARKS as mark (mark)}<option>{mark}</option>{/each}
			</select>
		</label>
		<label class="grow">Tags
			<input value={slip.tags.join(', ')} placeholder="storm, opening" maxlength="300" onchange={(event) => list.say(slip, { tags: readTags(event.currentTarget.value) })} />
		</label>
		<Button pressed={list.compared.includes(slip.id)} title="Compare with another (C)" onclick={() => list.turnCompared(slip.id)}>
			{#snippet icon()}<Columns2 size={16} />{/snippet}Compare
		</Button>
	</div>
	<label class="note"><span class="unseen">Note</span>
		<textarea rows="1" placeholder="Note" maxlength="2000" value={slip.note} onchange={(event) => list.say(slip, { note: event.currentTarget.value })}></textarea>
	</label>
</article>

<style>
	article {
		display: flex;
		flex-direction: column;
		gap: 10px;
		min-width: 0;
		padding: 14px;
		border: 1px solid var(--rule);
		border-top: 4px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper-raised);
	}
	[data-mark='picked'] {
		border-top-color: var(--kept);
	}
	[data-mark='done'] {
		border-top-color: var(--good);
	}
	[data-mark='parked'] .words {
		color: var(--ink-soft);
	}
	[data-current='true'] {
		box-shadow: 0 0 0 2px var(--note);
	}
	header {
		display: flex;
		gap: 10px;
		align-items: start;
	}
	.grip {
		display: grid;
		justify-items: center;
		cursor: grab;
		color: var(--ink-soft);
	}
	.grip b {
		color: var(--ink);
		font-size: 18px;
	}
	img,
	.sound {
		flex: none;
		display: grid;
		place-items: center;
		width: 52px;
		height: 52px;
		border-radius: var(--radius);
		background: var(--stage);
		color: var(--stage-text);
		object-fit: cover;
	}
	.who {
		display: grid;
		min-width: 0;
		font-size: 13px;
		line-height: 17px;
		color: var(--ink-soft);
	}
	.who > a {
		overflow: hidden;
		color: var(--ink);
		font-size: 15px;
		font-weight: 700;
		white-space: nowrap;
		text-overflow: ellipsis;
	}
	.approval {
		display: flex;
		gap: 6px;
		color: var(--ink-soft);
		font-size: 13px;
		line-height: 17px;
		overflow-wrap: anywhere;
	}
	.approval > :global(svg) {
		flex: none;
	}
	.approval[data-answer='approved'] {
		color: var(--good);
	}
	.approval[data-answer='change wanted'] {
		color: var(--warn);
	}
	.words {
		flex: 1;
		font: 16px/25px var(--reading);
		overflow-wrap: anywhere;
	}
	.edge {
		font-weight: 600;
	}
	.gauges {
		display: flex;
		gap: 12px;
		align-items: center;
	}
	.saying {
		display: flex;
		align-items: end;
		gap: 8px;
	}
	label {
		display: grid;
		color: var(--ink-soft);
		font-size: 13px;
	}
	.grow {
		flex: 1;
		min-width: 0;
	}
	select,
	input,
	textarea {
		width: 100%;
		min-height: 30px;
		padding: 3px 7px;
		border: 1px solid var(--rule);
		border-radius: var(--radius);
		background: var(--paper);
		color: var(--ink);
		font-size: 14px;
		resize: vertical;
	}
	progress {
		width: 100%;
		height: 4px;
		accent-color: var(--kept);
	}
</style>
