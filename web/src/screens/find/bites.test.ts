import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Soundbite } from '$api/client';

type Asked = { path: string; body?: unknown; query?: { topic?: number; length?: string }; answer: (data: unknown) => void };
const asked: Asked[] = [];

vi.mock('$api/house.svelte', () => ({ house: { trying: <T>(work: () => Promise<T>) => work() } }));
vi.mock('$api/client', () => ({
	ask: (answer: Promise<unknown>) => answer,
	api: {
		GET: (path: string, { params }: { params: { query: Asked['query'] } }) =>
			new Promise((answer) => asked.push({ path, query: params.query, answer })),
		POST: (path: string, { body }: { body?: unknown } = {}) => new Promise((answer) => asked.push({ path, body, answer }))
	}
}));

const { Bites } = await import('./bites.svelte');

const bite = (first: number, last = first + 1) => ({ first, last, reasons: [{ feature: 'opens', name: 'Opens well' }] }) as unknown as Soundbite;
const offer = (bites: Soundbite[], times = 1) => ({ soundbites: bites, passed: [], topics: [], taste: { choices: 1, shifts: [{ feature: 'opens', times }] } });
const soon = () => new Promise((done) => setTimeout(done));

beforeEach(() => {
	asked.length = 0;
});

async function offered(...bites: Soundbite[]) {
	const kept = vi.fn(() => Promise.resolve());
	const list = new Bites(1, kept);
	const loading = list.load();
	asked.pop()!.answer(offer(bites));
	await loading;
	return { list, kept };
}

describe('soundbites that are offered', () => {
	it('are gone through round and round', async () => {
		const { list } = await offered(bite(0), bite(5), bite(9));
		expect([list.go(1)?.first, list.go(1)?.first, list.go(1)?.first, list.go(1)?.first, list.go(-1)?.first]).toEqual([0, 5, 9, 0, 9]);
		const none = await offered();
		expect(none.list.go(1)).toBeUndefined();
	});

	it('of an older question are not shown over those of a newer one', async () => {
		const { list } = await offered(bite(0));
		void list.choose({ length: 'under-20' });
		void list.choose({ length: 'over-40' });
		const [first, second] = asked.splice(0);
		second!.answer(offer([bite(7)]));
		await soon();
		first!.answer(offer([bite(3)]));
		await soon();
		expect([list.list.map((one) => one.first), list.length]).toEqual([[7], 'over-40']);
	});

	it('stay in hand when they are asked for again', async () => {
		const { list } = await offered(bite(0), bite(5));
		list.go(1);
		list.go(1);
		const again = list.load();
		asked.pop()!.answer(offer([bite(9), bite(5)]));
		await again;
		expect([list.at, list.current?.first]).toEqual([1, 5]);
	});

	it('grow by a sentence, and not beyond the beginning', async () => {
		const { list } = await offered(bite(1, 2));
		list.go(1);
		const growing = list.grow('first', -1);
		expect(asked[0]!.body).toMatchObject({ first: 0, last: 2 });
		asked.pop()!.answer(bite(0, 2));
		expect((await growing)?.first).toBe(0);
		expect((await list.grow('first', -1))?.first).toBe(0);
		expect(asked).toEqual([]);
	});

	it('that are kept make a quote, teach the house, and can be taken back with it', async () => {
		const { list, kept } = await offered(bite(0), bite(5));
		list.go(1);
		const deciding = list.decide('kept');
		asked.pop()!.answer({ ...bite(0), kept: { id: 77 } });
		await soon();
		asked.pop()!.answer(offer([bite(5)], 1.2));
		await deciding;
		expect([kept.mock.calls.length, list.learned]).toEqual([1, '“Opens well” now counts more here.']);
		const undoing = list.undo();
		expect(asked[0]!.body).toMatchObject({ verdict: null });
		asked.pop()!.answer(bite(0));
		await soon();
		asked.pop()!.answer(offer([bite(0), bite(5)]));
		await soon();
		expect(asked[0]!.path).toBe('/api/quotes/{quote_id}/remove');
		asked.pop()!.answer(undefined);
		expect(await undoing).toBe(true);
		expect(await list.undo()).toBe(false);
	});
});
