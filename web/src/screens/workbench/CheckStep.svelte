<script lang="ts">
	import CircleCheck from '@lucide/svelte/icons/circle-check';
	import OctagonAlert from '@lucide/svelte/icons/octagon-alert';
	import Send from '@lucide/svelte/icons/send';
	import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
	import { goto } from '$app/navigation';
	import type { Finding } from '$api/client';
	import Button from '$ui/Button.svelte';
	import { fineClock, many, seconds } from '$ui/say';
	import type { Bench } from './bench.svelte';
	import { STEP_NAMES } from './keys';
	import Stage from './Stage.svelte';
	import { together, type Told } from './together';

	let { bench, onexport }: { bench: Bench; onexport: () => void } = $props();

	const versions = $derived(bench.resolved!.versions.map((one) => ({ ...one, findings: together(bench.findingsOf(one.destination)) })));
	$effect(() => {
		void bench.resolved?.revision;
		const later = setTimeout(() => void bench.measure(), 400);
		return () => clearTimeout(later);
	});

	/** What is wrong with every version alike is said once. */
	const same = (one: Finding, other: Finding) => one.says === other.says && one.do === other.do;
	const shared = $derived(
		versions.length < 2
			? []
			: versions[0]!.findings.filter((one) => versions.every((version) => version.findings.some((other) => same(one, other))))
	);
	const groups = $derived([
		...(shared.length ? [{ destination: bench.shown, shape: null, findings: shared as Told[] }] : []),
		...versions.map((version) => ({
			destination: version.destination,
			shape: version.assembly.destination,
			findings: version.findings.filter((one) => !shared.some((other) => same(one, other)))
		}))
	]);
	const count = $derived(groups.reduce((sum, group) => sum + group.findings.length, 0));
	const stops = $derived(groups.flatMap((one) => one.findings).filter((one) => one.severity === 'stop').length);

	function mend(destination: string, finding: Finding): void {
		bench.show(destination);
		if (finding.at_ms !== null && finding.at_ms !== undefined) bench.player!.seekOut(finding.at_ms + 20);
		if (finding.step) void goto(`/quote/${bench.id}/${finding.step}`);
	}
	function look(destination: string, finding: Finding): void {
		bench.show(destination);
		bench.player!.pause();
		if (finding.at_ms !== null && finding.at_ms !== undefined) bench.player!.seekOut(finding.at_ms + 20);
	}
</script>

<div class="checks">
	<section class="list" aria-label="Checks">
		<h2>
			{#if count === 0}Everything fits. It is ready to export.
			{:else}{many(count, 'thing')} to look at{stops ? `, ${stops} that will spoil the post` : ''}{/if}
		</h2>
		{#each groups as group (group.shape?.id ?? 'every')}
			<article>
				<h3>
					{#if group.shape}
						<button type="button" onclick={() => bench.show(group.destination)}>{group.shape.name}</button>
						<span>{group.shape.width}×{group.shape.height} · {seconds(bench.quote!.versions.find((one) => one.destination === group.shape?.id)?.length_ms ?? 0)} of {seconds(group.shape.limit_ms)}</span>
					{:else}Every version{/if}
				</h3>
				{#if group.findings.length === 0}
					<p class="fine">
						<CircleCheck size={18} aria-hidden="true" />
						{shared.length ? 'Nothing else.' : 'Length, sharpness, face, captions and covered areas are fine.'}
					</p>
				{/if}
				<ul>
					{#each group.findings as finding, i (i)}
						<li data-severity={finding.severity}>
							<span class="icon" role="img" aria-label={finding.severity === 'stop' ? 'Spoils the post' : 'Worth a look'}>
								{#if finding.severity === 'stop'}<OctagonAlert size={20} />{:else}<TriangleAlert size={20} />{/if}
							</span>
							<div>
								<p>{#if finding.at_ms !== null && finding.at_ms !== undefined}<button type="button" class="at" title="Go to this moment" onclick={() => look(group.destination, finding)}>{fineClock(finding.at_ms)}</button>{/if}
									<b>{finding.says}</b>{#if finding.more}{' '}and {many(finding.more, 'caption')} more like it{/if}</p>
								<p class="do">{finding.do}</p>
							</div>
							{#if finding.step}
								<Button onclick={() => mend(group.destination, finding)}>Fix in {STEP_NAMES[finding.step]}</Button>
							{/if}
						</li>
					{/each}
				</ul>
			</article>
		{/each}
		<Button kind="main" onclick={onexport}>
			{#snippet icon()}<Send size={16} />{/snippet}Export {many(versions.length, 'version')}{stops ? ' all the same' : ''}
		</Button>
	</section>
	<Stage {bench} covered={bench.covered} />
</div>

<style>
	.checks {
		display: grid;
		grid-template-columns: minmax(0, 1fr) 400px;
		height: 100%;
		min-height: 0;
	}
	.list {
		overflow-y: auto;
		padding: 18px 24px;
	}
	h2 {
		font: 600 20px/28px var(--reading);
	}
	article {
		margin: 14px 0;
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
	h3 button,
	.at {
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
	.at {
		font-weight: 400;
		color: var(--ink-soft);
	}
	.fine {
		display: flex;
		align-items: center;
		gap: 8px;
		padding: 8px 0;
		color: var(--good);
	}
	li {
		display: grid;
		grid-template-columns: 24px 1fr auto;
		gap: 10px;
		align-items: start;
		padding: 10px 12px;
		margin-top: 8px;
		border-left: 4px solid var(--warn);
		border-radius: var(--radius);
		background: var(--paper-raised);
	}
	.icon {
		color: var(--warn);
	}
	li[data-severity='stop'] {
		border-color: var(--bad);
	}
	[data-severity='stop'] .icon {
		color: var(--bad);
	}
	.do {
		color: var(--ink-soft);
	}
</style>
