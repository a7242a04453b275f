import { beforeEach, describe, expect, it, vi } from 'vitest';

const made: { closed: boolean }[] = [];
vi.mock('$player/player.svelte', () => ({
	Player: class {
		closed = false;
		constructor() {
			made.push(this);
		}
		set(): void {}
		hear(): void {}
		seekOut(): void {}
		close(): void {
			this.closed = true;
		}
	}
}));

const sent: { on_revision: number; edit: unknown }[] = [];
const made_of: Record<number, (answer: unknown) => void> = {};
const given: Record<string, (answer: unknown) => void> = {};
vi.mock('$api/client', () => ({
	Problem: class extends Error {},
	mediaUrl: () => '/media',
	cutSoundUrl: () => '/sound.wav',
	ask: (answer: Promise<unknown>) => answer,
	api: {
		GET: (path: string) => new Promise((answer) => (given[path] = answer)),
		POST: (_: string, { body }: { body: { on_revision: number; edit: unknown } }) => {
			sent.push(body);
			return new Promise((answer) => (made_of[sent.length] = answer));
		}
	}
}));
vi.mock('$api/house.svelte', () => ({ house: { saving: 0, person: '', tell: vi.fn() } }));

const { Bench } = await import('./bench.svelte');

const QUOTE = { revision: 1, recording_id: 1, versions: [], merged: [], cut: { kept_words: [], struck_words: [], length_ms: 0 } };

beforeEach(() => {
	made.length = sent.length = 0;
	for (const path of Object.keys(given)) delete given[path];
	vi.stubGlobal('fetch', () => Promise.resolve({ ok: false }));
});

async function loaded(bench: InstanceType<typeof Bench>, meanwhile: () => void): Promise<void> {
	const loading = bench.load();
	given['/api/quotes/{quote_id}']!(QUOTE);
	given['/api/quotes/{quote_id}/versions']!({ revision: 1, versions: [] });
	await vi.waitFor(() => expect(given['/api/recordings/{recording_id}/transcript']).toBeDefined());
	meanwhile();
	given['/api/recordings/{recording_id}']!({ duration_ms: 1000 });
	given['/api/recordings/{recording_id}/transcript']!({ sentences: [] });
	await loading;
}

describe('a bench', () => {
	it('plays once it is loaded, until it is closed', async () => {
		const bench = new Bench(1);
		await loaded(bench, () => undefined);
		expect(made.map((one) => one.closed)).toEqual([false]);
		bench.close();
		expect(made.map((one) => one.closed)).toEqual([true]);
	});

	it('asks what a change names when its turn comes, so that a key held down is never refused', async () => {
		const bench = new Bench(1);
		await loaded(bench, () => undefined);
		const nudge = () => bench.edit(() => ({ kind: 'nudge-join', side: 'after', at_ms: bench.quote!.cut.length_ms, by_ms: 10 }));
		const both = Promise.all([nudge(), nudge()]);
		await vi.waitFor(() => expect(sent.length).toBe(1));
		made_of[1]!({ ...QUOTE, revision: 2, cut: { ...QUOTE.cut, length_ms: 1210 } });
		await vi.waitFor(() => expect(sent.length).toBe(2));
		made_of[2]!({ ...QUOTE, revision: 3 });
		expect(await both).toEqual([true, true]);
		expect(sent.map((one) => one.on_revision)).toEqual([1, 2]);
		expect(sent[1]!.edit).toMatchObject({ at_ms: 1210 });
		bench.close();
	});

	it('leaves out a change that has nothing to change any more', async () => {
		const bench = new Bench(1);
		await loaded(bench, () => undefined);
		expect(await bench.edit(() => null)).toBe(true);
		expect(sent).toEqual([]);
		bench.close();
	});

	it('that was left while it loaded leaves no player running', async () => {
		const bench = new Bench(1);
		await loaded(bench, () => bench.close());
		expect(made).toEqual([]);
		expect(bench.player).toBeNull();
	});
});
