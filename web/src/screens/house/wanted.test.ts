import { describe, expect, it } from 'vitest';
import type { Destination } from '$api/client';
import { likeOne, wantedOf } from './wanted';

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
