import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Slip, WeekPost } from '$api/client';

type Call = { path: string; body: unknown };
const calls: Call[] = [];
let refuse = false;
const slip = (id: number, mark = 'candidate') => ({ id, mark, tags: [], note: '', lines: [] }) as unknown as Slip;
const WEEK = [{ quote_id: 1, destination: 'tall-60', reason: 'Differs.', instead: [2, 3] }] as unknown as WeekPost[];

vi.mock('$player/sequence.svelte', () => ({ Sequence: class {} }));
vi.mock('$api/client', () => {
	const asking = (path: string, asked: { params?: { path: { quote_id: number } }; body?: object } = {}) => {
		calls.push({ path, body: asked.body });
		if (refuse) return Promise.reject(new Error('refused'));
		if (path.endsWith('/slip')) return Promise.resolve({ ...slip(asked.params!.path.quote_id), ...asked.body });
		return Promise.resolve(path.endsWith('/week') ? WEEK : { title: 'All', slips: [slip(1), slip(2, 'picked'), slip(3), slip(4)] });
	};
	return { ask: (call: Promise<unknown>) => call, api: { GET: asking, POST: asking, PUT: asking } };
});
vi.mock('$api/house.svelte', () => ({ house: { trying: (work: () => Promise<unknown>) => work().catch(() => undefined) } }));
const { Shortlist } = await import('./shortlist.svelte');

async function loaded() {
	const list = new Shortlist({});
	await list.load();
	return list;
}
const ids = (list: { shown: Slip[] }) => list.shown.map((one) => one.id);

beforeEach(() => {
	calls.length = 0;
	refuse = false;
});

describe('a shortlist', () => {
	it('shows the slips of one mark, and stays on one that is there', async () => {
		const list = await loaded();
		list.at = 3;
		list.only = 'candidate';
		expect(ids(list)).toEqual([1, 3, 4]);
		list.at = 2;
		await list.say(list.current!, { mark: 'parked' });
		expect([ids(list), list.at]).toEqual([[1, 3], 1]);
	});

	it('takes back what was said, and nothing that was refused', async () => {
		const list = await loaded();
		await list.say(list.shown[0]!, { mark: 'done', note: 'Sunday' });
		refuse = true;
		await list.say(list.shown[2]!, { mark: 'picked' });
		refuse = false;
		await list.undo();
		await list.undo();
		expect(list.slips!.map((one) => one.mark)).toEqual(['candidate', 'picked', 'candidate', 'candidate']);
		expect(calls.filter((one) => one.path.endsWith('/slip')).at(-1)!.body).toEqual({ mark: 'candidate', tags: [], note: '' });
	});

	it('moves one among those shown; the others keep their places', async () => {
		const list = await loaded();
		list.only = 'candidate';
		await list.move(2, 0);
		expect([ids(list), list.slips!.map((one) => one.id), list.at]).toEqual([[4, 1, 3], [4, 2, 1, 3], 0]);
		await list.undo();
		expect(ids(list)).toEqual([1, 3, 4]);
	});

	it('compares two at most', async () => {
		const list = await loaded();
		for (const id of [1, 2, 3]) list.turnCompared(id);
		expect(list.compared).toEqual([2, 3]);
		list.turnCompared(2);
		expect(list.compared).toEqual([3]);
	});
});

describe('a week', () => {
	it('is asked for of all that is on the list, and a post of it can be swapped and swapped back', async () => {
		const list = await loaded();
		await list.suggestWeek(4, ['tall-60']);
		expect(calls.at(-1)!.body).toMatchObject({ quotes: [1, 2, 3, 4], posts: 4, destinations: ['tall-60'] });
		list.swap(0, 3);
		expect(list.week![0]).toMatchObject({ quote_id: 3, instead: [1, 2], reason: 'Chosen by you.' });
		list.swap(0, 1);
		expect(list.week![0]).toMatchObject({ quote_id: 1, instead: [3, 2] });
		list.swap(7, 1);
		expect(list.week).toHaveLength(1);
	});

	it('stays as it was where it is refused', async () => {
		const list = await loaded();
		await list.suggestWeek(4, ['tall-60']);
		refuse = true;
		await list.suggestWeek(9, []);
		expect(list.week).toEqual(WEEK);
	});
});
