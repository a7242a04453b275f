<script lang="ts">
	import type { Topic } from '$api/client';
	import { clock } from '$ui/say';

	/** The topics of a talk down the map, each where it stands in time. */
	type Props = { topics: Topic[]; durationMs: number; atMs: number; ongo: (ms: number) => void };
	let { topics, durationMs, atMs, ongo }: Props = $props();
	let height = $state(600);
</script>

<nav class="outline" aria-label="Topics of the talk" bind:clientHeight={height}>
	{#each topics as topic, i (topic.first_word)}
		{@const top = (topic.span.start_ms / durationMs) * height}
		{@const until = ((topics[i + 1]?.span.start_ms ?? durationMs) / durationMs) * height}
		{@const here = atMs >= topic.span.start_ms && atMs < (topics[i + 1]?.span.start_ms ?? Infinity)}
		<button
			type="button" style:top="{top}px" style:height="{until - top}px" style:--lines={Math.max(1, Math.floor((until - top - 6) / 16))}
			aria-current={here} title="{clock(topic.span.start_ms)} {topic.phrases.join(', ')}" onclick={() => ongo(topic.span.start_ms)}
		>
			<span>{topic.phrases.join(', ')}</span>
		</button>
	{/each}
</nav>

<style>
	.outline {
		position: relative;
		min-height: 0;
		overflow: hidden;
		border-right: 1px solid var(--rule);
		background: var(--paper-raised);
	}
	button {
		position: absolute;
		inset-inline: 0;
		display: block;
		padding: 3px 6px;
		border: 0;
		border-top: 1px solid var(--rule);
		background: none;
		color: var(--ink-soft);
		text-align: left;
		overflow: hidden;
		cursor: pointer;
	}
	button:hover,
	button[aria-current='true'] {
		background: var(--paper-sunk);
		color: var(--ink);
	}
	button:focus-visible {
		outline-offset: -2px;
	}
	span {
		display: -webkit-box;
		position: absolute;
		top: 3px;
		inset-inline: 6px;
		overflow: hidden;
		-webkit-box-orient: vertical;
		-webkit-line-clamp: var(--lines);
		line-clamp: var(--lines);
		font-size: 12px;
		line-height: 16px;
	}
</style>
