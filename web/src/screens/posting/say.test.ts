import { describe, expect, it } from 'vitest';
import type { Post } from '$api/client';
import { dayAfter, isUnsent, tagsIn, wallTime, weekName } from './say';

describe('what is said of posts', () => {
	it('tells a time as the clock there shows it, wherever this browser is', () => {
		expect(wallTime('2026-12-01T17:00:00')).toBe('Tue 1 Dec, 17:00');
		expect(wallTime('2027-03-28T02:30:00')).toBe('Sun 28 Mar, 02:30');
	});

	it('counts days over the ends of months and years, and where clocks are changed', () => {
		expect(dayAfter('2026-12-31', 1)).toBe('2027-01-01');
		expect(dayAfter('2027-03-28', 1)).toBe('2027-03-29');
		expect(dayAfter('2028-03-01', -1)).toBe('2028-02-29');
	});

	it('names a week by its days', () => {
		expect(weekName('2026-11-23')).toBe('23–29 Nov');
		expect(weekName('2026-11-30')).toBe('30 Nov – 6 Dec');
	});

	it('reads tags as people type them', () => {
		expect(tagsIn(' #wick, lamp oil,, Wick\n harbour ,#')).toEqual(['Wick', 'lamp oil', 'harbour']);
		expect(tagsIn('')).toEqual([]);
	});

	it('knows what can still be changed', () => {
		const post = (state: Post['state']) => ({ state }) as Post;
		expect(['draft', 'scheduled', 'failed'].every((state) => isUnsent(post(state as Post['state'])))).toBe(true);
		expect(['sending', 'posted', 'removing', 'cancelled'].some((state) => isUnsent(post(state as Post['state'])))).toBe(false);
	});
});
