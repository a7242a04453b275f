/** Searching all talks: what was asked, what answers, and which searches are kept. */
import { api, ask, type Passage, type SearchAnswer, type SearchChoices } from '$api/client';
import { house } from '$api/house.svelte';
import { Sequence, stretch } from '$player/sequence.svelte';

/** Heard before the first word and after the last. */
const AIR_MS = 120;
const FIRST_COUNT = 20;

export const nameOf = (passage: Passage) => `${passage.recording_id}-${passage.first_word}`;

export class Searching {
	answer = $state.raw<SearchAnswer | null>(null);
	choices = $state.raw<SearchChoices | null>(null);
	order = $state<'best' | 'newest'>('best');
	/** So many passages are asked for. */
	count = $state(FIRST_COUNT);
	/** The passage that keys act on. */
	at = $state(0);
	/** Passages kept since they were found, by name: the quote's number. */
	kept = $state.raw<Map<string, number>>(new Map());
	readonly sequence = new Sequence();

	#asking = 0;

	get passages(): Passage[] {
		return this.answer?.passages ?? [];
	}

	async load(): Promise<void> {
		this.choices = await ask(api.GET('/api/searches'));
	}

	/** Asks something new. */
	async begin(typed: string): Promise<void> {
		this.count = FIRST_COUNT;
		this.at = 0;
		this.kept = new Map();
		await this.ask(typed);
	}

	async more(typed: string): Promise<void> {
		this.count = 100;
		await this.ask(typed);
	}

	async ask(typed: string): Promise<void> {
		const asking = ++this.#asking;
		this.sequence.stop();
		if (!typed.trim()) {
			this.answer = null;
			return;
		}
		const found = await ask(api.GET('/api/search', { params: { query: { q: typed, order: this.order, count: this.count } } }));
		if (asking !== this.#asking) return;
		this.answer = found;
		this.at = Math.max(0, Math.min(this.at, found.passages.length - 1));
		if (!found.passages.length) return;
		await ask(api.POST('/api/searches', { body: { typed } }));
		await this.load();
	}

	play(passage: Passage): void {
		const startMs = Math.max(0, passage.start_ms - AIR_MS);
		this.sequence.toggle({ id: nameOf(passage), recordingId: passage.recording_id, stretches: stretch(startMs, passage.end_ms + AIR_MS) });
	}

	/** Keeps a passage as a quote; its number. */
	async keep(passage: Passage): Promise<number> {
		const there = this.kept.get(nameOf(passage));
		if (there !== undefined) return there;
		const quote = await ask(
			api.POST('/api/recordings/{recording_id}/quotes', {
				params: { path: { recording_id: passage.recording_id } },
				body: { first: passage.first_word, last: passage.last_word }
			})
		);
		this.kept = new Map([...this.kept, [nameOf(passage), quote.id]]);
		return quote.id;
	}

	isSaved(typed: string): boolean {
		return this.choices?.saved.includes(typed) ?? false;
	}

	async setSaved(typed: string, saved: boolean): Promise<void> {
		await house.trying(async () => {
			if (saved) await ask(api.POST('/api/searches/save', { body: { typed } }));
			else await ask(api.POST('/api/searches/forget', { body: { typed } }));
			await this.load();
		});
	}
}
