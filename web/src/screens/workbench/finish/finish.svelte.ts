/** What stands over the picture of a quote: the thing in hand, where each stands on the page, and what a person does to them. */
import { api, ask, type Edit, type Finding, type Overlay, type Shows, type What } from '$api/client';
import { house } from '$api/house.svelte';
import { windowAt } from '$player/layers/panels';
import { runAt } from '$player/layers/picture';
import { fractionOf, frameAt, outAtSource } from '$player/stretches';
import type { Bench } from '../bench.svelte';
import type { Addable } from './items';

type Placed = NonNullable<NonNullable<Bench['version']>['assembly']['overlays']>[number];
type Point = { x: number; y: number };
/** Some of what a thing is. Of its look only what is told is changed; `undefined` is as the captions' again, no look at all is so too. */
export type Change = Record<string, unknown> & { look?: Record<string, unknown> | null };
/** A sentence of the cut: its words, and when in the clip it is said. */
export type Row = { words: { index: number; text: string }[]; fromMs: number; toMs: number };

/** What a finish has is numbered from here on. */
const FROM_FINISH = 1000;
export const ofFinish = (one: Overlay): boolean => one.id > FROM_FINISH;

export class Finish {
	/** The number of the thing in hand. */
	hand = $state<number | null>(null);
	/** What was added last, until it is known where it is to be seen. */
	added = $state<number | null>(null);
	/** Whether the next drag on the picture draws the mark in hand anew. */
	drawing = $state(false);

	constructor(readonly bench: Bench) {}

	/** What stands over the picture: what the finish has, and what the quote has of its own. */
	overlays = $derived.by((): Overlay[] => this.bench.quote?.overlays ?? []);
	one = $derived.by((): Overlay | null => this.overlays.find((one) => one.id === this.hand) ?? null);
	shape = $derived.by(() => this.bench.version?.assembly.destination.shape ?? '');
	problems = $derived.by((): Finding[] => this.bench.findingsOf(this.bench.shown).filter((one) => one.step === 'finish'));

	problemsOf(id: number): Finding[] {
		return this.problems.filter((one) => one.overlay === id);
	}

	placedOf(id: number): Placed[] {
		return (this.bench.version?.assembly.overlays ?? []).filter((one) => one.item === id);
	}

	msOf = (frame: number): number => (frame * 1000) / fractionOf(this.bench.version!.assembly.rate);

	/** When a thing shows, in ms of the clip; null where it sleeps, or is hidden. */
	timeOf(id: number): { fromMs: number; toMs: number } | null {
		const parts = this.placedOf(id);
		if (!parts.length) return null;
		return { fromMs: this.msOf(Math.min(...parts.map((one) => one.first_frame))), toMs: this.msOf(Math.max(...parts.map((one) => one.end_frame))) };
	}

	/** The kept words by sentence. */
	rows = $derived.by((): Row[] => {
		const { talk, cut } = this.bench;
		if (!talk || !cut) return [];
		const { version } = this.bench;
		const at = (ms: number) => (version ? outAtSource(version.assembly, ms) : 0);
		const rows: (Row & { sentence: number })[] = [];
		for (const index of cut.kept_words) {
			const sentence = talk.sentenceOf[index] ?? 0;
			const word = { index, text: talk.texts[index]! };
			const last = rows.at(-1);
			if (last?.sentence === sentence) {
				last.words.push(word);
				last.toMs = at(talk.endsMs[index]!);
			} else rows.push({ sentence, words: [word], fromMs: at(talk.startsMs[index]!), toMs: at(talk.endsMs[index]!) });
		}
		return rows;
	});

	/** The words that a thing shows with. */
	wordsOf(id: number): { first: number; last: number } | null {
		return this.bench.quote?.overlay_words?.find((one) => one.id === id) ?? null;
	}

	/** When a thing shows, as edits say it. */
	showsOf(one: Overlay): Shows {
		const words = this.wordsOf(one.id);
		const { kind, offset_ms, length_ms } = one.when;
		return kind === 'words' && words ? { kind, offset_ms, length_ms, first: words.first, last: words.last } : { kind, offset_ms, length_ms };
	}

	/** Adds a thing: with the selected words, where some are selected; and takes it in hand. */
	async add(one: Addable, asset = 0): Promise<void> {
		const range = this.bench.selection.range;
		const shows: Shows = range && one.shows.kind !== 'whole' ? { kind: 'words', offset_ms: 0, first: range.first, last: range.last } : one.shows;
		const before = new Set(this.overlays.map((other) => other.id));
		if (!(await this.bench.edit({ kind: 'add-overlay', what: one.what(asset), shows, wish: one.wish ?? null }))) return;
		this.hand = this.overlays.find((other) => !before.has(other.id))?.id ?? null;
		this.added = this.hand;
		this.bench.selection.clear();
	}

