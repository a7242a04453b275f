import { describe, expect, it } from 'vitest';
import { layOut, LINE_PX } from './layout';
import { inLanes, Sheet } from './sheet';
import { readTalk } from './talk';
import { sentence } from './testing';

const words = Array.from({ length: 400 }, (_, i) => `word${i}`);
const talk = readTalk([sentence(null, words, words.map((_, i) => i * 400), words.map((_, i) => i * 400 + 300))]);
const laid = layOut(talk, 200, () => 60, 5);

function sheet(top: number): Sheet {
	return new Sheet({ talk, laid, top, height: 300 });
}

describe('what of a page is in sight', () => {
	it('draws the lines in sight and some beyond, and no others', () => {
		const near = sheet(1000).near(laid.lines);
		expect(near.length).toBeLessThan(laid.lines.length);
		expect(near[0]!.y).toBeLessThan(1000);
		expect(near.at(-1)!.y).toBeGreaterThan(1300);
		expect(near.every((line) => line.y >= 1000 - 280 - LINE_PX && line.y <= 1300 + 280)).toBe(true);
	});

	it('keeps the number of a stretch among all, however few are in sight', () => {
		const stretches = [0, 150, 390].map((first) => ({ first, last: first + 5 }));
		const [line] = laid.lines.filter((one) => one.first <= 150 && one.end > 150);
		expect(sheet(line!.y).laned(stretches).map((one) => one.index)).toEqual([1]);
	});

	it('leaves out what stands on no line', () => {
		const nothing = new Sheet({ talk, laid: { lines: [], bands: [], chips: [], height: 0 }, top: 0, height: 300 });
		expect(nothing.laned([{ first: 0, last: 2 }])).toEqual([]);
	});

	it('puts stretches that share a line beside one another', () => {
		const [a, b, c] = [{ first: 0, last: 9 }, { first: 3, last: 30 }, { first: 100, last: 110 }];
		expect(inLanes(laid, [c, b, a]).map((one) => [one.first, one.lane])).toEqual([[0, 0], [3, 1], [100, 0]]);
	});
});
