import { expect, test } from 'vitest';
import { typedWith } from './asking';

const asked = { bare: 'lamp "keep the wick"', by: null, series: null, after: null, before: null, used: null, wide: false, by_meaning: true };

test('a filter is written after the words, in quotation marks where it has spaces', () => {
	expect(typedWith(asked, { by: 'Maren Tolley', used: false })).toBe('lamp "keep the wick" by:"Maren Tolley" used:no');
	expect(typedWith(asked, { series: 'Kettles', wide: true })).toBe('lamp "keep the wick" in:Kettles wide:yes');
});

test('a filter taken off leaves the words and the other filters', () => {
	expect(typedWith({ ...asked, bare: '', by: 'Ivo', after: '2026-01-01' }, { by: null })).toBe('after:2026-01-01');
	expect(typedWith(asked, {})).toBe(asked.bare);
	expect(typedWith(asked, { by_meaning: false })).toBe(`${asked.bare} meaning:no`);
});
