import { expect, test } from 'vitest';
import { moved } from './order';

test('one goes to another place and the others keep their order', () => {
	expect(moved(['a', 'b', 'c', 'd'], 3, 0)).toEqual(['d', 'a', 'b', 'c']);
	expect(moved(['a', 'b', 'c'], 0, 1)).toEqual(['b', 'a', 'c']);
});

test('a place beyond the ends is the end, and what is not there moves nothing', () => {
	expect(moved(['a', 'b'], 0, 9)).toEqual(['b', 'a']);
	expect(moved(['a', 'b'], 1, -4)).toEqual(['b', 'a']);
	expect(moved(['a'], 5, 0)).toEqual(['a']);
});
