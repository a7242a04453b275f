<script lang="ts">
	/** Watching all versions at once before they leave: what is wrong with each, what mends it, and what may stand. */
	import CircleCheck from '@lucide/svelte/icons/circle-check';
	import ChevronDown from '@lucide/svelte/icons/chevron-down';
	import ChevronUp from '@lucide/svelte/icons/chevron-up';
	import Film from '@lucide/svelte/icons/film';
	import Send from '@lucide/svelte/icons/send';
	import Smartphone from '@lucide/svelte/icons/smartphone';
	import SquareDashed from '@lucide/svelte/icons/square-dashed';
	import Volume2 from '@lucide/svelte/icons/volume-2';
	import VolumeX from '@lucide/svelte/icons/volume-x';
	import { onMount } from 'svelte';
	import { goto } from '$app/navigation';
	import Transport from '$player/Transport.svelte';
	import Button from '$ui/Button.svelte';
	import Fold from '$ui/Fold.svelte';
	import { many, seconds } from '$ui/say';
	import type { Check } from './check.svelte';
	import FindingItem from './FindingItem.svelte';
	import SideBySide from './SideBySide.svelte';
	import type { Told } from './together';

	let { check, onexport }: { check: Check; onexport: () => void } = $props();
	const bench = $derived(check.bench);
	const player = $derived(bench.player!);

	onMount(() => {
		// Most people watch without sound, and it plays over and over where it is posted.
		const looped = player.looping;
		player.looping = true;
		return () => {
			player.looping = looped;
			player.muted = false;
		};
	});
	$effect(() => {
		player.muted = check.muted;
	});
	$effect(() => {
		void bench.resolved?.revision;
		const later = setTimeout(() => void bench.measure(), 400);
		return () => clearTimeout(later);
	});

	const count = $derived(check.list.length);
	const place = (finding: Told) => check.list.findIndex((one) => one.finding === finding);
	function fix(finding: Told): void {
		check.look(place(finding));
		if (finding.step) void goto(`/quote/${bench.id}/${finding.step}`);
	}
</script>

