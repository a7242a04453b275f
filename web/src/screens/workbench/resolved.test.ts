import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Resolved } from '$api/client';
import { ResolvedVersions } from './resolved.svelte';

const at = (revision: number) => ({ revision, shots: [], set_ups: [], versions: [] }) as Resolved;
let onServer: number;
let asked: number;

beforeEach(() => {
	vi.useFakeTimers();
	onServer = 1;
	asked = 0;
});
afterEach(() => vi.useRealTimers());

function versions(ask = () => Promise.resolve(at(onServer))): ResolvedVersions {
	return new ResolvedVersions(() => {
		asked++;
		return ask();
	});
}

describe('what versions look like', () => {
	it('follows an edit at once', async () => {
		const made = versions();
		const done = vi.fn();
		onServer = 2;
		made.follow(() => 2, done);
		await vi.advanceTimersByTimeAsync(1);
		expect([made.now?.revision, done.mock.calls.length]).toEqual([2, 1]);
	});

	it('follows many hasty edits once, when they pause', async () => {
		const made = versions();
		const done = vi.fn();
		for (let revision = 2; revision <= 9; revision++) {
			onServer = revision;
			made.follow(() => onServer, done);
			await vi.advanceTimersByTimeAsync(40);
		}
		await vi.advanceTimersByTimeAsync(400);
		expect(made.now?.revision).toBe(9);
		expect(asked).toBeLessThanOrEqual(2);
	});

	it('is not asked for again where it is known', async () => {
		const made = versions();
		await made.load();
		made.follow(() => 1, vi.fn());
		await vi.advanceTimersByTimeAsync(10);
		expect(asked).toBe(1);
	});

	it('tells what failed, and follows the next all the same', async () => {
		const failing = new Error('busy');
		let fails = true;
		const made = versions(() => (fails ? Promise.reject(failing) : Promise.resolve(at(3))));
		const done = vi.fn();
		made.follow(() => 2, done);
		await vi.advanceTimersByTimeAsync(10);
		expect(done).toHaveBeenCalledWith(failing);
		fails = false;
		made.follow(() => 3, done);
		await vi.advanceTimersByTimeAsync(400);
		expect(made.now?.revision).toBe(3);
	});

	it('is followed no more once it is closed', async () => {
		const made = versions();
		made.follow(() => 2, vi.fn());
		made.close();
		await vi.advanceTimersByTimeAsync(1000);
		expect(asked).toBe(0);
	});
});
