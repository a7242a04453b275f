import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Sentence } from '$api/client';

const soon = () => new Promise((done) => setTimeout(done));
const sent: { path: string; body: { on_revision: number; correction?: unknown } }[] = [];
const answers: ((answer: { data?: unknown; error?: unknown; response: Response }) => void)[] = [];
let whole: unknown;
const told: string[] = [];

vi.mock('$api/house.svelte', () => ({ house: { saving: 0, tell: (_: string, says: string) => told.push(says) } }));
vi.mock('$api/client', async (original) => ({
	...(await original<typeof import('$api/client')>()),
	api: {
		GET: () => {
			const now = whole;
			return soon().then(soon).then(soon).then(() => ({ data: now, response: new Response() }));
		},
		POST: (path: string, { body }: { body: { on_revision: number } }) => {
			sent.push({ path, body });
			return new Promise((answer) => answers.push(answer));
		}
	}
}));

const { Wording } = await import('./wording.svelte');

const sentence = (text: string, speaker: string | null = 'Ada'): Sentence => {
	const words = text.split(' ');
	return {
		speaker, words, starts_ms: words.map((_, i) => i * 100), ends_ms: words.map((_, i) => i * 100 + 90),
		timing: 'g'.repeat(words.length), sure: null, heard: null, doubtful_end: false
	};
};
const state = (revision: number) => ({ revision, undo_said: null, redo_said: null, speakers: [{ name: 'Ada', colour: 3 }] });
const words = (first: number, last: number, text: string) => ({ kind: 'correct-words' as const, first, last, text });

beforeEach(() => {
	sent.length = answers.length = told.length = 0;
	whole = { ...state(4), sentences: [sentence('keep the wik short'), sentence('it burns'), sentence('good night')] };
});

async function loaded() {
	const wording = new Wording(1);
	await wording.load();
	return wording;
}

describe('the words of a talk', () => {
	it('are corrected piece by piece, from the last, so that places stay right', async () => {
		const wording = await loaded();
		const done = wording.correct(words(2, 2, 'wick'));
		await soon();
		const pieces = [
			{ at: 0, removed: 1, added: [sentence('keep the wick'), sentence('short')] },
			{ at: 2, removed: 1, added: [sentence('sleep well')] }
		];
		answers[0]!({ data: { ...state(5), pieces }, response: new Response() });
		expect(await done).toBe(true);
		expect(wording.text(0, 20)).toBe('keep the wick short it burns sleep well');
	});

	it('are sent one correction after another, each on the revision before it', async () => {
		const wording = await loaded();
		const done = [wording.correct(words(0, 0, 'Keep')), wording.undo()];
		await soon();
		expect(sent.map((one) => one.body.on_revision)).toEqual([4]);
		answers[0]!({ data: { ...state(5), pieces: [] }, response: new Response() });
		await soon();
		expect(sent.map((one) => one.body.on_revision)).toEqual([4, 5]);
		answers[1]!({ data: { ...state(4), pieces: [] }, response: new Response() });
		expect(await Promise.all(done)).toEqual([true, true]);
	});

	it('are not read over a correction that is on its way', async () => {
		const wording = await loaded();
		const done = wording.correct(words(0, 0, 'Keep'));
		const read = wording.load();
		await soon();
		whole = { ...state(5), sentences: [sentence('Keep the wick')] };
		answers[0]!({ data: { ...state(5), pieces: [{ at: 0, removed: 1, added: [sentence('Keep the wick')] }] }, response: new Response() });
		await Promise.all([done, read]);
		const next = wording.undo();
		await soon();
		expect(sent[1]!.body.on_revision).toBe(5);
		answers[1]!({ data: { ...state(4), pieces: [] }, response: new Response() });
		expect(await next).toBe(true);
	});

	it('are read anew after a conflict, and the reason is told', async () => {
		const wording = await loaded();
		const done = wording.correct(words(0, 0, 'Keep'));
		await soon();
		whole = { ...state(9), sentences: [sentence('changed elsewhere')] };
		answers[0]!({ error: { detail: 'The words were changed elsewhere.', code: 'stale-transcript' }, response: new Response(null, { status: 409 }) });
		expect(await done).toBe(false);
		expect([wording.text(0, 5), told]).toEqual(['changed elsewhere', ['The words were changed elsewhere.']]);
	});

	it('know the colours of their speakers', async () => {
		const wording = await loaded();
		expect([wording.toneOf('Ada'), wording.toneOf('Nobody')]).toEqual([3, undefined]);
	});
});
