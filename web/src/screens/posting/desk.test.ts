import { beforeEach, describe, expect, it, vi } from 'vitest';

type Call = { method: string; path: string; body: unknown };
const calls: Call[] = [];
let posting = made();
let refuse = '';

function made(text: Record<string, unknown> | null = null) {
	return {
		quote_id: 1, title: 'Wicks', recording_id: 2, recording_title: 'Lamps', link: '', revision: 1, drafted: text === null,
		written: text ?? { title: 'Draft', description: '{words}', tags: ['wick'], alt: 'A lamp' }, own: {} as Record<string, unknown>, tags: [], values: {},
		versions: [{ destination: 'tall', name: 'Tall' }, { destination: 'square', name: 'Square' }]
	};
}

vi.mock('$api/client', () => {
	class Problem extends Error {}
	const answer = (method: string) => (path: string, asked: { body?: unknown } = {}) => {
		calls.push({ method, path, body: asked.body });
		if (refuse && path.includes(refuse)) return Promise.reject(new Problem('refused'));
		if (path.endsWith('/try')) return Promise.resolve({ destination: 'tall', name: 'Tall', tried: asked.body });
		if (path.endsWith('/posting') && path.startsWith('/api/house')) return Promise.resolve({ usual_time: '17:00:00', accounts: [], phones: false });
		return Promise.resolve(path.endsWith('/posting') ? posting : {});
	};
	return { Problem, ask: (call: Promise<unknown>) => call, api: { GET: answer('GET'), POST: answer('POST'), PUT: answer('PUT') } };
});
const told = vi.fn();
vi.mock('$api/house.svelte', () => ({
	house: {
		saving: 0, person: 'Ann', posts: [{ quote_id: 1, due_at: '2', wall: '2026-12-02T10:00', state: 'draft' }, { quote_id: 9, due_at: '1', wall: '', state: 'draft' }], tell: told,
		trying: (work: () => Promise<unknown>) => work().catch((refused: Error) => void told('bad', refused.message))
	}
}));
const { Desk } = await import('./desk.svelte');

const edits = () => calls.filter((one) => one.path.endsWith('/edits')).map((one) => one.body as { on_revision: number; edit: { destination: string | null; text: { title: string } | null } });
async function opened() {
	const desk = new Desk(1);
	await desk.load();
	return desk;
}

beforeEach(() => {
	calls.length = 0;
	refuse = '';
	posting = made();
	told.mockClear();
	vi.useFakeTimers();
});

describe('the desk that posts are written at', () => {
	it('shows the draft, and the posts of its quote alone', async () => {
		const desk = await opened();
		expect(desk.fields).toEqual({ title: 'Draft', description: '{words}', tags: 'wick', alt: 'A lamp' });
		expect(desk.shown).toBe('tall');
		expect(desk.posts).toHaveLength(1);
	});

	it('tries what is typed soon, and writes it once typing pauses', async () => {
		const desk = await opened();
		desk.fields.title = 'Typed';
		desk.typed();
		desk.fields.title = 'Typed more';
		desk.typed();
		await vi.advanceTimersByTimeAsync(300);
		expect(calls.filter((one) => one.path.endsWith('/try'))).toHaveLength(1);
		expect(desk.version).toMatchObject({ tried: { text: { title: 'Typed more' } } });
		expect(edits()).toEqual([]);
		await vi.advanceTimersByTimeAsync(1300);
		expect(edits().map((one) => [one.on_revision, one.edit.destination, one.edit.text?.title])).toEqual([[1, null, 'Typed more']]);
	});

	it('writes what was typed before another version is opened, for which it then writes', async () => {
		const desk = await opened();
		desk.fields.title = 'For all';
		desk.typed();
		await desk.open('square');
		expect(edits().map((one) => [one.edit.destination, one.edit.text?.title])).toEqual([[null, 'For all']]);
		expect(desk.shown).toBe('square');
		desk.fields.title = 'For the square';
		desk.typed();
		await desk.write();
		expect(edits()[1]!.edit).toMatchObject({ destination: 'square', text: { title: 'For the square' } });
		await desk.write();
		expect(edits()).toHaveLength(2);
	});

	it('goes back to the draft, and drops what was typed and not written', async () => {
		posting = made({ title: 'Written', description: '', tags: [], alt: '' });
		const desk = await opened();
		desk.fields.title = 'Half a';
		desk.typed();
		posting = made();
		await desk.toDraft();
		expect(edits().map((one) => one.edit.text)).toEqual([null]);
		expect(desk.fields.title).toBe('Draft');
		await vi.advanceTimersByTimeAsync(3000);
		expect(edits()).toHaveLength(1);
	});

	it('keeps what was typed where writing it is refused, and says so', async () => {
		const desk = await opened();
		refuse = '/edits';
		desk.fields.title = 'Not lost';
		desk.typed();
		await desk.write();
		expect(told).toHaveBeenCalledWith('bad', 'refused');
		expect(desk.fields.title).toBe('Not lost');
	});

	it('takes a suggested tag once, beside those that are there', async () => {
		const desk = await opened();
		desk.suggest('lamp oil');
		expect(desk.text.tags).toEqual(['wick', 'lamp oil']);
	});

	it('says what is wrong where there is no such quote', async () => {
		refuse = '/posting';
		const desk = await opened();
		expect(desk.missing).toBe('refused');
	});
});
