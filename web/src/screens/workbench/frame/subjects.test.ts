import { describe, expect, it } from 'vitest';
import { colourCode } from '$player/colours';
import { boxAt } from './subjects';

const track = { subject: 0, at_ms: [1000, 1200, 4000], x: [0.2, 0.4, 0.6], y: [0.1, 0.1, 0.1], width: [0.1, 0.1, 0.1], height: [0.2, 0.2, 0.2] };

describe('a colour', () => {
	it('is written in two figures for each part', () => {
		expect(colourCode(11, 110, 255)).toBe('#0B6EFF');
	});
});

describe('where somebody is', () => {
	it('between two looks, on the way from one to the next', () => {
		expect(boxAt(track, 1100)!.x).toBeCloseTo(0.3);
		expect(boxAt(track, 900)!.x).toBeCloseTo(0.2);
	});
	it('is not known where they were not seen for long', () => {
		expect(boxAt(track, 2500)).toBeNull();
		expect(boxAt(track, 1300)).not.toBeNull();
		expect(boxAt(track, 3900)).not.toBeNull();
		expect(boxAt(track, 500)).toBeNull();
		expect(boxAt(track, 9000)).toBeNull();
	});
	it('is nowhere for a track that is empty', () => {
		expect(boxAt({ ...track, at_ms: [] }, 0)).toBeNull();
	});
});
