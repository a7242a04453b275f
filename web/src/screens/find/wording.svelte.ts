/** The words of a talk as a person corrects them: sent one after another, each on the revision that the last one gave. */
import { api, ask, Problem, type Corrected, type Correction, type Sentence, type Speaker, type Transcript } from '$api/client';
import { house } from '$api/house.svelte';
import { doubtful, readTalk, type Talk } from '$page/talk';

export class Wording {
	talk = $state.raw<Talk | null>(null);
	speakers = $state.raw<Speaker[]>([]);
	undoSaid = $state<string | null>(null);
	redoSaid = $state<string | null>(null);
	doubts = $derived(this.talk ? doubtful(this.talk) : []);
	/** Words whose time is only estimated from the text. */
	rough = $derived(this.talk ? this.talk.timing.split('e').length - 1 : 0);

	#sentences: Sentence[] = [];
	#revision = 0;
	#line: Promise<unknown> = Promise.resolve();

	constructor(readonly recordingId: number) {}

	/** Reads the words anew, between corrections: what was read while one was on its way would be older than its answer. */
	load(): Promise<void> {
		const turn = this.#line.then(() => this.#read());
		this.#line = turn.catch(() => undefined);
		return turn;
	}

	correct(correction: Correction): Promise<boolean> {
		return this.#inLine(() =>
			ask(
				api.POST('/api/recordings/{recording_id}/corrections', {
					params: this.#params,
					body: { on_revision: this.#revision, correction }
				})
			)
		);
	}

	undo(): Promise<boolean> {
		const body = () => ({ on_revision: this.#revision });
		return this.#inLine(() =>
			ask(api.POST('/api/recordings/{recording_id}/corrections/undo', { params: this.#params, body: body() }))
		);
	}

	redo(): Promise<boolean> {
		const body = () => ({ on_revision: this.#revision });
		return this.#inLine(() =>
			ask(api.POST('/api/recordings/{recording_id}/corrections/redo', { params: this.#params, body: body() }))
		);
	}

	toneOf = (speaker: string): number | undefined => this.speakers.find((one) => one.name === speaker)?.colour;

	/** The text of some words. */
	text(first: number, last: number): string {
		return this.talk?.texts.slice(first, last + 1).join(' ') ?? '';
	}

	get #params() {
		return { path: { recording_id: this.recordingId } };
	}

	#inLine(send: () => Promise<Corrected>): Promise<boolean> {
		const turn = this.#line.then(async () => {
			house.saving += 1;
			try {
				this.#apply(await send());
				return true;
			} catch (refused) {
				if (!(refused instanceof Problem)) throw refused;
				house.tell('bad', refused.message);
				if (refused.status === 409) await this.#read().catch(() => undefined);
				return false;
			} finally {
				house.saving -= 1;
			}
		});
		this.#line = turn.catch(() => undefined);
		return turn;
	}

	async #read(): Promise<void> {
		this.#take(await ask(api.GET('/api/recordings/{recording_id}/transcript', { params: this.#params })));
	}

	#take(transcript: Transcript): void {
		this.#sentences = transcript.sentences;
		this.#told(transcript);
	}

	#apply(corrected: Corrected): void {
		const sentences = [...this.#sentences];
		for (const piece of [...corrected.pieces].reverse()) sentences.splice(piece.at, piece.removed, ...piece.added);
		this.#sentences = sentences;
		this.#told(corrected);
	}

	#told(state: { revision: number; undo_said: string | null; redo_said: string | null; speakers: Speaker[] }): void {
		this.#revision = state.revision;
		this.undoSaid = state.undo_said;
		this.redoSaid = state.redo_said;
		this.speakers = state.speakers;
		this.talk = readTalk(this.#sentences);
	}
}