<div class="checks">
	<section class="list" aria-label="Checks">
		<header>
			<h2>
				{#if count === 0}Everything fits. It is ready to export.
				{:else}{many(count, 'thing')} to look at{check.stops ? `, ${check.stops} that will spoil the post` : ''}{/if}
			</h2>
			{#if count}
				<span class="row">
					<Button title="Previous (Shift+N)" aria-label="Previous finding" onclick={() => check.step(-1)}>{#snippet icon()}<ChevronUp size={16} />{/snippet}</Button>
					<Button title="Next (N)" aria-label="Next finding" onclick={() => check.step(1)}>{#snippet icon()}<ChevronDown size={16} />{/snippet}</Button>
				</span>
			{/if}
		</header>
		{#each check.groups as group (group.version?.destination ?? 'every')}
			{@const shape = group.version?.assembly.destination}
			<article>
				<h3>
					{#if shape}
						<button type="button" onclick={() => bench.show(group.destination)}>{shape.name}</button>
						<span>{shape.width}×{shape.height} · {seconds(bench.quote!.versions.find((one) => one.destination === shape.id)?.length_ms ?? 0)} of {seconds(shape.limit_ms)}</span>
					{:else}Every version{/if}
				</h3>
				{#if group.findings.length === 0}
					<p class="fine">
						<CircleCheck size={18} aria-hidden="true" />
						{check.groups[0]?.version ? 'All checks passed.' : 'Nothing else.'}
					</p>
				{/if}
				<ul>
					{#each group.findings as finding (finding)}
						<FindingItem {check} {finding} inHand={check.inHand?.finding === finding} onlook={() => check.look(place(finding))} ongo={() => fix(finding)} />
					{/each}
				</ul>
			</article>
		{/each}
		{#if check.accepted.length}
			<Fold says="{many(check.accepted.length, 'thing')} marked as fine">
				<ul class="quiet">
					{#each check.accepted as { version, finding } (version.destination + finding.id)}
						<li>
							<p><b>{version.assembly.destination.name}:</b> {finding.says}</p>
							<p class="hint">{finding.accepted}</p>
							<Button kind="quiet" onclick={() => bench.accept([finding], '')}>Tell me again</Button>
						</li>
					{/each}
				</ul>
			</Fold>
		{/if}
		<Button kind="main" disabled={check.stops > 0} title={check.stops ? 'Fix what would spoil the post, or overrule it with a reason' : 'Export all versions (E)'} onclick={onexport}>
			{#snippet icon()}<Send size={16} />{/snippet}Export {many(check.versions.length, 'version')}
		</Button>
		{#if check.stops}<p class="hint">Fix what would spoil the post, or overrule it with a reason that stays on the export.</p>{/if}
	</section>
	<section class="stage" aria-label="Stage">
		<div class="tools">
			<Button kind="dark" pressed={check.muted} title="Sound off, or on (S)" onclick={() => (check.muted = !check.muted)}>
				{#snippet icon()}{#if check.muted}<VolumeX size={16} />{:else}<Volume2 size={16} />{/if}{/snippet}{check.muted ? 'Muted' : 'With sound'}
			</Button>
			<Button kind="dark" pressed={bench.covered} title="What the posting app covers (A)" onclick={() => (bench.covered = !bench.covered)}>
				{#snippet icon()}<SquareDashed size={16} />{/snippet}Safe areas
			</Button>
			<Button kind="dark" pressed={check.real} title="As large as on a phone (P)" onclick={() => (check.real = !check.real)}>
				{#snippet icon()}<Smartphone size={16} />{/snippet}Phone size
			</Button>
			{#if bench.recording?.width}
				<Button kind="dark" pressed={check.comparing} title="The recording beside it (C)" onclick={() => (check.comparing = !check.comparing)}>
					{#snippet icon()}<Film size={16} />{/snippet}Recording
				</Button>
			{/if}
		</div>
		<SideBySide {check} />
		<Transport {player} what="the cut" loop openingMs={3000} />
	</section>
</div>

<style>
	.checks {
		display: grid;
		grid-template-columns: minmax(360px, 460px) minmax(0, 1fr);
		height: 100%;
		min-height: 0;
	}
	.list {
		overflow-y: auto;
		padding: 16px 20px;
	}
	header,
	.row {
		display: flex;
		gap: 6px;
	}
	header {
		justify-content: space-between;
		align-items: start;
	}
	h2 {
		font: 600 20px/28px var(--reading);
	}
	article {
		margin: 12px 0;
		padding-top: 10px;
		border-top: 1px solid var(--rule);
	}
	h3 {
		display: flex;
		gap: 10px;
		align-items: baseline;
		font-size: 16px;
	}
	h3 span {
		color: var(--ink-soft);
		font-size: 14px;
		font-weight: 400;
	}
	h3 button {
		min-height: 24px;
		padding: 0 2px;
		border: 0;
		background: none;
		font-weight: 700;
		text-decoration: underline;
		text-decoration-color: var(--rule);
		text-underline-offset: 3px;
		cursor: pointer;
	}
	.fine {
		display: flex;
		align-items: center;
		gap: 8px;
		padding: 8px 0;
		color: var(--good);
	}
	.quiet li {
		padding: 8px 0;
		border-bottom: 1px solid var(--rule);
		font-size: 14px;
	}
	.hint {
		color: var(--ink-soft);
		font-size: 14px;
	}
	.stage {
		display: grid;
		grid-template-rows: auto minmax(0, 1fr) auto;
		grid-template-columns: minmax(0, 1fr);
		min-width: 0;
		min-height: 0;
		height: 100%;
		background: var(--stage);
		color: var(--stage-text);
	}
	.tools {
		display: flex;
		flex-wrap: wrap;
		gap: 6px;
		padding: 8px 12px 0;
	}
</style>
