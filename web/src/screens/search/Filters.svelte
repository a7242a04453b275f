<script lang="ts">
	import type { Asked, SearchChoices } from '$api/client';
	import Check from '$ui/Check.svelte';
	import Field from '$ui/Field.svelte';

	type Props = { asked: Asked; choices: SearchChoices; order: 'best' | 'newest'; onchange: (change: Partial<Asked>) => void; onorder: (order: 'best' | 'newest') => void };
	let { asked, choices, order, onchange, onorder }: Props = $props();

	const USED = { any: null, no: false, yes: true } as const;
	/** A filter may be typed as part of a name: then it stands in the list as it was typed. */
	const withTyped = (names: string[], typed: string | null) => (typed && !names.includes(typed) ? [typed, ...names] : names);
</script>

<form class="filters" aria-label="Filters" onsubmit={(event) => event.preventDefault()}>
	<Field name="Said by">
		<select value={asked.by ?? ''} onchange={(event) => onchange({ by: event.currentTarget.value || null })}>
			<option value="">anyone</option>
			{#each withTyped(choices.speakers, asked.by) as name (name)}<option>{name}</option>{/each}
		</select>
	</Field>
	<Field name="Series">
		<select value={asked.series ?? ''} onchange={(event) => onchange({ series: event.currentTarget.value || null })}>
			<option value="">any</option>
			{#each withTyped(choices.series, asked.series) as name (name)}<option>{name}</option>{/each}
		</select>
	</Field>
	<Field name="From"><input type="date" value={asked.after ?? ''} onchange={(event) => onchange({ after: event.currentTarget.value || null })} /></Field>
	<Field name="Before"><input type="date" value={asked.before ?? ''} onchange={(event) => onchange({ before: event.currentTarget.value || null })} /></Field>
	<Field name="Used">
		<select
			value={asked.used === null ? 'any' : asked.used ? 'yes' : 'no'}
			onchange={(event) => onchange({ used: USED[event.currentTarget.value as keyof typeof USED] })}
		>
			<option value="any">either</option><option value="no">not in a quote</option><option value="yes">in a quote</option>
		</select>
	</Field>
	<Field name="Order">
		<select value={order} onchange={(event) => onorder(event.currentTarget.value as 'best' | 'newest')}>
			<option value="best">best answer</option><option value="newest">newest talk</option>
		</select>
	</Field>
	<Check name="Close in meaning" checked={asked.by_meaning} onset={(by_meaning) => onchange({ by_meaning })} />
	<Check name="Related words" checked={asked.wide} onset={(wide) => onchange({ wide })} />
</form>

<style>
	.filters {
		display: flex;
		flex-wrap: wrap;
		align-items: end;
		gap: 8px 12px;
		padding: 12px 0;
		border-bottom: 1px solid var(--rule);
	}
	.filters > :global(label) {
		flex: none;
		max-width: 164px;
	}
</style>
