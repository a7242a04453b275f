import { describe, expect, it } from 'vitest';
import type { Export } from '$api/client';
import { cardsOf, saidOf, type Wanted } from './cards';

const all: Wanted = { talk: null, state: 'all', since: '', text: '' };
let next = 100;
function made(quote: number, destination: string, more: Record<string, unknown> = {}): Export {
	return {
		id: next--, quote_id: quote, quote_title: `Quote ${quote}`, recording_id: quote % 2, recording_title: quote % 2 ? 'Lamps' : 'Kettles',
		destination: { id: destination, name: destination }, making: { kind: 'clip', codec: 'h264', quality: 'usual', size_mb: null },
		state: 'done', findings: [], created_at: '2026-05-03T10:00:00Z', current: true, ...more
	} as unknown as Export;
}

describe('the outbox', () => {
	it('has one card a quote, with the newest of each kind of file', () => {
		const exports = [made(1, 'tall'), made(1, 'wide'), made(2, 'tall'), made(1, 'tall'), made(1, 'tall', { making: { kind: 'm4a', codec: 'h264', quality: 'usual', size_mb: null } })];
		const cards = cardsOf(exports, all);
		expect(cards.map((card) => [card.quoteId, card.exports.length, card.older])).toEqual([[1, 3, 1], [2, 1, 0]]);
		expect(cards[0]!.exports.map((one) => one.id)).toEqual([exports[0]!.id, exports[1]!.id, exports[4]!.id]);
	});

	it('is narrowed by talk, day, words and how things stand', () => {
		const exports = [
			made(1, 'tall', { state: 'running' }), made(2, 'tall', { created_at: '2026-05-01T10:00:00Z' }),
			made(3, 'tall', { findings: [{ severity: 'stop' }] }), made(4, 'tall', { current: false })
		];
		const ids = (wanted: Partial<Wanted>) => cardsOf(exports, { ...all, ...wanted }).map((card) => card.quoteId);
		expect(ids({ talk: 1 })).toEqual([1, 3]);
		expect(ids({ since: '2026-05-02' })).toEqual([1, 3, 4]);
		expect(ids({ text: 'kettles' })).toEqual([2, 4]);
		expect(ids({ state: 'going' })).toEqual([1]);
		expect(ids({ state: 'done' })).toEqual([2, 3, 4]);
		expect(ids({ state: 'faults' })).toEqual([3]);
		expect(ids({ state: 'changed' })).toEqual([4]);
	});

	it('says one line of each card, the worst first', () => {
		const said = (...exports: Export[]) => saidOf(cardsOf(exports, all)[0]!);
		expect(said(made(1, 'tall'), made(1, 'wide'))).toEqual({ says: 'All checks passed', kind: 'good' });
		expect(said(made(1, 'tall'), made(1, 'wide', { state: 'queued' }))).toEqual({ says: '1 of 2 to go', kind: 'going' });
		expect(said(made(1, 'tall', { state: 'failed' }), made(1, 'wide', { state: 'queued' })).kind).toBe('bad');
		expect(said(made(1, 'tall', { state: 'stopped' }), made(1, 'wide'))).toEqual({ says: '1 of 2 exported', kind: 'plain' });
	});
});
