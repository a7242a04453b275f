import { describe, expect, it } from 'vitest';
import { chipText, chipTip, type PauseChip } from './pauses';

const pause = (more: Partial<PauseChip>): PauseChip => ({ after: 4, before: 5, said: 1240, kept: 1240, join: false, chosen: false, ...more });

describe('a pause on the page', () => {
	it('tells its length once where it is kept as it was said', () => {
		expect(chipText(pause({}))).toBe('1.2 s');
		expect(chipTip(pause({}))).toBe('Said 1.24 s, kept 1.24 s');
	});

	it('tells how fast it is played', () => {
		expect(chipText(pause({ times: 3 }))).toBe('1.2 s 3×');
		expect(chipTip(pause({ times: 3 }))).toBe('Said 1.24 s, kept 1.24 s, played 3 times as fast');
	});

	it('tells both lengths where it was shortened', () => {
		expect(chipText(pause({ kept: 350 }))).toBe('1.2 → 0.3 s');
		expect(chipTip(pause({ kept: 350 }))).toBe('Said 1.24 s, kept 0.35 s');
	});

	it('tells what is kept at a join, where nothing of that length was said', () => {
		expect(chipText(pause({ said: 5000, kept: 280, join: true }))).toBe('0.3 s');
		expect(chipTip(pause({ said: 5000, kept: 280, join: true }))).toBe('The pause at this join: 0.3 s');
	});

	it('tells one that was taken away altogether', () => {
		expect(chipText(pause({ kept: 0 }))).toBe('1.2 → 0.0 s');
	});
});
