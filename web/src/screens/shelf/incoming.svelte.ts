/** Files on their way in: paired by name, sent so that they can be gone on with, and put on the shelf. They go on while
 * one is in other places. */
import { Upload as Sending } from 'tus-js-client';
import { api, ask, Problem, problemFrom, type Recording, type ShelfRecording, type Upload } from '$api/client';
import { house } from '$api/house.svelte';

const NEITHER = /\.(docx?|odt|pdf|rtf|png|jpe?g|gif|heic|webp|zip|gz|7z|rar|pptx?|xlsx?|exe|m3u8?|mpd)$/i;
const CHUNK = 32 * 1024 * 1024;
const AT_ONCE = 2;

export type Stage = 'waiting' | 'sending' | 'paused' | 'reading' | 'refused' | 'done';

/** The name of a file without its ending, by which a transcript finds its recording. */
export const stemOf = (name: string) => name.replace(/\.[^.]*$/, '').toLowerCase();
export const isTranscript = (name: string) => house.transcripts.some((ending) => name.toLowerCase().endsWith(ending));
export const fingerprintOf = (file: File) => `${file.name}:${file.size}:${file.lastModified}`;

/** Whether sending again may help: where the connection broke or the server was busy, and not where it said no, or is full. */
export const isWorthATry = (status: number) => status === 0 || status === 409 || status === 423 || (status >= 500 && status !== 507);

/** What sends one file: begins, stops, and tells. A test puts its own in. */
export type Sender = (file: File, known: Upload | undefined, tell: SenderTells) => { start: () => void; stop: () => void };
type SenderTells = { sent: (part: number) => void; done: (upload: string) => void; broke: (problem: string) => void };

const byTus: Sender = (file, known, tell) => {
	const sending: Sending = new Sending(file, {
		endpoint: '/api/uploads',
		uploadUrl: known ? `/api/uploads/${known.id}` : null,
		chunkSize: CHUNK,
		retryDelays: [0, 1000, 3000, 6000, 12_000],
		onShouldRetry: (broken) => isWorthATry('originalResponse' in broken ? (broken.originalResponse?.getStatus() ?? 0) : 0),
		storeFingerprintForResuming: false,
		metadata: { filename: file.name, fingerprint: fingerprintOf(file) },
		onProgress: (sent, total) => tell.sent(sent / Math.max(1, total)),
		onSuccess: () => tell.done((sending.url ?? '').split('/').pop() ?? ''),
		onError: (broken) => {
			const answer = 'originalResponse' in broken ? broken.originalResponse : null;
			const told = answer ? problemFrom(answer.getStatus(), readJson(answer.getBody())).message : '';
			tell.broke(told || 'The upload was interrupted. Resume it when the server is back; what was sent is kept.');
		}
	});
	return { start: () => sending.start(), stop: () => void sending.abort() };
};

/** A recording that is coming in. */
export class Coming {
	transcript = $state.raw<File | null>(null);
	/** Why it comes in without a file that had its name; empty where there was none. */
	without = '';
	stage = $state<Stage>('waiting');
	/** How much of both files is sent, 0..1. */
	sent = $state(0);
	problem = $state('');

	#sending: { stop: () => void } | null = null;
	#done = new Map<File, string>();

	constructor(
		readonly media: File,
		readonly series: string,
		readonly sender: Sender
	) {}

	get name(): string {
		return this.media.name;
	}

	pause(): void {
		this.#sending?.stop();
		this.stage = 'paused';
	}

	/** Sends what is not sent yet, the transcript first, and puts the recording on the shelf; null where it was not. */
	async bring(unfinished: Upload[]): Promise<Recording | null> {
		this.problem = '';
		this.stage = 'sending';
		try {
			const words = this.transcript ? await this.#send(this.transcript, unfinished) : null;
			const media = await this.#send(this.media, unfinished);
			this.stage = 'reading';
			const made = await ask(
				api.POST('/api/recordings', {
					body: {
						title: '',
						series: this.series || null,
						recording: { upload: media, name: this.media.name },
						transcript: words && this.transcript ? { upload: words, name: this.transcript.name } : null
					}
				})
			);
			this.stage = 'done';
			return made;
		} catch (refused) {
			if (!(refused instanceof Problem)) throw refused;
			if (refused.code === 'transcript-unreadable' && this.transcript) {
				// A file of the same name may be something else: the recording comes in without it.
				this.transcript = null;
				this.without = refused.message;
				return this.bring(unfinished);
			}
			this.problem = refused.message;
			this.stage = refused.status === 0 ? 'paused' : 'refused';
			return null;
		}
	}

	#send(file: File, unfinished: Upload[]): Promise<string> {
		const known = this.#done.get(file);
		if (known) return Promise.resolve(known);
		return new Promise((resolve, reject) => {
			const sending = this.sender(file, unfinished.find((one) => one.fingerprint === fingerprintOf(file)), {
				sent: (part) => {
					if (file === this.media) this.sent = part;
				},
				done: (upload) => {
					this.#done.set(file, upload);
					resolve(upload);
				},
				broke: (problem) => reject(new Problem(0, 'Away', `${file.name}: ${problem}`))
			});
			this.#sending = sending;
			sending.start();
		});
	}
}

