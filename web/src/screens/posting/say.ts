/** What is said of posts. */
import type { Post } from '$api/client';

export const STATES: Record<Post['state'], string> = {
	draft: 'Draft', scheduled: 'Scheduled', sending: 'Posting…', posted: 'Posted', failed: 'Not posted', cancelled: 'Cancelled',
	removing: 'Taking down…', removed: 'Taken down'
};
export const CLIPS: Record<Post['clip'], string> = {
	none: 'exported when it is scheduled', making: 'being exported', ready: 'clip ready', failed: 'clip not exported', changed: 'quote changed since'
};

/** A time on a clock, as it is told by the server ('2026-12-01T17:00:00'): 'Tue 1 Dec, 17:00'. Nothing here reckons with zones. */
export function wallTime(wall: string): string {
	const [date, time] = wall.split('T') as [string, string];
	return `${wallDay(date)}, ${time.slice(0, 5)}`;
}

export function wallDay(date: string): string {
	return new Date(`${date}T12:00:00Z`).toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', month: 'short', timeZone: 'UTC' });
}

/** A day so many later, or earlier, as the server writes days. */
export function dayAfter(date: string, days: number): string {
	const at = new Date(`${date}T12:00:00Z`);
	at.setUTCDate(at.getUTCDate() + days);
	return at.toISOString().slice(0, 10);
}

/** A week, by its Monday: '23–29 Nov', '30 Nov – 6 Dec'. */
export function weekName(monday: string): string {
	const [first, last] = [monday, dayAfter(monday, 6)].map((date) => wallDay(date).split(' ').slice(1)) as [string[], string[]];
	return first[1] === last[1] ? `${first[0]}–${last.join(' ')}` : `${first.join(' ')} – ${last.join(' ')}`;
}

/** Tags out of what somebody typed: apart by commas or lines, each once, without hashes. */
export function tagsIn(typed: string): string[] {
	const tags = typed.split(/[,\n]/).map((one) => one.replace(/^[\s#]+/, '').trim()).filter(Boolean);
	return [...new Map(tags.map((one) => [one.toLowerCase(), one])).values()];
}

/** What can still be changed of a post: nothing was sent of it. */
export const isUnsent = (post: Post): boolean => ['draft', 'scheduled', 'failed'].includes(post.state);
