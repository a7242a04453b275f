<script lang="ts">
	/** The weeks, down the page: each a band of seven days, with the posts that fall on them. */
	import { untrack } from 'svelte';
	import CalendarDays from '@lucide/svelte/icons/calendar-days';
	import { house } from '$api/house.svelte';
	import Button from '$ui/Button.svelte';
	import { keys } from '$ui/keys.svelte';
	import { trail } from '$ui/trail.svelte';
	import PostRow from '../posting/PostRow.svelte';
	import { wallDay, weekName } from '../posting/say';
	import PostSlip from './PostSlip.svelte';
	import { Weeks } from './weeks.svelte';

	trail.set([{ name: 'Shelf', href: '/' }, { name: 'Calendar' }]);
	const weeks = new Weeks();
	// Read again whenever a post has changed, or other weeks are wanted.
	$effect(() => {
		void [house.posts, weeks.first, weeks.count];
		untrack(() => void weeks.load());
	});
	$effect(() =>
		keys.use('Calendar', [
			{ keys: ['j', 'ArrowDown'], does: 'Next post', run: () => weeks.step(1) },
			{ keys: ['k', 'ArrowUp'], does: 'Previous post', run: () => weeks.step(-1) },
			{ keys: ['['], does: 'Move the open post a day earlier', run: () => void weeks.by(-1) },
			{ keys: [']'], does: 'Move the open post a day later', run: () => void weeks.by(1) },
			{ keys: ['{'], does: 'Move it a week earlier', run: () => void weeks.by(-7) },
			{ keys: ['}'], does: 'Move it a week later', run: () => void weeks.by(7) },
			{ keys: ['Escape'], does: 'Close the open post', run: () => (weeks.openId = null) }
		])
	);

	function drop(event: DragEvent, date: string): void {
		event.preventDefault();
		weeks.over = '';
		const post = weeks.posts.find((one) => one.id === Number(event.dataTransfer?.getData('text/plain')));
		if (post) void weeks.toDay(post, date);
	}
</script>

{#if weeks.calendar}
	{@const calendar = weeks.calendar}
	<div class="calendar" class:open={weeks.open}>
		<div class="weeks">
			<header>
				<h1>Calendar</h1>
				<p class="soft">Times in {calendar.zone}. <a href="/house#posting">Change</a></p>
				<a class="file" href="/api/calendar.ics" download title="For any calendar program"><CalendarDays size={16} aria-hidden="true" /> iCalendar file</a>
			</header>
			{#if !weeks.posts.length}
				<p class="none">Nothing is planned. “Suggest a week” on the <a href="/shortlist">Shortlist</a> spreads quotes over a week, and “Post” on a quote plans one.</p>
			{/if}
			<Button kind="quiet" onclick={() => weeks.earlier()}>Earlier weeks</Button>
			{#each calendar.weeks as week (week.monday)}
				<section aria-label="Week of {wallDay(week.monday)}">
					<h2 data-now={week.days.some((day) => day.date === calendar.today)}>{weekName(week.monday)}</h2>
					<div class="days">
						{#each week.days as day (day.date)}
							<!-- The keys move a post, too. -->
							<!-- svelte-ignore a11y_no_static_element_interactions -->
							<div
								class="day" data-day={day.date} data-today={day.date === calendar.today} data-past={day.date < calendar.today} data-over={weeks.over === day.date}
								ondragover={(event) => { event.preventDefault(); weeks.over = day.date; }}
								ondragleave={() => { if (weeks.over === day.date) weeks.over = ''; }}
								ondrop={(event) => drop(event, day.date)}
							>
								<p class="date">{wallDay(day.date).split(' ').slice(0, 2).join(' ')}{day.date === calendar.today ? ' · today' : ''}</p>
								{#if day.note}<p class="note">{day.note}</p>{/if}
								{#each day.posts as post (post.id)}<PostSlip {post} open={weeks.openId === post.id} onopen={() => (weeks.openId = post.id)} />{/each}
							</div>
						{/each}
					</div>
				</section>
			{/each}
			<Button kind="quiet" onclick={() => weeks.later()}>Later weeks</Button>
		</div>
		{#if weeks.open}
			<aside aria-label="The open post"><PostRow post={weeks.open} settings={weeks.settings} named /></aside>
		{/if}
	</div>
{/if}

<style>
	.calendar {
		display: grid;
		height: 100%;
	}
	.open {
		grid-template-columns: minmax(0, 1fr) 360px;
	}
	.weeks {
		min-height: 0;
		padding: 20px max(24px, calc(50% - 620px));
		overflow-y: auto;
	}
	aside {
		padding: 14px 20px;
		border-left: 1px solid var(--rule);
		background: var(--paper-raised);
		overflow-y: auto;
	}
	header {
		display: flex;
		align-items: baseline;
		gap: 14px;
	}
	h1 {
		font: 600 28px/36px var(--reading);
	}
	.soft,
	.date,
	.none {
		color: var(--ink-soft);
		font-size: 14px;
	}
	.file {
		display: inline-flex;
		align-items: center;
		gap: 6px;
		margin-left: auto;
	}
	section {
		display: grid;
		grid-template-columns: 112px minmax(0, 1fr);
		border-top: 2px solid var(--ink);
	}
	h2 {
		padding: 8px 8px 0 0;
		font: 600 15px/20px var(--reading);
	}
	h2[data-now='true'] {
		color: var(--kept);
	}
	.days {
		display: grid;
		grid-template-columns: repeat(7, minmax(0, 1fr));
	}
	.day {
		display: grid;
		align-content: start;
		gap: 4px;
		min-height: 92px;
		padding: 6px 4px 10px;
		border-left: 1px solid var(--rule);
	}
	.day[data-past='true'] {
		background: var(--paper-sunk);
	}
	.day[data-today='true'] {
		box-shadow: inset 0 3px 0 var(--kept);
	}
	.day[data-today='true'] .date {
		color: var(--kept);
		font-weight: 700;
	}
	.day[data-over='true'] {
		background: var(--kept-wash);
	}
	.note {
		color: var(--warn);
		font-size: 13px;
	}
	.none {
		padding: 10px 0;
	}
</style>
