<script lang="ts">
	import type { Cue } from '$api/client';
	import { fractionOf } from '$player/stretches';
	import { fineClock } from '$ui/say';
	import type { Bench } from './bench.svelte';

	let { bench }: { bench: Bench } = $props();

	const assembly = $derived(bench.version!.assembly);
	const cues = $derived(assembly.cue_tracks?.[0]?.cues ?? []);
	const fps = $derived(fractionOf(assembly.rate));
	const here = $derived(Math.floor((bench.player!.outMs * fps) / 1000 + 0.001));
	const findings = $derived(bench.version!.findings.filter((one) => one.step === 'captions' && one.word !== null));
	const words = (cue: Cue) => cue.lines.flat();
	const textOf = (cue: Cue) => words(cue).map((word) => word.text).join(' ');
	const wrong = (cue: Cue) => findings.filter((one) => words(cue).some((word) => word.index === one.word));

	function correct(cue: Cue, field: HTMLTextAreaElement): void {
		const text = field.value.replace(/\s+/g, ' ').trim();
		if (text === textOf(cue)) return;
		const all = words(cue);
		void bench.edit({ kind: 'correct-caption', first: all[0]!.index, last: all.at(-1)!.index, text });
	}

	function keyed(event: KeyboardEvent, cue: Cue): void {
		const field = event.currentTarget as HTMLTextAreaElement;
		if (event.key === 'Enter') {
			event.preventDefault();
			const fields = [...(field.closest('ol')?.querySelectorAll('textarea') ?? [])];
			correct(cue, field);
			fields[fields.indexOf(field) + 1]?.focus();
		}
		if (event.key === 'Escape') {
			field.value = cue.lines.map((line) => line.map((word) => word.text).join(' ')).join('\n');
			field.blur();
		}
	}

	function goTo(cue: Cue): void {
		bench.player!.pause();
		bench.player!.seekOut((cue.first_frame * 1000) / fps + 1);
	}
</script>

<section class="cues" aria-label="Caption cues">
	{#if !assembly.cue_tracks?.length}
		<p class="hint">Captions are not burned in. Switch them on to see and correct them.</p>
	{:else}
		<p class="hint">Correct what was misheard in place. Enter goes to the next cue. The recording's words stay as they are.</p>
		<ol>
			{#each cues as cue (cue.first_frame)}
				{@const faults = wrong(cue)}
				<li data-here={here >= cue.first_frame && here < cue.end_frame} data-wrong={faults.length > 0}>
					<button type="button" title="Go there" onclick={() => goTo(cue)}>{fineClock((cue.first_frame * 1000) / fps)}</button>
					<textarea
						aria-label="Caption at {fineClock((cue.first_frame * 1000) / fps)}" rows={cue.lines.length} spellcheck="true" maxlength="1000"
						value={cue.lines.map((line) => line.map((word) => word.text).join(' ')).join('\n')}
						onfocus={() => goTo(cue)} onchange={(event) => correct(cue, event.currentTarget)} onkeydown={(event) => keyed(event, cue)}
					></textarea>
					<span class="long">{(((cue.end_frame - cue.first_frame) * 1000) / fps / 1000).toFixed(1)} s</span>
					{#each faults as fault (fault.check)}<p class="fault">{fault.says} {fault.do}</p>{/each}
				</li>
			{/each}
		</ol>
	{/if}
</section>

<style>
	.cues {
		overflow-y: auto;
		padding: 14px 18px;
		min-height: 0;
	}
	.hint {
		margin-bottom: 10px;
		color: var(--ink-soft);
	}
	li {
		display: grid;
		grid-template-columns: 76px minmax(0, 1fr) 46px;
		align-items: start;
		gap: 8px;
		padding: 4px 8px;
		border-left: 4px solid transparent;
		border-bottom: 1px solid var(--rule);
	}
	li[data-here='true'] {
		border-left-color: var(--kept);
		background: var(--kept-wash);
	}
	li[data-wrong='true'] {
		border-left-color: var(--warn);
	}
	button {
		min-height: 32px;
		padding: 0;
		border: 0;
		background: none;
		color: var(--ink-soft);
		font-size: 13px;
		text-align: right;
		cursor: pointer;
	}
	button:hover {
		text-decoration: underline;
	}
	textarea {
		width: 100%;
		padding: 2px 6px;
		border: 1px solid transparent;
		border-radius: var(--radius);
		background: none;
		font: 17px/28px var(--reading);
		resize: none;
		field-sizing: content;
	}
	textarea:hover,
	textarea:focus {
		border-color: var(--rule);
		background: var(--paper-raised);
	}
	.long {
		color: var(--ink-soft);
		font-size: 13px;
		line-height: 32px;
		text-align: right;
	}
	.fault {
		grid-column: 2 / -1;
		padding: 0 6px 6px;
		color: var(--warn);
		font-size: 14px;
	}
</style>