export class Incoming {
	items = $state.raw<Coming[]>([]);
	/** Transcripts that found no recording of their name. */
	loose = $state.raw<File[]>([]);
	/** What the server has part of, and no file here belongs to. */
	unfinished = $state.raw<Upload[]>([]);
	problem = $state('');
	series = $state('');
	/** Told of each recording that has come in. */
	onbrought: (recording: Recording) => void = () => undefined;

	constructor(readonly sender: Sender = byTus) {}

	/** Takes files as they come, in any number and order: pairs them, says which can't be of use, and begins to send. */
	choose(files: Iterable<File>): void {
		this.problem = '';
		const odd: string[] = [];
		const loose = [...this.loose];
		for (const file of files) {
			if (isTranscript(file.name)) loose.push(file);
			else if (NEITHER.test(file.name)) odd.push(file.name);
			else this.items = [...this.items, new Coming(file, this.series.trim(), this.sender)];
		}
		if (odd.length) this.problem = `${odd.join(', ')}: neither a recording nor a transcript that can be read.`;
		this.loose = this.#paired(loose);
		void this.#go();
	}

	/** Gives loose transcripts to recordings of the same name on the shelf, or to the one a person names. */
	async attach(file: File, to: ShelfRecording | Coming): Promise<void> {
		if (to instanceof Coming) {
			to.transcript = file;
			this.loose = this.loose.filter((one) => one !== file);
			if (to.stage === 'refused') void this.#bring(to);
			return;
		}
		await attachTranscript(file, to.id, this.sender);
		this.loose = this.loose.filter((one) => one !== file);
	}

	dropLoose(file: File): void {
		this.loose = this.loose.filter((one) => one !== file);
	}

	goOn(item: Coming): void {
		void this.#bring(item);
	}

	drop(item: Coming): void {
		item.pause();
		this.items = this.items.filter((one) => one !== item);
		void this.#go();
	}

	/** Asks what the server has part of. */
	async look(): Promise<void> {
		const here = await ask(api.GET('/api/uploads'));
		const mine = new Set(this.items.flatMap((one) => [one.media, ...(one.transcript ? [one.transcript] : [])].map(fingerprintOf)));
		this.unfinished = here.filter((one) => !mine.has(one.fingerprint));
	}

	async forget(upload: Upload): Promise<void> {
		await ask(api.DELETE('/api/uploads/{upload_id}', { params: { path: { upload_id: upload.id } } }));
		await this.look();
	}

	#paired(transcripts: File[]): File[] {
		return transcripts.filter((file) => {
			const waiting = this.items.filter((one) => !one.transcript && one.stage !== 'done');
			const own = waiting.find((one) => stemOf(one.media.name) === stemOf(file.name).replace(/\.[a-z]{2,3}$/, ''));
			const same = own ?? waiting.find((one) => stemOf(one.media.name) === stemOf(file.name));
			const only = waiting.length === 1 && transcripts.length === 1 ? waiting[0] : undefined;
			const to = same ?? only;
			if (!to || to.stage === 'reading') return true;
			to.transcript = file;
			return false;
		});
	}

	async #go(): Promise<void> {
		// After the pairing of all that was chosen together.
		await Promise.resolve();
		const busy = this.items.filter((one) => one.stage === 'sending' || one.stage === 'reading').length;
		const next = this.items.filter((one) => one.stage === 'waiting').slice(0, Math.max(0, AT_ONCE - busy));
		for (const item of next) void this.#bring(item);
	}

	async #bring(item: Coming): Promise<void> {
		item.stage = 'sending';
		const unfinished = await ask(api.GET('/api/uploads')).catch(() => []);
		this.unfinished = this.unfinished.filter((one) => one.fingerprint !== fingerprintOf(item.media));
		const made = await item.bring(unfinished);
		if (made) {
			this.items = this.items.filter((one) => one !== item);
			if (item.without) house.tell('bad', `“${made.title}” is on the shelf without a transcript. ${item.without}`);
			this.onbrought(made);
		}
		void this.#go();
	}
}

/** Sends one file by itself; the id of its upload. */
export function sendWhole(file: File, sender: Sender = byTus): Promise<string> {
	return new Promise((resolve, reject) => {
		const tell = {
			sent: () => undefined,
			done: resolve,
			broke: (problem: string) => reject(new Problem(0, 'Away', `${file.name}: ${problem}`))
		};
		sender(file, undefined, tell).start();
	});
}

/** Attaches a transcript to a recording; where corrections would be lost, the refusal is told with a way to do it still. */
export async function attachTranscript(file: File, recordingId: number, sender: Sender = byTus, encoding?: string): Promise<Recording> {
	const upload = await sendWhole(file, sender);
	const attach = (losing: boolean) =>
		ask(
			api.POST('/api/recordings/{recording_id}/transcript', {
				params: { path: { recording_id: recordingId } },
				body: { upload, name: file.name, losing_corrections: losing, encoding: encoding || null }
			})
		);
	try {
		return await attach(false);
	} catch (refused) {
		if (!(refused instanceof Problem) || refused.code !== 'would-lose-corrections') throw refused;
		house.tell('bad', refused.message, { name: 'Replace them', run: () => void house.trying(() => attach(true)) });
		throw new Problem(409, 'told', '');
	}
}

function readJson(text: string): unknown {
	try {
		return JSON.parse(text);
	} catch {
		return {};
	}
}

export const incoming = new Incoming();
