import { describe, expect, it } from 'vitest';
import type { Destination } from '$api/client';
import { areaBetween, likeOne, wantedOf } from './wanted';

const tall = {
	id: 'tall-60', name: 'Tall 60', shape: 'tall', width: 1080, height: 1920, limit_ms: 60000, largest_mb: 100, covered: [{ x: 0, y: 0, width: 1, height: 0.1, name: 'bar' }],
	rate: null, file_name: '{quote}', retired: false
} as Destination;

describe('a destination in the form', () => {
	it('has what a house sets, and is no more the one it was made from', () => {
		const wanted = wantedOf(tall);
		expect(wanted).not.toHaveProperty('id');
		expect(wanted).not.toHaveProperty('retired');
		wanted.covered![0]!.x = 0.5;
		expect(tall.covered![0]!.x).toBe(0);
	});
	it('that is like another has a name of its own', () => {
		expect(likeOne(tall, ['Tall 60']).name).toBe('Tall 60 2');
		expect(likeOne(tall, ['Tall 60', 'tall 60 2']).name).toBe('Tall 60 3');
	});
});

describe('a covered area that is drawn', () => {
	it('lies between both points, whichever came first, and inside the picture', () => {
		expect(areaBetween({ x: 0.9, y: 0.5 }, { x: 0.4, y: 1.3 })).toEqual({ x: 0.4, y: 0.5, width: 0.5, height: 0.5, name: 'covered' });
	});

	it('is none where it was only a click', () => {
		expect(areaBetween({ x: 0.5, y: 0.5 }, { x: 0.505, y: 0.9 })).toBeNull();
	});
});
