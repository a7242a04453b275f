import { beforeEach, describe, expect, it, vi } from 'vitest';

const CATALOGUE = {
	version: 3,
	pictures: [], sounds: [], roles: {}, colour: '#1C2330', destinations: [{ id: 'tall-60', retired: false }, { id: 'tall-20', retired: true }],
	styles: [{ id: 'slate', retired: true }],
	faces: [{ name: 'Lexend Bold', file: 'Lexend_700Bold.ttf' }],
	ranges: { zoom: { least: 1, most: 8 } }
};
const asked: string[] = [];
const faces: { name: string; source: string }[] = [];
let events: { onmessage: (message: { data: string }) => void; onopen: () => void; closed: boolean };
let seenOrHidden = () => undefined as void;
const page = {
	hidden: true,
	fonts: { add: (face: { name: string; source: string }) => faces.push(face) },
	addEventListener: (_: string, then: () => void) => (seenOrHidden = then)
};

vi.stubGlobal('localStorage', { getItem: () => null, setItem: vi.fn() });
vi.stubGlobal('document', page);
vi.stubGlobal('FontFace', class {
	constructor(
		readonly name: string,
		readonly source: string
	) {}
});
vi.stubGlobal('EventSource', class {
	onmessage = () => undefined;
	onopen = () => undefined;
	closed = false;
	close() {
		this.closed = true;
	}
	constructor() {
		events = this as unknown as typeof events;
	}
});
vi.mock('./client', async (original) => ({
	...(await original<typeof import('./client')>()),
	ask: (answer: Promise<unknown>) => answer,
	api: {
		GET: (path: string) => {
			asked.push(path);
			return Promise.resolve(path === '/api/catalogue' ? CATALOGUE : []);
		}
	}
}));

const { house } = await import('./house.svelte');
const { Problem } = await import('./client');
const soon = () => new Promise((done) => setTimeout(done));
const news = (of: unknown) => events.onmessage({ data: JSON.stringify(of) });

it('missed what happened since it was opened, where nobody saw it until now', async () => {
	await house.open();
	expect(events).toBeUndefined();
	page.hidden = false;
	seenOrHidden();
	const { count } = house.quoteChanged;
	events.onopen();
	expect(house.quoteChanged).toEqual({ id: null, count: count + 1 });
});

beforeEach(async () => {
	await house.open();
	await soon();
	asked.length = 0;
});

describe('the house', () => {
	it('offers what is not retired, and knows what was', () => {
		expect(house.destinations.map((one) => one.id)).toEqual(['tall-60']);
		expect(house.everyDestination.map((one) => one.id)).toEqual(['tall-60', 'tall-20']);
		expect(house.ranges.zoom).toEqual({ least: 1, most: 8 });
		expect(faces).toMatchObject([{ name: 'Lexend Bold', source: 'url(/fonts/Lexend_700Bold.ttf)' }]);
	});

	it('is loaded once', async () => {
		await house.open();
		expect(asked).toEqual([]);
	});

	it('tells an open quote of news about it, and of a gap in the news', () => {
		events.onopen();
		const { count } = house.quoteChanged;
		news({ kind: 'quote', id: 7, head: 4 });
		expect(house.quoteChanged).toEqual({ id: 7, head: 4, count: count + 1 });
		events.onopen();
		expect(house.quoteChanged).toEqual({ id: null, count: count + 2 });
	});

	it('gives its connection back while nobody sees it, and asks what it missed when it is seen again', async () => {
		const first = events;
		page.hidden = true;
		seenOrHidden();
		expect(first.closed).toBe(true);
		page.hidden = false;
		seenOrHidden();
		seenOrHidden();
		expect(events).not.toBe(first);
		expect(events.closed).toBe(false);
		const { count } = house.quoteChanged;
		events.onopen();
		expect(house.quoteChanged).toEqual({ id: null, count: count + 1 });
	});

	it('asks for exports again when one changed, and for work when a recording did', async () => {
		// What was asked for before is asked for again a moment later, if it changed meanwhile.
		await new Promise((done) => setTimeout(done, 400));
		asked.length = 0;
		news({ kind: 'export', id: 1 });
		await soon();
		expect(asked).toEqual(['/api/exports']);
		asked.length = 0;
		news({ kind: 'recording', id: 1 });
		await soon();
		expect(asked).toEqual(['/api/work']);
	});

	it('tells what was refused, once, and nothing of what was told already', async () => {
		const refuse = (code: string) => house.trying(() => Promise.reject(new Problem(422, code, 'Keep at least one.')));
		expect(await refuse('edit-refused')).toBeUndefined();
		await refuse('edit-refused');
		await refuse('told');
		expect(house.told.map((one) => one.says)).toEqual(['Keep at least one.']);
		house.dismiss(house.told[0]!.id);
		expect(house.told).toEqual([]);
	});
});
