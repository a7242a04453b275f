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

const given: Record<string, (answer: unknown) => void> = {};
vi.mock('$api/client', () => ({
	Problem: class extends Error {},
	mediaUrl: () => '/media',
	cutSoundUrl: () => '/sound.wav',
	ask: (answer: Promise<unknown>) => answer,
	api: { GET: (path: string) => new Promise((answer) => (given[path] = answer)) }
}));
vi.mock('$api/house.svelte', () => ({ house: { saving: 0, person: '', tell: vi.fn() } }));

const { Bench } = await import('./bench.svelte');

const QUOTE = { recording_id: 1, versions: [], merged: [], cut: { kept_words: [], struck_words: [], length_ms: 0 } };

beforeEach(() => {
	made.length = 0;
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

	it('that was left while it loaded leaves no player running', async () => {
		const bench = new Bench(1);
		await loaded(bench, () => bench.close());
		expect(made).toEqual([]);
		expect(bench.player).toBeNull();
	});
});
