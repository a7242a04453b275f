import { describe, expect, it } from 'vitest';
import { opacityAt, picturesOver, shiftAt, type PictureOver, type Spotlight } from './over';

const over = (more: Partial<PictureOver> = {}): PictureOver => ({
	kind: 'picture', item: 1, push: 0, round: false, first_frame: 10, end_frame: 30, area: { x: 0, y: 0, width: 1, height: 1, name: 'overlay' }, free: true, by_hand: false,
	picture: 3, revision: 1, x_px: 0, y_px: 0, width_px: 100, height_px: 50, opacity: 0.8, fade_frames: 0, ...more
});

describe('a picture over the picture', () => {
	it('is seen from its first frame until before its end', () => {
		expect([9, 10, 29, 30].map((frame) => opacityAt(over(), frame))).toEqual([0, 0.8, 0.8, 0]);
	});

	it('comes and goes over its frames', () => {
		const fading = over({ opacity: 1, fade_frames: 4 });
		expect([10, 12, 14, 20, 26, 28, 29].map((frame) => opacityAt(fading, frame))).toEqual([0, 0.5, 1, 1, 1, 0.5, 0.25]);
	});

	it('stays where it was placed without a path, and goes straight along one', () => {
		const path = [{ frame: 10, x: 0, y: 0 }, { frame: 20, x: 100, y: -20 }];
		expect(shiftAt([], 5)).toEqual({ x: 0, y: 0 });
		expect([0, 10, 15, 20, 99].map((frame) => shiftAt(path, frame).x)).toEqual([0, 0, 50, 100, 100]);
		expect(shiftAt(path, 15).y).toBe(-10);
	});

	it('fades in as a spotlight, and ends at once', () => {
		const light = { kind: 'spotlight', first_frame: 10, end_frame: 30, fade_frames: 4 } as Spotlight;
		expect([9, 10, 12, 14, 29, 30].map((frame) => opacityAt(light, frame))).toEqual([0, 0, 0.5, 1, 1, 0]);
	});

	it('is one of several kinds of overlay', () => {
		const assembly = { overlays: [over(), { ...over(), kind: 'bar' }] } as unknown as Parameters<typeof picturesOver>[0];
		expect(picturesOver(assembly)).toHaveLength(1);
		expect(picturesOver({} as typeof assembly)).toEqual([]);
	});
});
