import { describe, expect, it } from 'vitest';
import { WordSelection } from './selection.svelte';
import { readTalk } from './talk';
import { sentence } from './testing';

const talk = readTalk(
	[0, 3, 6].map((first) => sentence(null, ['a', 'b', 'c'], [first, first + 1, first + 2], [first + 1, first + 2, first + 3]))
);

describe('choosing words by keys', () => {
	it('begins with the word one is at, and grows and shrinks', () => {
		const selection = new WordSelection();
		selection.byWords(talk, 1, 4);
		expect(selection.range).toEqual({ first: 4, last: 4 });
		selection.byWords(talk, 1, 0);
		selection.byWords(talk, 1, 0);
		expect(selection.range).toEqual({ first: 4, last: 6 });
		for (let i = 0; i < 4; i++) selection.byWords(talk, -1, 0);
		expect(selection.range).toEqual({ first: 2, last: 4 });
	});

	it('stops at the ends of the talk', () => {
		const selection = new WordSelection();
		selection.set(7, 8);
		selection.byWords(talk, 1, 0);
		expect(selection.range).toEqual({ first: 7, last: 8 });
	});

	it('takes whole sentences, first the one that it is in', () => {
		const selection = new WordSelection();
		selection.bySentences(talk, 1, 4);
		expect(selection.range).toEqual({ first: 3, last: 5 });
		selection.bySentences(talk, 1, 0);
		expect(selection.range).toEqual({ first: 3, last: 8 });
		selection.bySentences(talk, 1, 0);
		expect(selection.range).toEqual({ first: 3, last: 8 });
	});

	it('holds what is between, in whichever direction it was dragged', () => {
		const selection = new WordSelection();
		selection.set(5, 2);
		expect([1, 2, 5, 6].map((word) => selection.holds(word))).toEqual([false, true, true, false]);
		selection.clear();
		expect(selection.range).toBeNull();
		expect(selection.holds(3)).toBe(false);
	});
});
