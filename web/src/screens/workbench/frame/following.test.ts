import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Bench } from '../bench.svelte';

const told: string[] = [];
let answers: Record<string, unknown[]>;
const asked: { path: string; body?: unknown }[] = [];
const answer = (path: string, options?: { body?: unknown }) => {
	asked.push({ path, body: options?.body });
	const left = answers[path] ?? [];
	return Promise.resolve(left.length > 1 ? left.shift() : left[0]);
};

vi.mock('$api/house.svelte', () => ({ house: { person: '', trying: <T>(work: () => Promise<T>) => work(), tell: (_: string, says: string) => told.push(says), destination: () => undefined } }));
vi.mock('$api/client', async (original) => ({
	...(await original<typeof import('$api/client')>()),
	ask: (now: Promise<unknown>) => now,
	api: { GET: answer, POST: answer }
}));

const { Frame } = await import('./frame.svelte');

const FOLLOW = '/api/quotes/{quote_id}/follow';
const WORK = '/api/work/{work_id}';
const FIRST = '/api/quotes/{quote_id}/look-first';
let edits: unknown[];
let looked: number;

function framing() {
	const span = { start_ms: 0, end_ms: 10_000 };
	const player = { sourceMs: 4000, pause: vi.fn() };
	const version = { destination: 'tall-60', framing: [], treated: {}, assembly: { destination: { shape: 'tall' } } };
	return new Frame({
		id: 1, shown: 'tall-60', player, versions: [version], version, quote: { recording_id: 7 }, resolved: { shots: [{ span }], set_ups: [] },
		edit: (edit: unknown) => { edits.push(edit); return Promise.resolve(true); },
		lookAgain: () => { looked++; return Promise.resolve(); }
	} as unknown as Bench);
}

beforeEach(() => {
	vi.useFakeTimers();
	told.length = 0;
	asked.length = 0;
	edits = [];
	looked = 0;
	answers = { '/api/quotes/{quote_id}/sight': [{ subjects: [], tracks: [] }] };
});

describe('following something', () => {
	it('pauses, follows what is in the box to the end, and shows it where it is seen', async () => {
		answers[FOLLOW] = [{ subject: 5001, work: { id: 3 } }];
		answers[WORK] = [{ state: 'running', progress: 0.4 }, { state: 'done', progress: 1 }];
		const frame = framing();
		frame.draw();
		expect(frame.bench.player!.pause).toHaveBeenCalled();
		frame.drawing = { x: 0.1, y: 0.2, width: 0.3, height: 0.1 };
		const done = frame.follow('  the boat ');
		await vi.advanceTimersByTimeAsync(10);
		expect(frame.following).toBe(0.4);
		await vi.advanceTimersByTimeAsync(1000);
		await done;
		expect(asked[0]!.body).toEqual({ at_ms: 4000, x: 0.1, y: 0.2, width: 0.3, height: 0.1, name: 'the boat' });
		expect(edits).toEqual([{ kind: 'show-followed', at_ms: 4000, subject: 5001, destination: null }]);
		expect([frame.following, frame.drawing]).toEqual([null, null]);
	});

	it('tells why it could not be followed, and changes nothing', async () => {
		answers[FOLLOW] = [{ subject: 5001, work: { id: 3 } }];
		answers[WORK] = [{ state: 'failed', problem: 'There is nothing in that box.' }];
		const frame = framing();
		frame.draw();
		await frame.follow('');
		expect(told).toEqual(['There is nothing in that box.']);
		expect(edits).toEqual([]);
		expect(frame.following).toBeNull();
	});

	it('is left again by the same key', () => {
		const frame = framing();
		frame.draw();
		frame.draw();
		expect(frame.drawing).toBeNull();
	});
});

describe('a recording that is still being looked at', () => {
	it('shows what is seen as it comes, until all is', async () => {
		answers[FIRST] = [{ going_on: true, seen: 1 }, { going_on: true, seen: 1 }, { going_on: true, seen: 2 }, { going_on: false, seen: 3 }];
		const frame = framing();
		const done = frame.lookFirst();
		await vi.advanceTimersByTimeAsync(10);
		expect([frame.looking, looked]).toEqual([true, 0]);
		await vi.advanceTimersByTimeAsync(10_000);
		await done;
		expect([frame.looking, looked]).toEqual([false, 2]);
	});

	it('is asked about no more once the step is left', async () => {
		answers[FIRST] = [{ going_on: true, seen: 1 }];
		const frame = framing();
		const done = frame.lookFirst();
		await vi.advanceTimersByTimeAsync(10);
		frame.close();
		await vi.advanceTimersByTimeAsync(10_000);
		await done;
		expect(asked.filter((one) => one.path === FIRST)).toHaveLength(1);
	});
});
