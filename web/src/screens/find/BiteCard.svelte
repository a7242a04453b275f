<script lang="ts">
	import Archive from '@lucide/svelte/icons/archive';
	import Play from '@lucide/svelte/icons/play';
	import Quote from '@lucide/svelte/icons/quote';
	import ThumbsDown from '@lucide/svelte/icons/thumbs-down';
	import type { Soundbite } from '$api/client';
	import Button from '$ui/Button.svelte';
	import Reasons from '$ui/Reasons.svelte';
	import { clock, seconds } from '$ui/say';
	import { inTen } from './bites.svelte';

	type Props = {
		bite: Soundbite;
		/** Its place among those that are offered, the best first. */
		rank: number;
		text: string;
		current: boolean;
		ontake: () => void;
		onhear: () => void;
		ongrow: (end: 'first' | 'last', step: number) => void;
		ondecide: (verdict: 'kept' | 'parked' | 'unlike') => void;
	};
	let { bite, rank, text, current, ontake, onhear, ongrow, ondecide }: Props = $props();
	const against = $derived([
		...(bite.weak ? [`Weak point: ${bite.weak.text}`] : []),
		...bite.overlaps.map((quote) => `Overlaps your quote “${quote.title}”${quote.posted ? `, which was posted to ${quote.posted}` : quote.made ? ', which was exported' : ''}`)
	]);
</script>

<li data-current={current}>
	<button type="button" class="head" aria-expanded={current} onclick={ontake}>
		<span class="rank" title="Rank in the list, best first">{rank}</span>
		<span class="what">
			<span class="when">{clock(bite.span.start_ms)} · {seconds(bite.length_ms)}{#if bite.overlaps.length}{' · '}<em>{bite.overlaps.some((one) => one.posted) ? 'posted' : bite.overlaps.some((one) => one.made) ? 'exported' : 'in a quote'}</em>{/if}</span>
			<span class="text">{text}</span>
			{#if !current && bite.best[0]}<span class="why">{bite.best[0].text}</span>{/if}
		</span>
	</button>
	{#if current}
		<div class="more">
			<Reasons good={bite.best.map((one) => `${one.name}: ${one.text}`)} weak={against} />
			<div class="row" role="group" aria-label="Grow or shrink by a sentence">
				<span>Begin</span>
				<Button title="Begin a sentence earlier (A)" onclick={() => ongrow('first', -1)}>earlier</Button>
				<Button title="Begin a sentence later (Shift+A)" disabled={bite.first === bite.last} onclick={() => ongrow('first', 1)}>later</Button>
				<span>End</span>
				<Button title="End a sentence earlier (Shift+E)" disabled={bite.first === bite.last} onclick={() => ongrow('last', -1)}>earlier</Button>
				<Button title="End a sentence later (E)" onclick={() => ongrow('last', 1)}>later</Button>
			</div>
			<div class="row">
				<Button kind="main" title="Keep as quote (Q)" onclick={() => ondecide('kept')}>{#snippet icon()}<Quote size={16} />{/snippet}Keep</Button>
				<Button title="Play it (H)" onclick={onhear}>{#snippet icon()}<Play size={16} />{/snippet}Play</Button>
				<Button title="Park it (P)" onclick={() => ondecide('parked')}>{#snippet icon()}<Archive size={16} />{/snippet}Park</Button>
				<Button title="Not this kind (U)" onclick={() => ondecide('unlike')}>{#snippet icon()}<ThumbsDown size={16} />{/snippet}Not this kind</Button>
			</div>
			<details>
				<summary>How it was judged</summary>
				<p>Of ten like this, an editor would keep about {inTen(bite.merit)}.</p>
				<dl>
					{#each bite.reasons as one (one.feature)}
						<dt>{one.name}</dt>
						<dd><meter min="0" max="1" value={one.value} aria-label={one.name}></meter> {one.text}</dd>
					{/each}
				</dl>
			</details>
		</div>
	{/if}
</li>

<style>
	li[data-current] {
		border-bottom: 1px solid var(--rule);
		content-visibility: auto;
		contain-intrinsic-size: auto 66px;
	}
	li[data-current='true'] {
		background: color-mix(in srgb, var(--found-wash) 35%, transparent);
		box-shadow: inset 3px 0 var(--found);
	}
	.head {
		display: grid;
		grid-template-columns: 32px minmax(0, 1fr);
		width: 100%;
		padding: 8px 4px 8px 8px;
		border: 0;
		background: none;
		text-align: left;
		cursor: pointer;
	}
	.rank {
		color: var(--ink-soft);
		font: 20px/24px var(--reading);
	}
	.why {
		color: var(--ink-soft);
		font-size: 13px;
	}
	.what {
		display: grid;
	}
	.when {
		color: var(--ink-soft);
		font-size: 13px;
	}
	.when em {
		color: var(--kept);
		font-style: normal;
		font-weight: 700;
	}
	.text {
		display: -webkit-box;
		overflow: hidden;
		-webkit-box-orient: vertical;
		-webkit-line-clamp: 2;
		line-clamp: 2;
		font: 15px/21px var(--reading);
	}
	.more {
		display: grid;
		gap: 8px;
		padding: 2px 8px 12px 40px;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		align-items: center;
		gap: 6px;
	}
	.row span {
		color: var(--ink-soft);
		font-size: 14px;
	}
	.row :global(button span) {
		color: inherit;
	}
	.row :global(button) {
		padding: 4px 9px;
	}
	summary {
		cursor: pointer;
		color: var(--ink-soft);
		font-size: 14px;
	}
	details p {
		padding-top: 6px;
		color: var(--ink-soft);
		font-size: 13px;
	}
	dl {
		display: grid;
		grid-template-columns: 104px minmax(0, 1fr);
		gap: 4px 8px;
		padding-top: 6px;
		font-size: 13px;
	}
	meter {
		width: 52px;
		height: 10px;
		vertical-align: baseline;
	}
</style>
