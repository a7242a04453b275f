/** One recording being read: its words, its sound, its player, what is searched and chosen in it. */
import { api, ask, isLive, mediaUrl, type Gauge, type MarkedWords, type Picture, type QuoteBrief, type Recording } from '$api/client';
import { house } from '$api/house.svelte';
import { WordSelection } from '$page/selection.svelte';
import { wordAt, type Talk } from '$page/talk';
import { Player } from '$player/player.svelte';
import { wholeTalk } from '$player/stretches';
import { Bites } from './bites.svelte';
import { Wording } from './wording.svelte';

/** How near to the playhead a cut is for it to be meant. */
const NEAR_MS = 120;

/** A stretch of words that answers the search, by first and last word. */
export type Mark = { first: number; last: number; atMs: number };

export class Finding {
	recording = $state.raw<Recording | null>(null);
	/** Which of the tabs beside the page is open; undo acts on what it shows. */
	tab = $state<'bites' | 'quotes' | 'words' | 'shots'>('bites');
	picture = $state.raw<Picture | null>(null);
	peaks = $state.raw<Uint8Array | null>(null);
	marks = $state.raw<Mark[]>([]);
	marked = $state.raw<Set<number>>(new Set());
	markAt = $state(0);
	/** What is to be said of the search. */
	notes = $state.raw<string[]>([]);
	searched = $state('');
	gauges = $state.raw<Gauge[]>([]);
	lengthMs = $state<number | null>(null);
	readonly selection = new WordSelection();
	readonly player: Player;
	readonly wording: Wording;
	readonly bites: Bites;
	/** The cut at the playhead, where there is one. */
	cutHere = $derived.by(() => {
		const near = this.picture?.shots.slice(1).map((one) => one.span.start_ms).filter((at) => Math.abs(at - this.player.sourceMs) <= NEAR_MS);
		return near?.length ? near[0]! : null;
	});

	#did: { quote: QuoteBrief; removed: boolean }[] = [];
	#undid: { quote: QuoteBrief; removed: boolean }[] = [];
	#measured = '';
	#wanted = '';
	#asking: Promise<unknown> = Promise.resolve();

	constructor(readonly id: number) {
		this.player = new Player(mediaUrl(id));
		this.wording = new Wording(id);
		this.bites = new Bites(id, () => this.refresh());
	}

	get talk(): Talk | null {
		return this.wording.talk;
	}

	get spoken(): number {
		return this.talk ? wordAt(this.talk, this.player.sourceMs + 20) : -1;
	}

	async load(): Promise<void> {
		const params = { path: { recording_id: this.id } };
		const [recording] = await Promise.all([
			ask(api.GET('/api/recordings/{recording_id}', { params })),
			this.wording.load()
		]);
		this.recording = recording;
		this.player.set(wholeTalk(recording.duration_ms));
		await Promise.all([this.loadPeaks(), this.loadPicture(), ...(recording.words ? [this.bites.load()] : [])]);
	}

	/** Reads again what may have changed, and of what work has ended since, what it made. */
	async refresh(): Promise<void> {
		const before = this.recording;
		if (!before) return;
		const now = await ask(api.GET('/api/recordings/{recording_id}', { params: { path: { recording_id: this.id } } }));
		this.recording = now;
		const ended = (kind: string) =>
			before.work.some((one) => one.kind === kind && isLive(one) && now.work.some((other) => other.id === one.id && !isLive(other)));
		if (!this.peaks) await this.loadPeaks();
		if (ended('prepare')) await Promise.all([this.loadPeaks(), this.loadPicture(), this.bites.load()]);
		if (ended('align') || ended('transcribe') || now.words !== before.words) await Promise.all([this.wording.load(), this.bites.load()]);
	}

	async loadPicture(): Promise<void> {
		if (!this.recording?.width) return;
		this.picture = await ask(api.GET('/api/recordings/{recording_id}/picture', { params: { path: { recording_id: this.id } } }));
	}

	/** Sets a cut at the playhead, or takes the one there away. */
	async turnCut(): Promise<void> {
		const at = this.cutHere;
		const body = at === null ? { at_ms: Math.round(this.player.sourceMs), there: true } : { at_ms: at, there: false };
		const params = { path: { recording_id: this.id } };
		await house.trying(async () => (this.picture = await ask(api.POST('/api/recordings/{recording_id}/cuts', { params, body }))));
	}

	/** Says who a face is; without a name it is again whom words and faces agree on. */
	async nameFace(subject: number, name: string | null): Promise<void> {
		const params = { path: { recording_id: this.id, subject } };
		await house.trying(async () => {
			this.picture = await ask(api.POST('/api/recordings/{recording_id}/subjects/{subject}/name', { params, body: { name } }));
		});
	}

	/** What a face is called. */
	faceName(subject: number): string {
		return this.picture?.names.find((one) => one.subject === subject)?.name ?? `Face ${subject + 1}`;
	}

	/** The next doubtful word after the playhead or selection, or the one before. */
	nextDoubt(step: number): number | undefined {
		const at = this.selection.focus ?? this.spoken;
		const { doubts } = this.wording;
		return step > 0 ? (doubts.find((word) => word > at) ?? doubts[0]) : (doubts.findLast((word) => word < at) ?? doubts.at(-1));
	}

	/** Looks for what is typed, at each letter. While one search is on its way only the newest waits; gives whether this
	 * one was answered. */
	async search(typed: string): Promise<boolean> {
		this.#wanted = typed;
		await this.#asking;
		if (typed !== this.#wanted) return false;
		if (!typed.trim()) {
			this.#found('', [], []);
			return true;
		}
		const params = { path: { recording_id: this.id }, query: { q: typed } };
		const asked = ask(api.GET('/api/recordings/{recording_id}/search', { params }));
		this.#asking = asked.catch(() => undefined);
		const found = await asked;
		if (typed !== this.#wanted) return false;
		this.#found(typed, found.marks, found.notes);
		return true;
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
		if (this.tab === 'words') return void (await this.wording.undo());
		if (this.tab === 'bites' && (await this.bites.undo())) return;
		const last = this.#did.pop();
		if (!last) return;
		this.#undid.push(last);
		await house.trying(() => this.#setRemoved(last.quote, !last.removed));
	}

	/** Does again what was taken back last. */
	async redo(): Promise<void> {
		if (this.tab === 'words') return void (await this.wording.redo());
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

	#found(typed: string, found: MarkedWords[], notes: string[]): void {
		const marks = found.map(({ first, last, start_ms }) => ({ first, last, atMs: this.talk?.startsMs[first] ?? start_ms }));
		const marked = new Set<number>();
		for (const { first, last } of marks) for (let word = first; word <= last; word++) marked.add(word);
		this.searched = typed;
		this.marks = marks;
		this.marked = marked;
		this.notes = notes;
		const next = marks.findIndex((mark) => mark.atMs >= this.player.sourceMs - 100);
		this.markAt = Math.max(0, next);
	}
}
