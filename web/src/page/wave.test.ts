import { describe, expect, it } from 'vitest';
import { drawWave, loudest } from './wave';

const peaks = Uint8Array.from([0, 10, 200, 30, 0, 0, 90, 0]);

describe('the waveform', () => {
	it('shows the loudest of what a stretch holds, at least one peak of it', () => {
		expect(loudest(peaks, 0, 40)).toBe(200);
		expect(loudest(peaks, 30, 31)).toBe(30);
		expect(loudest(peaks, 39.9, 40)).toBe(30);
		expect(loudest(peaks, 40, 60)).toBe(0);
		expect(loudest(peaks, -500, 5)).toBe(0);
		expect(loudest(peaks, 500, 900)).toBe(0);
	});

	it('runs down the page with the bands, each bar in the colour of its moment', () => {
		const bars: { y: number; width: number; colour: string }[] = [];
		const pen = {
			fillStyle: '',
			clearRect() {},
			fillRect(_x: number, y: number, width: number) {
				bars.push({ y, width, colour: pen.fillStyle });
			}
		};
		const bands = [{ y: 100, height: 8, startMs: 0, untilMs: 80 }];
		const colours = { plain: 'grey', kept: 'teal', struck: 'clay', out: 'pale' };
		drawWave(pen as unknown as CanvasRenderingContext2D, bands, 90, peaks, { width: 56, height: 50 }, (ms) => (ms < 40 ? 'kept' : 'struck'), colours);
		expect(bars.map((bar) => bar.y)).toEqual([10, 12, 14, 16]);
		expect(bars.map((bar) => bar.colour)).toEqual(['teal', 'teal', 'clay', 'clay']);
		expect(bars[1]!.width).toBeGreaterThan(bars[0]!.width);
		expect(bars[2]!.width).toBe(1);
	});
});
