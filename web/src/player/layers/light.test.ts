import { describe, expect, it } from 'vitest';
import { drawLight, lightAt } from './light';
import { changes } from './tone';

const light = { strength: 0.2, width_px: 400, height_px: 600, keys: [{ frame: 10, x: 100, y: 200 }, { frame: 20, x: 300, y: 240 }] };

describe('a light', () => {
	it('goes straight from key to key and stands still outside them', () => {
		expect(lightAt(light, 0)).toEqual(light.keys[0]);
		expect(lightAt(light, 15)).toEqual({ x: 200, y: 220 });
		expect(lightAt(light, 40)).toEqual(light.keys[1]);
	});

	it('falls on its panel alone, strongest in the middle, and on nothing at its edge', () => {
		const stops: [number, string][] = [];
		const calls: unknown[][] = [];
		const note = (name: string) => (...args: number[]) => calls.push([name, ...args]);
		const pen = {
			save: note('save'), restore: note('restore'), beginPath: note('begin'), rect: note('rect'), clip: note('clip'),
			translate: note('translate'), scale: note('scale'), fillRect: note('fill'), fillStyle: '' as unknown,
			createRadialGradient: () => ({ addColorStop: (at: number, colour: string) => stops.push([at, colour]) })
		};
		const panel = { x_px: 0, y_px: 960, width_px: 1080, height_px: 960, keys: [], light };
		drawLight(pen as unknown as CanvasRenderingContext2D, panel, light, 15, 0.5);
		expect(calls).toContainEqual(['rect', 0, 480, 540, 480]);
		expect(calls).toContainEqual(['translate', 100, 590]);
		expect(calls).toContainEqual(['scale', 100, 150]);
		expect(stops[0]).toEqual([0, 'rgba(255, 255, 255, 0.2000)']);
		expect(stops.at(-1)).toEqual([1, 'rgba(255, 255, 255, 0.0000)']);
	});
});

describe('a tone', () => {
	it('changes nothing where none is told, or one that leaves all as it is', () => {
		expect(changes(undefined)).toBe(false);
		expect(changes({ power: 1, odds: 1, chroma: 1, blue: 0, red: 0 })).toBe(false);
		expect(changes({ power: 1, odds: 1.3, chroma: 1, blue: 0, red: 0 })).toBe(true);
	});
});
