/** The weeks that are shown, as the server tells them, and which post is open. */
import { api, ask, type CalendarWeeks, type HousePosting, type Post } from '$api/client';
import { house } from '$api/house.svelte';
import { move } from '../posting/posts';
import { dayAfter, isUnsent } from '../posting/say';

const WEEKS = 6;
const MOST_WEEKS = 53;

export class Weeks {
	calendar = $state.raw<CalendarWeeks | null>(null);
	settings = $state.raw<HousePosting | null>(null);
	first = $state<string | null>(null);
	count = $state(WEEKS);
	openId = $state<number | null>(null);
	/** The day that a post is dragged over. */
	over = $state('');
	posts = $derived((this.calendar?.weeks ?? []).flatMap((week) => week.days.flatMap((day) => day.posts)));
	open = $derived(this.posts.find((one) => one.id === this.openId) ?? null);

	async load(): Promise<void> {
		const query = { first: this.first ?? undefined, weeks: this.count };
		const [calendar, settings] = await Promise.all([
			house.trying(() => ask(api.GET('/api/calendar', { params: { query } }))),
			house.trying(() => ask(api.GET('/api/house/posting')))
		]);
		if (calendar) this.calendar = calendar;
		if (settings) this.settings = settings;
	}

	/** Shows more weeks before those that are shown. */
	earlier(): void {
		const monday = this.calendar?.weeks[0]?.monday;
		if (!monday) return;
		this.first = dayAfter(monday, -28);
		this.count = Math.min(MOST_WEEKS, this.count + 4);
	}

	later(): void {
		this.first = this.calendar?.weeks[0]?.monday ?? null;
		this.count = Math.min(MOST_WEEKS, this.count + 4);
	}

	/** Moves a post to another day, at its hour. */
	async toDay(post: Post, date: string): Promise<void> {
		if (isUnsent(post) && date !== post.wall.slice(0, 10)) await move(post, `${date}T${post.wall.slice(11, 16)}`);
	}

	/** Moves the open post so many days. */
	async by(days: number): Promise<void> {
		if (this.open) await this.toDay(this.open, dayAfter(this.open.wall.slice(0, 10), days));
	}

	/** Opens the next post, or the one before. */
	step(by: number): void {
		const at = this.posts.findIndex((one) => one.id === this.openId);
		this.openId = this.posts[Math.max(0, Math.min(this.posts.length - 1, at + by))]?.id ?? null;
	}
}