	/** Changes some of what a thing is. It is made of what that is when its turn comes: two quick changes never undo each other. */
	change(id: number, change: Change): Promise<boolean> {
		return this.bench.edit(() => this.#changed(id, change));
	}

	tryOut(id: number, change: Change): void {
		const edit = this.#changed(id, change);
		if (edit) this.bench.try(edit);
	}

	#changed(id: number, change: Change): Edit | null {
		const now = this.overlays.find((one) => one.id === id)?.what;
		if (!now) return null;
		const look = 'look' in now ? { look: change.look === null ? {} : without({ ...now.look, ...change.look }) } : {};
		return { kind: 'change-overlay', id, what: { ...now, ...change, ...look } as What };
	}

	time(id: number, change: Partial<Shows>): Promise<boolean> {
		return this.bench.edit(() => {
			const one = this.overlays.find((other) => other.id === id);
			return one ? { kind: 'time-overlay', id, shows: { ...this.showsOf(one), ...change } } : null;
		});
	}

	/** Has the thing in hand show with the selected words. */
	withSelected(): void {
		const range = this.bench.selection.range;
		if (this.hand !== null && range) void this.time(this.hand, { kind: 'words', first: range.first, last: range.last, length_ms: null, offset_ms: 0 });
	}

	/** Where the box of a thing is in the version on the stage, all its parts together. */
	boxOf(id: number): { x: number; y: number; width: number; height: number } | null {
		const areas = this.placedOf(id).map((one) => one.area);
		if (!areas.length) return null;
		const x = Math.min(...areas.map((one) => one.x));
		const y = Math.min(...areas.map((one) => one.y));
		return { x, y, width: Math.max(...areas.map((one) => one.x + one.width)) - x, height: Math.max(...areas.map((one) => one.y + one.height)) - y };
	}

	/** The edit that has the middle of the thing in hand stand somewhere in this shape, inside the picture. */
	placing(at: Point): Edit {
		const inside = (value: number) => Math.min(1, Math.max(0, value));
		return { kind: 'place-overlay', id: this.hand!, shape: this.shape, at: { x: inside(at.x), y: inside(at.y) } };
	}

	nudge(dx: number, dy: number): void {
		const box = this.hand === null ? null : this.boxOf(this.hand);
		if (box) void this.bench.edit(this.placing({ x: box.x + box.width / 2 + dx, y: box.y + box.height / 2 + dy }));
	}

	/** The point of the recording's picture that stands at a point of the output now; null where none does. */
	sourceAt(point: Point): Point | null {
		const { assembly } = this.bench.version!;
		const frame = frameAt(assembly, this.bench.player!.outMs);
		const { width, height } = assembly.destination;
		const [x, y] = [point.x * width, point.y * height];
		const panel = (runAt(assembly, frame).panels ?? []).find((one) => x >= one.x_px && x <= one.x_px + one.width_px && y >= one.y_px && y <= one.y_px + one.height_px);
		if (!panel) return null;
		const window = windowAt(panel, frame);
		return { x: window.x + ((x - panel.x_px) / panel.width_px) * window.width, y: window.y + ((y - panel.y_px) / panel.height_px) * window.height };
	}

	/** Draws the mark in hand along points of the output: those of a freehand line, or its two ends. */
	draw(points: Point[]): void {
		this.drawing = false;
		const one = this.one;
		if (one?.what.kind !== 'mark') return;
		const seen = points.flatMap((point) => this.sourceAt(point) ?? []);
		const kept = one.what.form === 'freehand' ? seen.filter((_, at) => at % Math.ceil(seen.length / 150) === 0) : [seen[0], seen.at(-1)].flatMap((point) => point ?? []);
		if (kept.length > 1) void this.change(one.id, { points: kept });
	}

	/** The recordings with a picture, which footage can be taken of. */
	recordings = $state.raw<{ id: number; title: string; duration_ms: number }[]>([]);

	async loadRecordings(): Promise<void> {
		const all = await house.trying(() => ask(api.GET('/api/recordings')));
		this.recordings = (all ?? []).filter((one) => one.width > 0);
	}

	/** Whom, and what, a mark can go along with. */
	subjects = $state.raw<{ subject: number; called: string }[]>([]);

	async loadSubjects(): Promise<void> {
		if (this.subjects.length || !this.bench.recording?.width) return;
		const sight = await house.trying(() => ask(api.GET('/api/quotes/{quote_id}/sight', { params: { path: { quote_id: this.bench.id } } })));
		this.subjects = sight?.subjects ?? [];
	}

