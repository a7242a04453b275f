<script lang="ts">
	import { api, ask, type ComparedQuote, type Slip } from '$api/client';
	import { house } from '$api/house.svelte';
	import Dialog from '$ui/Dialog.svelte';
	import GaugeBar from '$ui/GaugeBar.svelte';
	import { seconds } from '$ui/say';
	import type { Shortlist } from './shortlist.svelte';

	/** Two quotes in full, side by side, the words that both have marked. */
	let { list, slips, onclose }: { list: Shortlist; slips: [Slip, Slip]; onclose: () => void } = $props();
	let compared = $state.raw<ComparedQuote[]>([]);

	$effect(() => {
		const [a, b] = slips;
		void house.trying(async () => (compared = await ask(api.GET('/api/shortlist/compare', { params: { query: { a: a.id, b: b.id } } }))));
	});
	const starts = (quote: ComparedQuote) => {
		let first = 0;
		return quote.lines.map((line) => ({ line, first: (first += line.words.length) - line.words.length }));
	};
</script>

<Dialog name="Two quotes side by side" wide {onclose}>
	<div class="two">
		{#each compared as quote, i (quote.quote_id)}
			{@const slip = slips[i]!}
			{@const shared = new Set(quote.shared)}
			<section aria-label={slip.title}>
				<h3>{slip.title}</h3>
				<p class="facts">{[slip.speakers.join(', '), slip.recording_title, seconds(slip.length_ms)].filter(Boolean).join(' · ')}</p>
				<div class="words">
					{#each starts(quote) as { line, first } (first)}
						<p>{#each line.words as word, j (j)}{#if shared.has(first + j)}<mark>{word}</mark>{:else}{word}{/if}{' '}{/each}</p>
					{/each}
				</div>
				{#each slip.gauges.filter((one) => list.limits.includes(one.destination)) as gauge (gauge.destination)}<GaugeBar {gauge} />{/each}
				{#each list.judged[slip.id]?.reasons ?? [] as one (one.feature)}
					<p class="why"><meter min="0" max="1" value={one.value} aria-label={one.name}></meter> {one.name}: {one.text}</p>
				{/each}
			</section>
		{/each}
	</div>
</Dialog>

<style>
	.two {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 28px;
	}
	section {
		display: grid;
		gap: 8px;
		align-content: start;
		min-width: 0;
	}
	.facts {
		color: var(--ink-soft);
	}
	.words {
		font: 17px/28px var(--reading);
	}
	mark {
		background: var(--found-wash);
		box-shadow: inset 0 -2px var(--found);
		color: inherit;
	}
	.why {
		font-size: 13px;
	}
	meter {
		width: 52px;
		height: 10px;
	}
</style>
