<script lang="ts">
	/** Checks every version of the quotes that are shown, one quote after another, and tells what is wrong with each. */
	import CircleCheck from '@lucide/svelte/icons/circle-check';
	import OctagonAlert from '@lucide/svelte/icons/octagon-alert';
	import TriangleAlert from '@lucide/svelte/icons/triangle-alert';
	import { onDestroy } from 'svelte';
	import { api, ask, Problem, type Finding } from '$api/client';
	import { house } from '$api/house.svelte';
	import Dialog from '$ui/Dialog.svelte';
	import { many } from '$ui/say';

	let { quotes, onclose }: { quotes: { id: number; title: string }[]; onclose: () => void } = $props();

	type Checked = { id: number; title: string; stops: number; open: { destination: string; finding: Finding }[]; failed: string };
	let checked = $state.raw<Checked[]>([]);
	let closed = false;
	onDestroy(() => (closed = true));
	void all();

	async function all(): Promise<void> {
		for (const { id, title } of quotes) {
			const one: Checked = { id, title, stops: 0, open: [], failed: '' };
			try {
				const found = await ask(api.GET('/api/quotes/{quote_id}/checks', { params: { path: { quote_id: id } } }));
				one.open = found.versions.flatMap(({ destination, findings }) => findings.filter((finding) => finding.accepted == null).map((finding) => ({ destination, finding })));
				one.stops = one.open.filter(({ finding }) => finding.severity === 'stop').length;
			} catch (refused) {
				if (!(refused instanceof Problem)) throw refused;
				one.failed = refused.message;
			}
			if (closed) return;
			checked = [...checked, one];
		}
	}

	const held = $derived(checked.filter((one) => one.stops).length);
	const says = $derived(
		checked.length < quotes.length
			? `Checking ${checked.length + 1} of ${quotes.length}…`
			: held ? `${many(held, 'quote')} would spoil a post.` : quotes.length === 1 ? 'It can be exported.' : `All ${quotes.length} can be exported.`
	);
	const worst = (one: Checked) => one.open.slice().sort((a, b) => Number(b.finding.severity === 'stop') - Number(a.finding.severity === 'stop')).slice(0, 3);
</script>

<Dialog name="Check all" wide {onclose}>
	<p role="status">{says}</p>
	<progress max={quotes.length} value={checked.length} aria-label="Checked so far"></progress>
	<ul>
		{#each checked as one (one.id)}
			<li>
				<span class="icon" data-kind={one.failed || one.stops ? 'bad' : one.open.length ? 'warn' : 'good'}>
					{#if one.failed || one.stops}<OctagonAlert size={18} aria-label="Would spoil the post" />{:else if one.open.length}<TriangleAlert size={18} aria-label="Worth a look" />{:else}<CircleCheck size={18} aria-label="Fine" />{/if}
				</span>
				<div>
					<a href="/quote/{one.id}/check">{one.title}</a>
					{#if one.failed}<p class="soft">{one.failed}</p>
					{:else}
						{#each worst(one) as { destination, finding }, i (i)}<p class="soft">{house.destination(destination)?.name}: {finding.says}</p>{/each}
						{#if one.open.length > 3}<p class="soft">and {one.open.length - 3} more</p>{/if}
					{/if}
				</div>
			</li>
		{/each}
	</ul>
</Dialog>

<style>
	progress {
		width: 100%;
		accent-color: var(--note);
	}
	li {
		display: grid;
		grid-template-columns: 24px minmax(0, 1fr);
		gap: 8px;
		padding: 8px 0;
		border-bottom: 1px solid var(--rule);
	}
	.soft {
		color: var(--ink-soft);
		font-size: 14px;
	}
	.icon[data-kind='good'] {
		color: var(--good);
	}
	.icon[data-kind='warn'] {
		color: var(--warn);
	}
	.icon[data-kind='bad'] {
		color: var(--bad);
	}
</style>
