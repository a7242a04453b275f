import { describe, expect, it } from 'vitest';
import { opacityAt, picturesOver, type PictureOver } from './over';

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

	it('is one of several kinds of overlay', () => {
		const assembly = { overlays: [over(), { ...over(), kind: 'bar' }] } as unknown as Parameters<typeof picturesOver>[0];
		expect(picturesOver(assembly)).toHaveLength(1);
		expect(picturesOver({} as typeof assembly)).toEqual([]);
	});
});
