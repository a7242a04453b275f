import { describe, expect, it } from 'vitest';
import { between, layOut, LINE_PX, lineOfWord, yAt } from './layout';
import { doubtful, readTalk, wordAt, type Talk } from './talk';
import { sentence } from './testing';

const talk: Talk = readTalk([
	sentence('Ann', ['one', 'two', 'three'], [0, 400, 800], [300, 700, 1100]),
	sentence('Ann', ['four', 'five'], [1200, 1600], [1500, 2000]),
	sentence('Bo', ['six'], [4000], [4500], { sure: [30], timing: 'e' })
]);
const measure = (text: string) => text.length * 10;

describe('laying a talk out', () => {
	const laid = layOut(talk, 100, measure, 10);

	it('breaks sentences into lines that fit, each sentence on a line of its own', () => {
		const lines = laid.lines.map((line) => talk.texts.slice(line.first, line.end).join(' '));
		expect(lines).toEqual(['one two', 'three', 'four five', 'six']);
	});

	it('shows a long pause and a new speaker between sentences', () => {
		expect(laid.chips.map((chip) => chip.text)).toEqual(['Ann', '2.0 s pause', 'Bo']);
	});

	it('never lets two lines or bands overlap, and time runs down with them', () => {
		for (let i = 1; i < laid.lines.length; i++) {
			expect(laid.lines[i]!.y).toBeGreaterThanOrEqual(laid.lines[i - 1]!.y + LINE_PX);
		}
		for (let i = 1; i < laid.bands.length; i++) {
			const [before, band] = [laid.bands[i - 1]!, laid.bands[i]!];
			expect(band.y).toBeGreaterThanOrEqual(before.y + before.height);
			expect(before.untilMs).toBe(band.startMs);
		}
	});

	it('knows where a moment is, also inside a pause', () => {
		const six = laid.lines[3]!;
		expect(yAt(laid, 4000)).toBe(six.y);
		const inPause = yAt(laid, 3000);
		expect(inPause).toBeGreaterThan(laid.lines[2]!.y + LINE_PX);
		expect(inPause).toBeLessThan(six.y);
		expect(yAt(laid, 99_999)).toBe(six.y + LINE_PX);
	});

	it('keeps a word that is wider than the page on a line of its own', () => {
		const narrow = layOut(talk, 20, measure, 10);
		expect(narrow.lines.map((line) => line.end - line.first)).toEqual([1, 1, 1, 1, 1, 1]);
	});

	it('finds the line of a word and the lines in sight', () => {
		expect(lineOfWord(laid, 4)).toBe(laid.lines[2]);
		expect(between(laid.lines, laid.lines[1]!.y + 1, laid.lines[2]!.y + 1)).toEqual(laid.lines.slice(1, 3));
		expect(between(laid.lines, -50, -10)).toEqual([]);
	});

	it('lays three hours out in a moment, and draws only what is in sight', () => {
		const count = 30_000;
		const words = Array.from({ length: count }, (_, i) => `word${i % 97}${i % 12 === 11 ? '.' : ''}`);
		const sentences = Array.from({ length: count / 12 }, (_, n) => {
			const starts = Array.from({ length: 12 }, (_, i) => (n * 12 + i) * 360);
			return sentence(null, words.slice(n * 12, n * 12 + 12), starts, starts.map((start) => start + 300));
		});
		const long = layOut(readTalk(sentences), 600, measure, 10);
		expect(long.lines.reduce((sum, line) => sum + line.end - line.first, 0)).toBe(count);
		expect(between(long.lines, 50_000, 50_700).length).toBeLessThan(30);
	});
});

describe('the word at a moment', () => {
	it('is the last that has begun', () => {
		expect([-1, 0, 399, 400, 3999, 4000, 9e9].map((ms) => wordAt(talk, ms))).toEqual([-1, 0, 0, 1, 4, 5, 5]);
	});
});

describe('doubtful words', () => {
	it('are those that the recogniser was less than half sure of', () => {
		expect(doubtful(talk)).toEqual([5]);
		expect([talk.timing, talk.heard[5]]).toEqual(['ggggge', null]);
	});
});
