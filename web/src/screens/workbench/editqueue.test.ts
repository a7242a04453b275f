import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Problem, type Quote } from '$api/client';
import { EditQueue } from './editqueue';

const at = (revision: number) => ({ revision }) as Quote;
let known: Quote | null;
let onServer: Quote;
let saving: number;
let refused: string[];
let asked: number;

function queue(): EditQueue {
	return new EditQueue({
		quote: () => known,
		taken: (quote) => (known = quote),
		refused: (problem) => refused.push(problem.message),
		ask: () => {
			asked++;
			return Promise.resolve(onServer);
		},
		saving: (on) => (saving += on ? 1 : -1)
	});
}

/** A change that is answered when the test says so. */
function slow() {
	let answer!: (quote: Quote) => void;
	let fail!: (why: unknown) => void;
	const seen: number[] = [];
	const promised = new Promise<Quote>((yes, no) => ((answer = yes), (fail = no)));
	const change = (quote: Quote) => {
		seen.push(quote.revision);
		return promised;
	};
	return { change, seen, answer, fail };
}

const soon = () => new Promise((done) => setTimeout(done));

beforeEach(() => {
	known = at(1);
	onServer = at(1);
	saving = asked = 0;
	refused = [];
});

describe('a queue of edits', () => {
	it('makes each on the revision that the one before it gave', async () => {
		const edits = queue();
		const [first, second] = [slow(), slow()];
		const done = [edits.run(first.change), edits.run(second.change)];
		await soon();
		expect([first.seen, second.seen, saving]).toEqual([[1], [], 1]);
		first.answer(at(2));
		await soon();
		expect(second.seen).toEqual([2]);
		second.answer(at(3));
		expect(await Promise.all(done)).toEqual([true, true]);
		expect([known?.revision, saving]).toEqual([3, 0]);
	});

	it('goes on after one that was refused, and says why', async () => {
		const edits = queue();
		const [first, second] = [slow(), slow()];
		const done = [edits.run(first.change), edits.run(second.change)];
		first.fail(new Problem(422, 'edit-refused', 'Keep at least one.'));
		second.answer(at(2));
		expect(await Promise.all(done)).toEqual([false, true]);
		expect([refused, known?.revision, saving]).toEqual([['Keep at least one.'], 2, 0]);
	});

	it('brings the newest after a conflict', async () => {
		const edits = queue();
		onServer = at(7);
		const one = slow();
		const done = edits.run(one.change);
		one.fail(new Problem(409, 'stale-revision', 'Changed elsewhere.'));
		expect(await done).toBe(false);
		expect(known?.revision).toBe(7);
	});

	it('is not stopped by what breaks', async () => {
		const edits = queue();
		const [broken, next] = [slow(), slow()];
		const first = edits.run(broken.change);
		const second = edits.run(next.change);
		broken.fail(new TypeError('Failed to fetch'));
		next.answer(at(2));
		await expect(first).rejects.toThrow('Failed to fetch');
		expect(await second).toBe(true);
		expect(saving).toBe(0);
	});

	it('does nothing before the quote is there', async () => {
		known = null;
		expect(await queue().run(slow().change)).toBe(false);
	});
});

describe('news of the quote', () => {
	it("is one's own edit where that made its head", async () => {
		const edits = queue();
		const one = slow();
		void edits.run(one.change);
		const found = vi.fn();
		const heard = edits.changedElsewhere(2, found);
		one.answer(at(2));
		expect(await heard).toBe(true);
		expect([asked, found.mock.calls.length]).toEqual([0, 0]);
	});

	it("of somebody else's edit that comes while one's own is being saved is not lost", async () => {
		const edits = queue();
		const one = slow();
		void edits.run(one.change);
		const found = vi.fn();
		const heard = edits.changedElsewhere(3, found);
		one.answer(at(2));
		onServer = at(3);
		await heard;
		expect(known?.revision).toBe(3);
		expect(found).toHaveBeenCalledWith(onServer);
	});

	it('without a head asks, and tells nothing where nothing changed', async () => {
		const found = vi.fn();
		await queue().changedElsewhere(null, found);
		expect([asked, found.mock.calls.length]).toEqual([1, 0]);
	});
});
