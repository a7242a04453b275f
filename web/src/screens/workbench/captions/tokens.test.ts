import { describe, expect, it } from 'vitest';
import type { Cue } from '$api/client';
import { differs, placeAt, placesIn, saidIn, textOf, typedTime, wordsBefore } from './tokens';

const word = (text: string, index: number, glued = false) => ({ text, index, glued, first_frame: 0, end_frame: 1, emphasised: false });
const cue = (...lines: ReturnType<typeof word>[][]): Cue => ({ first_frame: 0, end_frame: 10, lines }) as unknown as Cue;
const WICK = cue([word('Keep', 4), word('the', 5)], [word('wick', 6), word('short.', 7)]);

describe('a cue as text', () => {
	it('has a line for each line, and its words where they stand', () => {
		const { text, tokens } = textOf(WICK);
		expect(text).toBe('Keep the\nwick short.');
		expect(tokens.map((one) => text.slice(one.start, one.end))).toEqual(['Keep', 'the', 'wick', 'short.']);
		expect(saidIn(text)).toBe('Keep the wick short.');
	});
	it('has no spaces between words that are written together', () => {
		expect(textOf(cue([word('今日は', 1), word('いい', 1, true)], [word('天気', 1, true)])).text).toBe('今日はいい\n天気');
	});
});

describe('a caret', () => {
	const { tokens } = textOf(WICK);
	it('stands at the word that begins there, or nearest', () => {
		expect(placeAt(tokens, 0)).toBe(0);
		expect(placeAt(tokens, 5)).toBe(1);
		expect(placeAt(tokens, 4)).toBe(1);
		expect(placeAt(tokens, 10)).toBe(2);
		expect(placeAt(tokens, 12)).toBe(3);
		expect(placeAt(tokens, 20)).toBeNull();
	});
	it('selects the words it touches', () => {
		expect(placesIn(tokens, 6, 11)).toEqual({ first: 1, last: 2 });
		expect(placesIn(tokens, 4, 4)).toBeNull();
	});
	it('is counted in words of a text that was changed', () => {
		expect(wordsBefore('Keep  the lamp\nwick', 15)).toBe(3);
	});
});

describe('what was written otherwise', () => {
	const of = (heard: string, said: string) => differs(heard.split(' '), said.split(' '));
	it('is what stands between the words that are the same, without marks', () => {
		expect(of('I am Maren Tully, and so', 'I am Maren Tolley, and so')).toEqual({ at: 3, heard: 'Tully', said: 'Tolley' });
		expect(of('the lamp house now', 'the lamphouse now')).toEqual({ at: 1, heard: 'lamp house', said: 'lamphouse' });
	});
	it('is nothing where only marks differ, or words were put in', () => {
		expect(of('keep it', 'keep it,')).toBeNull();
		expect(of('keep it', 'keep the it')).toBeNull();
	});
});

describe('a typed time', () => {
	it.each([
		['1:02.5', 62500],
		['62.48', 62480],
		['0:07', 7000],
		[' 3,5 ', 3500]
	])('%s is %d ms', (text, ms) => expect(typedTime(text)).toBe(ms));
	it.each(['', 'soon', '1:75', '1:2:3', '-4'])('%s is none', (text) => expect(typedTime(text)).toBeNull());
});
