import { describe, expect, it } from 'vitest';
import { clock, fineClock, many, megabytes, minus, quoted, seconds, timeLeft } from './say';

describe('numbers as people say them', () => {
	it('says lengths in seconds, and from a minute on in minutes', () => {
		expect([0, 41_234, 59_949, 59_951, 64_500, 140_000].map(seconds)).toEqual(['0.0 s', '41.2 s', '59.9 s', '1:00.0', '1:04.5', '2:20.0']);
	});

	it('says places in a talk', () => {
		expect([0, 724_000, 3_724_000].map(clock)).toEqual(['0:00', '12:04', '1:02:04']);
		expect(fineClock(724_356)).toBe('12:04.35');
	});

	it('quotes what was typed once, and writes a true minus', () => {
		expect([quoted('wick'), quoted('"keep the wick"')]).toEqual(['“wick”', '"keep the wick"']);
		expect(minus(-14.04)).toBe('−14.0');
	});

	it('says sizes, counts and what is left', () => {
		expect(megabytes(13_292_295)).toBe('13.3 MB');
		expect(megabytes(1)).toBe('1 kB');
		expect(megabytes(2_500_000_000)).toBe('2.50 GB');
		expect([many(1, 'quote'), many(0, 'quote'), many(1132, 'word')]).toEqual(['1 quote', '0 quotes', '1,132 words']);
		expect([null, 0.2, 42, 200].map(timeLeft)).toEqual(['working out how long it takes', 'about 1 s left', 'about 42 s left', 'about 3 min left']);
	});
});
