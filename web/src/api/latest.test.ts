import { describe, expect, it, vi } from 'vitest';
import { LatestWins } from './latest';

/** Answers that the test gives when it likes. */
function later<Answer>() {
	const given: { answer: (one: Answer) => void; fail: (why: Error) => void }[] = [];
	const get = vi.fn(() => new Promise<Answer>((answer, fail) => given.push({ answer, fail })));
	return { given, get };
}

describe('of several answers', () => {
	it('only the newest is taken, in whatever order they come', async () => {
		const { given, get } = later<string>();
		const latest = new LatestWins<string, string>();
		const first = latest.ask('Tall 60', get);
		const second = latest.ask('Square 60', get);
		given[1]!.answer('for Square 60');
		given[0]!.answer('for Tall 60');
		expect(await first).toBeUndefined();
		expect(await second).toBe('for Square 60');
		expect(latest.isLatest('Square 60')).toBe(true);
	});

	it('the same is not asked again and again', async () => {
		const { given, get } = later<number>();
		const latest = new LatestWins<number, number>();
		const asked = latest.ask(1207, get);
		expect(await latest.ask(1207, get)).toBeUndefined();
		given[0]!.answer(1);
		expect(await asked).toBe(1);
		expect(await latest.ask(1207, get)).toBeUndefined();
		expect(get).toHaveBeenCalledTimes(1);
	});

	it('a failed one is told and can be asked again, and one that nobody waits for is not', async () => {
		const { given, get } = later<string>();
		const latest = new LatestWins<string, string>();
		const failing = latest.ask('a', get);
		given[0]!.fail(new Error('away'));
		await expect(failing).rejects.toThrow('away');
		const again = latest.ask('a', get);
		const other = latest.ask('b', get);
		given[1]!.fail(new Error('away'));
		given[2]!.answer('b');
		expect([await again, await other]).toEqual([undefined, 'b']);
	});
});
