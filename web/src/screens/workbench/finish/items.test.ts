import { describe, expect, it } from 'vitest';
import type { Overlay } from '$api/client';
import { AROUND, canBePlaced, isAlone, lanesOf, nameOf, OVER, saysWhen, textOf, UNDER, whenOf } from './items';

describe('what can be put over the picture', () => {
	it('has a name for each kind, and begins as something that can be shown', () => {
		const made = [...OVER, ...AROUND, ...UNDER].map((one) => one.what(7));
		expect(made.map(nameOf)).toEqual(['Title', 'Title', 'Name strap', 'Text', 'Progress line', 'Time left', 'Sound wave', 'Logo', 'Picture', 'Footage', 'Logo', 'Mark', 'Cover', 'End card', 'Music']);
		expect(made.filter(isAlone).map(nameOf)).toEqual(['Cover', 'End card']);
		expect(made.filter((what) => !canBePlaced(what)).map(nameOf)).toEqual(['Progress line', 'Picture', 'Footage', 'Mark', 'Music']);
		expect(made.filter((what) => 'picture' in what && what.picture === 7)).toHaveLength(3);
	});

	it('says what it says', () => {
		expect(textOf({ kind: 'title', text: 'One', second: '' })).toBe('One');
		expect(textOf({ kind: 'name-strap', name: '', role: 'Keeper' })).toBe('whoever speaks');
		expect(textOf({ kind: 'time-left' })).toBe('');
	});

	it('says when it shows', () => {
		const one = (what: Overlay['what']): Overlay => ({ id: 1, when: { kind: 'whole', offset_ms: 0 }, what, hidden: false });
		expect(whenOf(one(AROUND[0]!.what(0)))).toBe('first frame');
		expect(whenOf(one(AROUND[1]!.what(0)))).toBe('3.0 s at the end');
		expect(whenOf(one(UNDER[0]!.what(1)))).toBe('whole clip');
		expect(saysWhen({ kind: 'whole' })).toBe('whole clip');
		expect(saysWhen({ kind: 'start', length_ms: 3000, offset_ms: 500 })).toBe('first 3.0 s after 0.5 s');
		expect(saysWhen({ kind: 'end', length_ms: null })).toBe('to the end');
		expect(saysWhen({ kind: 'words', length_ms: null })).toBe('with these words');
		expect(saysWhen({ kind: 'words', length_ms: 1500 })).toBe('1.5 s from these words');
	});
});

describe('lanes beside the words', () => {
	it('stand side by side while they overlap, and one under the other else', () => {
		const lanes = lanesOf([
			{ id: 1, from: 0, to: 100 },
			{ id: 2, from: 50, to: 80 },
			{ id: 3, from: 100, to: 120 },
			{ id: 4, from: 85, to: 200 }
		]);
		expect([1, 2, 3, 4].map((id) => lanes.get(id))).toEqual([0, 1, 0, 1]);
	});
});
