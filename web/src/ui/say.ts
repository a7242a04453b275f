/** Numbers, days and answers as people say them. */
import type { Approval } from '$api/client';

/** A length: '41.2 s', from a minute on '1:04.5'. */
export function seconds(ms: number): string {
	const tenths = Math.round(ms / 100);
	if (tenths < 600) return `${(tenths / 10).toFixed(1)} s`;
	return `${Math.floor(tenths / 600)}:${((tenths % 600) / 10).toFixed(1).padStart(4, '0')}`;
}

/** A place in a talk: '12:04', from an hour on '1:02:04'. */
export function clock(ms: number): string {
	const total = Math.floor(ms / 1000);
	const [hours, minutes, secs] = [Math.floor(total / 3600), Math.floor(total / 60) % 60, total % 60];
	const tail = `${String(minutes).padStart(hours ? 2 : 1, '0')}:${String(secs).padStart(2, '0')}`;
	return hours ? `${hours}:${tail}` : tail;
}

/** A place to the hundredth, for fine work: '12:04.35'. */
export function fineClock(ms: number): string {
	return `${clock(ms)}.${String(Math.floor((ms % 1000) / 10)).padStart(2, '0')}`;
}

/** The size of a file: '13.3 MB'. */
export function megabytes(bytes: number): string {
	if (bytes < 1e5) return `${Math.ceil(bytes / 1000)} kB`;
	return bytes < 1e9 ? `${(bytes / 1e6).toFixed(1)} MB` : `${(bytes / 1e9).toFixed(2)} GB`;
}

/** How long something will still take: 'about 20 s left'. */
export function timeLeft(secondsLeft: number | null | undefined): string {
	if (secondsLeft === null || secondsLeft === undefined) return 'working out how long it takes';
	if (secondsLeft < 60) return `about ${Math.max(1, Math.round(secondsLeft))} s left`;
	return `about ${Math.round(secondsLeft / 60)} min left`;
}

export function many(count: number, one: string, more = `${one}s`): string {
	return `${count.toLocaleString('en')} ${count === 1 ? one : more}`;
}

/** What somebody typed, in quotation marks where it has none of its own. */
export function quoted(typed: string): string {
	return /["“”]/.test(typed) ? typed : `“${typed}”`;
}

/** A level to the tenth, with a true minus sign. */
export function minus(level: number): string {
	return level.toFixed(1).replace('-', '−');
}

/** A date as people write it: '16 November 2026'. */
export function day(date: string): string {
	return new Date(date).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' });
}

/** What a speaker was asked, and answered. */
export function answered(one: Approval): string {
	const said = one.answer === 'approved' ? `${one.answered_by} approved it` : one.answer ? `${one.answered_by} asks for a change` : '';
	const open = one.open ? `not answered, open until ${day(one.expires_at)}` : 'closed, not answered';
	return `${said || open}${one.stale ? ' (changed since)' : ''}`;
}
