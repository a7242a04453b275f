import { beforeEach, describe, expect, it, vi } from 'vitest';
import { fingerprintOf, Incoming, isTranscript, isWorthATry, stemOf, type Sender } from './incoming.svelte';

const file = (name: string) => new File(['x'], name, { lastModified: 5 });

/** A sender that ends as the test says, and remembers what it was given. */
class Sent {
	begun: { name: string; from: number }[] = [];
	stopped: string[] = [];
	breaks = new Set<string>();
	holds = new Set<string>();

	send: Sender = (one, known, tell) => ({
		start: () => {
			this.begun.push({ name: one.name, from: known?.offset ?? 0 });
			tell.sent(0.5);
			if (this.breaks.delete(one.name)) tell.broke('The upload was interrupted.');
			else if (!this.holds.has(one.name)) tell.done(`upload-of-${one.name}`);
		},
		stop: () => void this.stopped.push(one.name)
	});
}

type Answer = { status: number; body: unknown };
const told: string[] = [];

/** What the server answers, by method and path, and what it was server.asked. */
const server = vi.hoisted(() => ({
	answers: {} as Record<string, Answer | ((body: never) => Answer)>,
	asked: [] as { path: string; body: unknown }[],
	call: (method: string) => async (path: string, options?: { body?: unknown }) => {
		server.asked.push({ path, body: options?.body ?? null });
		const answer = server.answers[`${method} ${path}`] ?? { status: 404, body: { detail: 'nothing there' } };
		const { status, body } = typeof answer === 'function' ? answer((options?.body ?? {}) as never) : answer;
		return { data: status < 400 ? body : undefined, error: status < 400 ? undefined : body, response: { status } };
	}
}));
vi.mock('$api/client', async (original) => ({
	...(await original<typeof import('$api/client')>()),
	api: { GET: server.call('GET'), POST: server.call('POST'), DELETE: server.call('DELETE') }
}));

vi.mock('$api/house.svelte', () => ({ house: { transcripts: ['.json', '.sbv', '.srt', '.txt', '.vtt'], tell: (_: string, says: string) => told.push(says) } }));

beforeEach(() => {
	told.length = 0;
	server.asked = [];
	server.answers = {
		'GET /api/uploads': { status: 200, body: [] },
		'POST /api/recordings': { status: 201, body: { id: 1, title: 'Talk', words: 3 } }
	};
});

const settled = () => new Promise((done) => setTimeout(done, 30));

describe('sending again', () => {
	it('is tried where it may help, and not where the disk is full or the file is refused', () => {
		expect([0, 409, 423, 500, 503].every(isWorthATry)).toBe(true);
		expect([400, 403, 404, 413, 422, 507].some(isWorthATry)).toBe(false);
	});
});

describe('names', () => {
	it('tell a transcript from a recording, and which belong together', () => {
		expect(['a.VTT', 'a.sbv', 'a.json', 'a.mp4', 'a.wav'].map(isTranscript)).toEqual([true, true, true, false, false]);
		expect(stemOf('My.Talk.MP4')).toBe('my.talk');
	});
});

describe('bringing in', () => {
	it('pairs files by name whatever their order, and sends the transcript first', async () => {
		const sent = new Sent();
		const incoming = new Incoming(sent.send);
		const brought: string[] = [];
		incoming.onbrought = (made) => void brought.push(made.title);
		incoming.choose([file('b.vtt'), file('a.mp4'), file('b.mkv'), file('a.srt')]);
		await settled();
		expect(sent.begun.map((one) => one.name)).toEqual(['a.srt', 'b.vtt', 'a.mp4', 'b.mkv']);
		const bodies = server.asked.filter((one) => one.path === '/api/recordings').map((one) => one.body);
		expect(bodies).toContainEqual({
			title: '', series: null,
			recording: { upload: 'upload-of-a.mp4', name: 'a.mp4' }, transcript: { upload: 'upload-of-a.srt', name: 'a.srt' }
		});
		expect([brought, incoming.items]).toEqual([['Talk', 'Talk'], []]);
	});

	it('says what is neither, and keeps a transcript that found no recording', () => {
		const incoming = new Incoming(new Sent().send);
		incoming.choose([file('slides.pdf'), file('other.vtt')]);
		expect(incoming.problem).toBe('slides.pdf: neither a recording nor a transcript that can be read.');
		expect([incoming.loose.map((one) => one.name), incoming.items]).toEqual([['other.vtt'], []]);
	});

	it('goes on where the server is, for a file that it has part of', async () => {
		const half = file('long.mp4');
		server.answers['GET /api/uploads'] = {
			status: 200, body: [{ id: 'u', name: 'long.mp4', length: 10, offset: 6, fingerprint: fingerprintOf(half) }]
		};
		const sent = new Sent();
		const incoming = new Incoming(sent.send);
		await incoming.look();
		expect(incoming.unfinished.map((one) => one.name)).toEqual(['long.mp4']);
		incoming.choose([half]);
		await settled();
		expect(sent.begun).toEqual([{ name: 'long.mp4', from: 6 }]);
		expect(incoming.unfinished).toEqual([]);
	});

	it('pauses what broke off, and sends only what is not there when it goes on', async () => {
		const sent = new Sent();
		sent.breaks.add('a.mp4');
		const incoming = new Incoming(sent.send);
		incoming.choose([file('a.mp4'), file('a.vtt')]);
		await settled();
		const [item] = incoming.items;
		expect([item!.stage, item!.problem]).toEqual(['paused', 'a.mp4: The upload was interrupted.']);
		incoming.goOn(item!);
		await settled();
		expect(sent.begun.map((one) => one.name)).toEqual(['a.vtt', 'a.mp4', 'a.mp4']);
		expect(incoming.items).toEqual([]);
	});

	it('brings a recording in without a file of its name that is no transcript, and says so', async () => {
		server.answers['POST /api/recordings'] = (body: { transcript: unknown }) =>
			body.transcript
				? { status: 422, body: { detail: 'a.vtt: no cue was found.', code: 'transcript-unreadable' } }
				: { status: 201, body: { id: 2, title: 'A', words: 0 } };
		const incoming = new Incoming(new Sent().send);
		incoming.choose([file('a.mp4'), file('a.vtt')]);
		await settled();
		expect(server.asked.at(-1)!.body).toMatchObject({ transcript: null });
		expect(incoming.items).toEqual([]);
		expect(told).toEqual(['“A” is on the shelf without a transcript. a.vtt: no cue was found.']);
	});

	it('sends two at a time, and stops the one that is paused', async () => {
		const sent = new Sent();
		for (const name of ['a.mp4', 'b.mp4', 'c.mp4']) sent.holds.add(name);
		const incoming = new Incoming(sent.send);
		incoming.choose([file('a.mp4'), file('b.mp4'), file('c.mp4')]);
		await settled();
		expect(incoming.items.map((one) => one.stage)).toEqual(['sending', 'sending', 'waiting']);
		incoming.items[0]!.pause();
		expect(sent.stopped).toEqual(['a.mp4']);
		incoming.drop(incoming.items[0]!);
		await settled();
		expect(incoming.items.map((one) => [one.name, one.stage])).toEqual([['b.mp4', 'sending'], ['c.mp4', 'sending']]);
	});
});
