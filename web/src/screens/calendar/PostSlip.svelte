<script lang="ts">
	/** A post on its day: when, what, where to, and how it stands, in words and by its edge. */
	import type { Post } from '$api/client';
	import { isUnsent, STATES } from '../posting/say';

	let { post, open, onopen }: { post: Post; open: boolean; onopen: () => void } = $props();
</script>

<button
	type="button" data-state={post.state} aria-pressed={open} draggable={isUnsent(post)} onclick={onopen}
	ondragstart={(event) => event.dataTransfer?.setData('text/plain', String(post.id))}
	title="{post.quote_title} · {post.recording_title}"
>
	<span class="time">{post.wall.slice(11, 16)} <em>{STATES[post.state]}</em></span>
	<b>{post.text.title || post.quote_title}</b>
	<span class="place">{post.destination_name}</span>
</button>

<style>
	button {
		display: grid;
		width: 100%;
		min-width: 0;
		padding: 4px 6px;
		border: 1px solid var(--rule);
		border-left: 4px solid var(--ink-soft);
		border-radius: 4px;
		background: var(--paper-raised);
		font-size: 13px;
		line-height: 17px;
		text-align: left;
		cursor: pointer;
	}
	button[draggable='true'] {
		cursor: grab;
	}
	button[data-state='draft'] {
		border-style: dashed;
		border-left-style: solid;
	}
	button[data-state='scheduled'],
	button[data-state='sending'] {
		border-left-color: var(--note);
	}
	button[data-state='posted'] {
		border-left-color: var(--good);
	}
	button[data-state='failed'] {
		border-left-color: var(--bad);
		background: var(--bad-wash);
	}
	button[aria-pressed='true'] {
		outline: 2px solid var(--kept);
	}
	b {
		display: -webkit-box;
		overflow: hidden;
		-webkit-box-orient: vertical;
		-webkit-line-clamp: 3;
		line-clamp: 3;
		overflow-wrap: anywhere;
	}
	em {
		font-style: normal;
	}
	.time,
	.place {
		color: var(--ink-soft);
	}
</style>
