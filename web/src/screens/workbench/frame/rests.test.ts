import { describe, expect, it } from 'vitest';
import { camerasOf, restsOf, viewAt, type Camera } from './rests';

const moving: Camera = {
	kind: 'move',
	ease: 'gentle',
	rests: [
		{ from_ms: 0, to_ms: 2000, at: { x: 0.3, y: 0.5, zoom: 1 } },
		{ from_ms: 4000, to_ms: 5000, at: { x: 0.7, y: 0.5, zoom: 2 } }
	]
};

describe('the cameras of a layout', () => {
	it('are as many as it has pictures', () => {
		expect(camerasOf({ kind: 'single', camera: moving })).toEqual([moving]);
		expect(camerasOf({ kind: 'tiles', arrangement: 'stacked', tiles: [{ camera: moving, share: 1 }, { camera: moving, share: 1 }] })).toHaveLength(2);
		expect(camerasOf({ kind: 'whole', at: { x: 0.4, y: 0.5, zoom: 1.5 }, size: 1, height: 0.5 }).map((one) => viewAt(one, 0))).toEqual([{ x: 0.4, y: 0.5, zoom: 1.5 }]);
	});
});

describe('a camera', () => {
	it('rests, and eases from rest to rest', () => {
		const at = (ms: number) => viewAt(moving, ms).x;
		expect([at(0), at(2000), at(4000), at(9000)]).toEqual([0.3, 0.3, 0.7, 0.7]);
		expect(at(3000)).toBeCloseTo(0.5);
		expect(at(2500)).toBeLessThan(0.38);
		expect(viewAt({ ...moving, ease: 'even' }, 2500).x).toBeCloseTo(0.4);
	});
	it('that stands still has no rests to tell apart', () => {
		expect(restsOf({ kind: 'hold', at: { x: 0.5, y: 0.5, zoom: 1 } })).toEqual([]);
		expect(restsOf(moving)).toHaveLength(2);
	});
});