	/** The other quotes of the recording, which a thing can be copied to. */
	others = $state.raw<{ id: number; title: string }[]>([]);

	async loadOthers(): Promise<void> {
		const params = { path: { recording_id: this.bench.quote!.recording_id } };
		const quotes = await house.trying(() => ask(api.GET('/api/recordings/{recording_id}/quotes', { params })));
		this.others = (quotes ?? []).filter((one) => one.id !== this.bench.id);
	}

	/** Copies a thing to another quote, whose words are others: what stands at words stands there at the start. */
	async copy(one: Overlay, to: number): Promise<boolean> {
		const { kind, offset_ms, length_ms } = one.when;
		const shows: Shows = kind === 'words' ? { kind: 'start', offset_ms: 0, length_ms: length_ms ?? COPIED_MS } : { kind, offset_ms, length_ms };
		const params = { path: { quote_id: to } };
		const made = await house.trying(async () => {
			const { revision } = await ask(api.GET('/api/quotes/{quote_id}', { params }));
			const edit: Edit = { kind: 'add-overlay', what: one.what, shows, wish: one.wish ?? null };
			return ask(api.POST('/api/quotes/{quote_id}/edits', { params, body: { on_revision: revision, edit, by: house.person || null } }));
		});
		if (made) house.tell('good', `Copied to “${made.document.title}”.`);
		return made !== undefined;
	}

	remove(): void {
		if (this.hand === null) return;
		void this.bench.edit({ kind: 'remove-overlay', id: this.hand });
		this.hand = null;
	}

	/** To the next thing, or the one before, in the order of their time. */
	step(by: 1 | -1): void {
		const all = [...this.overlays].sort((a, b) => (this.timeOf(a.id)?.fromMs ?? 1e9) - (this.timeOf(b.id)?.fromMs ?? 1e9));
		const at = all.findIndex((one) => one.id === this.hand);
		const next = all[at < 0 ? (by > 0 ? 0 : all.length - 1) : Math.min(all.length - 1, Math.max(0, at + by))];
		if (next) this.take(next.id);
	}

	/** How much is done to the voice. */
	voice = $derived.by((): 'none' | 'light' | 'firm' => {
		const one = this.#voiceItem;
		return one?.what.kind === 'speaking-sound' ? (one.what.strength ?? 'light') : 'none';
	});
	get #voiceItem(): Overlay | undefined {
		return this.overlays.findLast((one) => one.what.kind === 'speaking-sound' && !one.hidden);
	}

	/** Has so much done to the voice. */
	clean(strength: 'none' | 'light' | 'firm'): Promise<boolean> {
		return this.bench.edit((): Edit | null => {
			const one = this.#voiceItem;
			if (strength === 'none') return one ? { kind: 'remove-overlay', id: one.id } : null;
			const what: What = { kind: 'speaking-sound', strength };
			return one ? { kind: 'change-overlay', id: one.id, what } : { kind: 'add-overlay', what, shows: { kind: 'whole', offset_ms: 0 } };
		});
	}

	/** Has the cover show the frame on the stage. */
	coverHere(): void {
		const one = this.overlays.find((other) => other.what.kind === 'cover' && !other.hidden);
		const at = { at_ms: Math.max(0, Math.round(this.bench.player?.sourceMs ?? 0)) };
		if (one) void this.change(one.id, { shows: at });
		else void this.bench.edit({ kind: 'add-overlay', what: { kind: 'cover', text: '{title}', shows: at }, shows: { kind: 'whole', offset_ms: 0 } });
	}

	/** Takes a thing in hand, and goes to where it is to be seen. */
	take(id: number): void {
		this.hand = id;
		if (this.one?.what.kind === 'cover') {
			this.bench.player?.pause();
			this.bench.player?.seekOut(0);
			return;
		}
		const time = this.timeOf(id);
		const player = this.bench.player;
		const there = (time?.fromMs ?? 0) + COMES_MS;
		if (!time || !player || (player.outMs >= Math.min(there, time.toMs - 1) && player.outMs < time.toMs)) return;
		player.pause();
		player.seekOut(Math.min(time.toMs - 1, there));
	}
}

/** A look without the fields that are to be as the captions' again. */
function without(look: Record<string, unknown>): Record<string, unknown> {
	return Object.fromEntries(Object.entries(look).filter(([, value]) => value !== undefined));
}

/** What stood at words shows for so long where it is copied to. */
const COPIED_MS = 4000;
/** What comes in with a movement is there by then. */
const COMES_MS = 400;
