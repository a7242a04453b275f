import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Post } from '$api/client';

type Call = { method: string; path: string; post?: number; body?: unknown };
const calls: Call[] = [];
const told: { as: string; says: string; mend?: { name: string; run: () => void } }[] = [];
let answer: { data?: unknown; error?: { code: string; detail: string } } = {};
let read = 0;

vi.mock('$api/client', () => {
	class Problem extends Error {}
	const asking = (method: string) => (path: string, asked: { params?: { path: { post_id: number } }; body?: unknown } = {}) => {
		calls.push({ method, path, post: asked.params?.path.post_id, body: asked.body });
		return Promise.resolve(answer);
	};
	const ask = async (call: Promise<typeof answer>) => {
		const { data, error } = await call;
		if (error) throw new Problem(error.detail);
		return data;
	};
	return { Problem, ask, api: { POST: asking('POST'), PUT: asking('PUT') } };
});
vi.mock('$api/house.svelte', () => ({
	house: {
		tell: (as: string, says: string, mend?: { name: string; run: () => void }) => void told.push({ as, says, mend }),
		refreshPosts: () => Promise.resolve(void (read += 1)),
		trying: (work: () => Promise<unknown>) => work().catch((refused: Error) => void told.push({ as: 'bad', says: refused.message }))
	}
}));
const { cancel, describe: say, hold, move, plan, schedule, takeDown } = await import('./posts');
const POST = { id: 7, quote_title: 'Wicks', destination_name: 'Tall 60', wall: '2027-03-01T17:00:00' } as Post;

beforeEach(() => {
	calls.length = told.length = read = 0;
	answer = {};
});

describe('planning a post', () => {
	it('leaves the account and the time to the server where none is told', async () => {
		answer = { data: { posts: [POST], notes: [] } };
		expect(await plan({ quote_id: 3, destination: 'tall-60' })).toBe(POST);
		expect(calls).toEqual([{ method: 'POST', path: '/api/posts', post: undefined, body: { visibility: 'public', quote_id: 3, destination: 'tall-60' } }]);
		expect([told, read]).toEqual([[], 1]);
	});

	it('tells what is odd about a time', async () => {
		answer = { data: { posts: [POST], notes: ['The clocks go forward that night: 02:30 is 03:30.'] } };
		await plan({ quote_id: 3, destination: 'tall-60', wall: '2027-03-28T02:30', visibility: 'private' });
		expect(calls[0]!.body).toMatchObject({ visibility: 'private' });
		expect(told).toEqual([{ as: 'good', says: 'The clocks go forward that night: 02:30 is 03:30.', mend: undefined }]);
	});

	it('tells a refusal, and has the posts read again all the same', async () => {
		answer = { error: { code: 'refused', detail: 'This quote has no version for that destination.' } };
		expect(await plan({ quote_id: 3, destination: 'wide-140' })).toBeUndefined();
		expect(told.map((one) => one.as)).toEqual(['bad']);
		expect(read).toBe(1);
	});
});

describe('a post that is there', () => {
	it('is moved, or said not to have been', async () => {
		answer = { data: { posts: [POST], notes: [] } };
		expect(await move(POST, '2027-03-02T17:00')).toBe(true);
		answer = { error: { code: 'refused', detail: 'That time has passed.' } };
		expect(await move(POST, '2020-03-02T17:00')).toBe(false);
		expect(calls.map((one) => [one.method, one.path, one.post])).toEqual(Array(2).fill(['PUT', '/api/posts/{post_id}/when', 7]));
	});

	it('is sent elsewhere, held, cancelled and taken down', async () => {
		answer = { data: POST };
		await say(POST, null, 'unlisted');
		for (const act of [hold, cancel, takeDown]) expect(await act(POST)).toBe(POST);
		expect(calls[0]!.body).toEqual({ account_id: null, visibility: 'unlisted' });
		expect(calls.slice(1).map((one) => one.path.split('/').at(-1))).toEqual(['hold', 'cancel', 'take-down']);
		expect(read).toBe(4);
	});
});

describe('sending a post', () => {
	it('says when it goes out', async () => {
		answer = { data: POST };
		await schedule(POST, false);
		await schedule(POST, true);
		expect(told.map((one) => one.says)).toEqual(['Scheduled for 2027-03-01, 17:00.', 'Posting Tall 60 of “Wicks”.']);
		expect(calls.map((one) => one.body)).toEqual([{ now: false, again: false }, { now: true, again: false }]);
	});

	it('asks before the same is posted there again', async () => {
		answer = { error: { code: 'posted-twice', detail: 'This clip was posted there already. Post it once more?' } };
		expect(await schedule(POST, true)).toBeUndefined();
		expect(told[0]!.mend?.name).toBe('Post again');
		answer = { data: POST };
		told[0]!.mend!.run();
		await vi.waitFor(() => expect(told).toHaveLength(2));
		expect(calls[1]!.body).toEqual({ now: true, again: true });
	});

	it('tells any other refusal, with nothing to press', async () => {
		answer = { error: { code: 'post-not-ready', detail: 'Choose the account that this goes to.' } };
		await schedule(POST, false);
		expect(told).toEqual([{ as: 'bad', says: 'Choose the account that this goes to.', mend: undefined }]);
	});
});
