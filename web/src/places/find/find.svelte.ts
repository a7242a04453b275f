/** One recording being read: its words, its sound, its player, what is searched and chosen in it. */
import { api, ask, mediaUrl, type Gauge, type Hit, type QuoteBrief, type Recording } from '$api/client';
import { house } from '$api/house.svelte';
import { WordSelection } from '$page/selection.svelte';
import { readTalk, wordAt, type Talk } from '$page/talk';
import { Player } from '$player/player.svelte';
import { wholeTalk } from '$player/stretches';

/** A stretch of words that answers the search, by first and last word. */
export type Mark = { first: number; last: number; atMs: number };

export class Finding {
	recording = $state.raw<Recording | null>(null);
	talk = $state.raw<Talk | null>(null);
	peaks = $state.raw<Uint8Array | null>(null);
	marks = $state.raw<Mark[]>([]);
	marked = $state.raw<Set<number>>(new Set());
	markAt = $state(0);
	note = $state<string | null>(null);
	searched = $state('');
	gauges = $state.raw<Gauge[]>([]);
	lengthMs = $state<number | null>(null);
	readonly selection = new WordSelection();
	readonly player: Player;

	#did: { quote: QuoteBrief; removed: boolean }[] = [];
	#undid: { quote: QuoteBrief; removed: boolean }[] = [];
	#measured = '';
	#asking = 0;

	constructor(readonly id: number) {
		this.player = new Player(mediaUrl(id));
	}

	get spoken(): number {
		return this.talk ? wordAt(this.talk, this.player.sourceMs + 20) : -1;
	}

	async load(): Promise<void> {
		const params = { path: { recording_id: this.id } };
		const [recording, transcript] = await Promise.all([
			ask(api.GET('/api/recordings/{recording_id}', { params })),
			ask(api.GET('/api/recordings/{recording_id}/transcript', { params }))
		]);
		this.recording = recording;
		this.talk = readTalk(transcript);
		this.player.set(wholeTalk(recording.duration_ms));
		await this.loadPeaks();
	}

	async refresh(): Promise<void> {
		if (!this.recording) return;
		const wasReady = this.recording.state === 'ready';
		this.recording = await ask(
			api.GET('/api/recordings/{recording_id}', { params: { path: { recording_id: this.id } } })
		);
		if (!wasReady && !this.peaks) await this.loadPeaks();
	}

	async search(typed: string): Promise<void> {
		const asking = ++this.#asking;
		if (!typed.trim()) {
			this.#found('', [], null);
			return;
		}
		const found = await ask(api.GET('/api/search', { params: { query: { q: typed, recording: this.id } } }));
		if (asking === this.#asking) this.#found(typed, found.hits, found.note);
	}

	/** Goes to the next hit or the one before, and gives it. */
	nextMark(step: number): Mark | undefined {
		const count = this.marks.length;
		if (!count) return undefined;
		this.markAt = (this.markAt + step + count) % count;
		return this.marks[this.markAt];
	}

	/** Asks what the selection would be as a quote; answers that come too late are dropped. */
	async measure(): Promise<void> {
		const range = this.selection.range;
		if (!range) {
			this.lengthMs = null;
			this.#measured = '';
			return;
		}
		const wanted = `${range.first}-${range.last}`;
		if (wanted === this.#measured) return;
		this.#measured = wanted;
		const measured = await ask(
			api.POST('/api/recordings/{recording_id}/selection', { params: { path: { recording_id: this.id } }, body: range })
		);
		if (this.#measured !== wanted) return;
		this.gauges = measured.gauges;
		this.lengthMs = measured.length_ms;
	}

	/** Keeps the selection as a quote. */
	async keep(): Promise<QuoteBrief | undefined> {
		const range = this.selection.range;
		if (!range) {
			house.tell('bad', 'Select some words first: drag over them, or hold Shift and press the arrow keys.');
			return undefined;
		}
		const kept = await ask(
			api.POST('/api/recordings/{recording_id}/quotes', { params: { path: { recording_id: this.id } }, body: range })
		);
		this.selection.clear();
		this.#done({ quote: kept, removed: false });
		await this.refresh();
		return kept;
	}

	async remove(quote: QuoteBrief): Promise<void> {
		await this.#setRemoved(quote, true);
		this.#done({ quote, removed: true });
		house.tell('good', `“${quote.title}” was removed from the list.`, { name: 'Undo', run: () => void this.undo() });
	}

	/** Takes the last keeping or removing back. */
	async undo(): Promise<void> {
		const last = this.#did.pop();
		if (!last) return;
		this.#undid.push(last);
		await house.trying(() => this.#setRemoved(last.quote, !last.removed));
	}

	/** Does again what was taken back last. */
	async redo(): Promise<void> {
		const last = this.#undid.pop();
		if (!last) return;
		this.#did.push(last);
		await house.trying(() => this.#setRemoved(last.quote, last.removed));
	}

	/** The quote that was kept last, to go on with. */
	get lastKept(): QuoteBrief | undefined {
		return this.#did.findLast((one) => !one.removed)?.quote ?? this.recording?.quotes.at(-1);
	}

	#done(change: { quote: QuoteBrief; removed: boolean }): void {
		this.#did.push(change);
		this.#undid = [];
	}

	async #setRemoved(quote: QuoteBrief, removed: boolean): Promise<void> {
		const params = { path: { quote_id: quote.id } };
		if (removed) await ask(api.POST('/api/quotes/{quote_id}/remove', { params }));
		else await ask(api.POST('/api/quotes/{quote_id}/restore', { params }));
		await this.refresh();
	}

	async loadPeaks(): Promise<void> {
		const answer = await fetch(`/api/recordings/${this.id}/peaks`);
		if (answer.ok) this.peaks = new Uint8Array(await answer.arrayBuffer());
	}

	#found(typed: string, hits: Hit[], note: string | null): void {
		const marks: Mark[] = [];
		const marked = new Set<number>();
		for (const hit of hits) {
			for (const mark of hit.marks) {
				const first = hit.first_word + mark.first;
				const last = hit.first_word + mark.end - 1;
				marks.push({ first, last, atMs: this.talk?.startsMs[first] ?? hit.start_ms });
				for (let word = first; word <= last; word++) marked.add(word);
			}
		}
		this.searched = typed;
		this.marks = marks;
		this.marked = marked;
		this.note = note;
		const next = marks.findIndex((mark) => mark.atMs >= this.player.sourceMs - 100);
		this.markAt = Math.max(0, next);
	}
}
