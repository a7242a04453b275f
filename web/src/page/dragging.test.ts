import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Dragging, type Edges } from './dragging.svelte';
import { WordSelection } from './selection.svelte';

const selection = new WordSelection();
let edges: Edges | null = null;
const onword = vi.fn();
const onedge = vi.fn();
let dragging: Dragging;

beforeEach(() => {
	selection.clear();
	edges = { first: 10, last: 20 };
	vi.clearAllMocks();
	dragging = new Dragging({ selection, get edges() { return edges; }, onword, onedge });
});

describe('choosing words with the pointer', () => {
	it('takes a press and release for a click, which chooses nothing', () => {
		selection.set(1, 2);
		expect(dragging.press(5, false)).toBe(true);
		dragging.over(5);
		dragging.release();
		expect(onword).toHaveBeenCalledWith(5);
		expect(selection.range).toBeNull();
		expect(dragging.going).toBe(false);
	});

	it('chooses from where it went down, also back to that very word', () => {
		dragging.press(5, false);
		for (const word of [7, null, 3, 5]) dragging.over(word);
		expect(selection.range).toEqual({ first: 5, last: 5 });
		dragging.over(3);
		dragging.release();
		expect(selection.range).toEqual({ first: 3, last: 5 });
		expect(onword).not.toHaveBeenCalled();
	});

	it('draws what is chosen out with shift, from its far end', () => {
		selection.set(5, 8);
		expect(dragging.press(12, true)).toBe(false);
		expect(selection.range).toEqual({ first: 5, last: 12 });
		dragging.press(2, true);
		expect(selection.range).toEqual({ first: 2, last: 12 });
	});

	it('forgets a drag that is broken off', () => {
		dragging.press(5, false);
		dragging.cancel();
		dragging.over(9);
		dragging.release();
		expect(selection.range).toBeNull();
		expect(onword).not.toHaveBeenCalled();
	});
});

describe('pulling an edge', () => {
	it('tells what would be lost and gained, and moves the edge when it is let go', () => {
		expect(dragging.grip('out')).toBe(true);
		dragging.over(17);
		expect([16, 17, 18, 20, 21].map((word) => dragging.fate(word))).toEqual(['', ' gained', ' proposed', ' proposed', '']);
		dragging.over(23);
		expect([19, 20, 21, 23, 24].map((word) => dragging.fate(word))).toEqual(['', ' gained', ' gained', ' gained', '']);
		dragging.release();
		expect(onedge).toHaveBeenCalledWith('out', 23);
	});

	it('never goes past the other edge', () => {
		dragging.grip('in');
		dragging.over(40);
		dragging.release();
		expect(onedge).toHaveBeenCalledWith('in', 20);
	});

	it('takes a grip that was not moved for a click on its word', () => {
		dragging.grip('in');
		dragging.release();
		expect(onedge).not.toHaveBeenCalled();
		expect(onword).toHaveBeenCalledWith(10);
	});

	it('pulls nothing where nothing is kept', () => {
		edges = null;
		expect(dragging.grip('in')).toBe(false);
		expect(dragging.fate(10)).toBe('');
	});
});
