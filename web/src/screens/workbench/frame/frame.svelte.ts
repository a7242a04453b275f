/** The framing of a quote in hand: its shots, the one that is shown, what is doubtful, and for which shapes a choice is made. */
import { api, ask, Problem, type CutShot, type Edit, type FramedShot, type FramingChange, type Sight, type Version } from '$api/client';
import { house } from '$api/house.svelte';
import { windowAt, type Run, type Window } from '$player/layers/panels';
import { fractionOf } from '$player/stretches';
import type { Bench } from '../bench.svelte';
import type { Box } from './subjects';

/** Something doubtful about a shot, and the shapes it is so in. */
export type Doubtful = { code: NonNullable<FramedShot['doubts']>[number]['code']; says: string; do: string; atMs: number; shapes: string[] };

const LOOK_AGAIN_MS = 250;
const LOOK_FOR_MORE_MS = 1500;

export class Frame {
	sight = $state.raw<Sight | null>(null);
	/** Whether a choice is made for every shape, or for the one on the stage. */
	every = $state(true);
	giving = $state(false);
	/** Whether the recording stands beside the shape in hand, both as large as can be. */
	comparing = $state(false);
	/** Whether the next click on the picture takes its colour. */
	picking = $state(false);

	constructor(readonly bench: Bench) {}

	async load(): Promise<void> {
		this.sight = await ask(api.GET('/api/quotes/{quote_id}/sight', { params: { path: { quote_id: this.bench.id } } }));
	}

	/** Whether the recording is still being looked at. */
	looking = $state(false);
	#turn = 0;

	/** Has this stretch of the recording looked at first where that is still going on, and shows what is seen as it is. */
	async lookFirst(): Promise<void> {
		let seen: number | null = null;
		const turn = ++this.#turn;
		while (turn === this.#turn) {
			const now = await house.trying(() => ask(api.POST('/api/quotes/{quote_id}/look-first', { params: { path: { quote_id: this.bench.id } } })));
			if (!now) return;
			if (seen !== null && now.seen !== seen) await Promise.all([this.load(), this.bench.lookAgain()]);
			seen = now.seen;
			this.looking = now.going_on;
			if (!now.going_on) return;
			await new Promise((passed) => setTimeout(passed, LOOK_FOR_MORE_MS));
		}
	}

	close(): void {
		this.#turn++;
	}

	/** The other quotes of the recording, whose framing can be taken. */
	others = $state.raw<{ id: number; title: string }[]>([]);

	async loadOthers(): Promise<void> {
		const params = { path: { recording_id: this.bench.quote!.recording_id } };
		const quotes = await ask(api.GET('/api/recordings/{recording_id}/quotes', { params }));
		this.others = quotes.filter((one) => one.id !== this.bench.id);
	}

	/** Frames this quote as another is framed, where the two show the same shots or set-ups. */
	takeFrom(id: number): void {
		void this.bench.taken((quote) =>
			ask(api.POST('/api/quotes/{quote_id}/take-framing', { params: { path: { quote_id: this.bench.id } }, body: { of: id, on_revision: quote.revision, by: house.person || null } }))
		);
	}

	shots = $derived.by((): CutShot[] => this.bench.resolved?.shots ?? []);
	/** The number of the shot at the playhead. */
	here = $derived.by((): number => Math.max(0, this.shots.findLastIndex((one) => one.span.start_ms <= (this.bench.player?.sourceMs ?? 0) + 1)));
	shot = $derived.by((): CutShot | null => this.shots[this.here] ?? null);
	/** How the shot is framed in the shape on the stage. */
	framed = $derived.by((): FramedShot | null => (this.shot && this.bench.version ? this.framedIn(this.bench.version, this.shot) : null));
	/** One version for each way of framing: those of a shape are framed alike, but for those that are framed by themselves. */
	shapes = $derived.by((): Version[] => {
		const seen = new Map<string, Version>();
		for (const one of this.bench.versions) {
			const key = one.treated.alone ? one.destination : one.assembly.destination.shape;
			if (!seen.has(key) || one.destination === this.bench.shown) seen.set(key, one);
		}
		return [...seen.values()];
	});
	/** The numbers of the shots that something is doubtful about. */
	doubtful = $derived.by((): number[] => this.shots.flatMap((one, number) => (this.doubtsOf(one).length ? [number] : [])));

	framedIn(version: Version, shot: CutShot): FramedShot | null {
		return version.framing.find((one) => one.span.start_ms === shot.span.start_ms) ?? null;
	}

	/** The windows of a version in the middle of a shot, and how wide its picture is against its height. */
	windowsIn(version: Version, shot: CutShot): Window[] {
		const { assembly } = version;
		const rate = fractionOf(assembly.rate);
		const middle = ((shot.span.start_ms + shot.span.end_ms) / 2000) * rate;
		const from = (run: Run) => run.source_frame ?? 0;
		const until = (run: Run) => from(run) + run.frames * fractionOf(run.step ?? '1');
		const inside = assembly.picture.filter((run) => until(run) > (shot.span.start_ms / 1000) * rate && from(run) < (shot.span.end_ms / 1000) * rate);
		const run = inside.find((one) => middle < until(one)) ?? inside.at(-1);
		if (!run) return [];
		const at = run.first_frame + Math.max(0, Math.floor((middle - from(run)) / fractionOf(run.step ?? '1')));
		return (run.panels ?? []).map((panel) => windowAt(panel, at));
	}

	doubtsOf(shot: CutShot): Doubtful[] {
		const found = new Map<string, Doubtful>();
		for (const version of this.shapes) {
			for (const one of this.framedIn(version, shot)?.doubts ?? []) {
				const name = version.assembly.destination.name;
				const known = found.get(one.code);
				if (known) known.shapes.push(name);
				else found.set(one.code, { code: one.code, says: one.says, do: one.do, atMs: one.at_ms, shapes: [name] });
			}
		}
		return [...found.values()];
	}

	called(subject: number): string {
		return this.sight?.subjects.find((one) => one.subject === subject)?.called ?? `person ${subject + 1}`;
	}

	/** Who is seen in the shot at the playhead. */
	there = $derived.by((): number[] => {
		const span = this.shot?.span;
		if (!span) return [];
		const tracks = this.sight?.tracks.filter((one) => one.at_ms[0]! < span.end_ms && one.at_ms.at(-1)! >= span.start_ms) ?? [];
		return [...new Set(tracks.map((one) => one.subject))].sort((a, b) => a - b);
	});

	/** What a person had followed in the shot at the playhead. */
	things = $derived.by((): number[] => this.there.filter((one) => this.sight?.subjects.find((other) => other.subject === one)?.thing));

	/** Goes to a shot, where the version on the stage shows something of it. */
	go(number: number): void {
		const shot = this.shots[number];
		if (!shot) return;
		const kept = this.bench.version && this.framedIn(this.bench.version, shot)?.kept[0];
		this.bench.player?.seekSource((kept?.start_ms ?? shot.span.start_ms) + 1);
	}

	/** The next shot that something is doubtful about, or the one before, round and round. */
	step(by: 1 | -1): void {
		const numbers = this.doubtful;
		if (!numbers.length) {
			house.tell('good', 'Nothing is doubtful in this quote.');
			return;
		}
		const next = by > 0 ? (numbers.find((one) => one > this.here) ?? numbers[0]!) : (numbers.findLast((one) => one < this.here) ?? numbers.at(-1)!);
		this.go(next);
		const at = this.doubtsOf(this.shots[next]!)[0]?.atMs;
		if (at !== undefined) this.bench.player?.seekSource(at + 1);
	}

	/** The moment that an edit names: in the shot at the playhead. */
	get moment(): number {
		const { span } = this.shot!;
		return Math.round(Math.min(Math.max(this.bench.player!.sourceMs, span.start_ms), span.end_ms - 1));
	}

	get destination(): string | null {
		return this.every ? null : this.bench.shown;
	}

	/** Something chosen for the shot at the playhead, or for every shot. */
	changing(change: FramingChange, whole = false): Edit {
		return { kind: 'frame-shot', at_ms: whole ? null : this.moment, destination: this.destination, change };
	}

	choose(change: FramingChange, whole = false): void {
		if (this.shot) void this.bench.edit(this.changing(change, whole));
	}

	look(change: FramingChange, whole = false): void {
		if (this.shot) this.bench.tryFraming(this.changing(change, whole));
	}

	/** Has the faces of the shot, or of every shot, made as light as they should be. */
	exposeFaces(whole: boolean): void {
		if (!this.shot) return;
		const at_ms = whole ? null : this.moment;
		void this.bench.taken((quote) =>
			ask(api.POST('/api/quotes/{quote_id}/expose-faces', { params: { path: { quote_id: this.bench.id } }, body: { at_ms, on_revision: quote.revision, by: house.person || null } }))
		);
	}

	split(): void {
		if (this.shot) void this.bench.edit({ kind: 'part-shot', at_ms: this.moment });
	}

	/** Gives the chosen words a framing of their own. */
	splitOff(fromMs: number, toMs: number): void {
		void this.bench.edit({ kind: 'part-shot', at_ms: Math.round(fromMs), to_ms: Math.round(toMs) }).then((done) => {
			if (done) this.bench.player?.seekSource(fromMs + 60);
		});
	}

	join(): void {
		if (this.shot?.parted) void this.bench.edit({ kind: 'join-shot', at_ms: this.moment });
	}

	reset(all = false): void {
		if (this.shot) void this.bench.edit({ kind: 'reset-framing', at_ms: all ? null : this.moment, destination: this.every ? null : this.bench.shown });
	}

	/** A box that is being drawn around something to follow, in fractions of the picture. */
	drawing = $state<Box | null>(null);
	/** What is being followed: how far that is, 0 to 1. */
	following = $state<number | null>(null);

	/** Lets a box be drawn on the recording's picture. */
	draw(): void {
		if (!this.shot || this.following !== null) return;
		this.bench.player?.pause();
		this.drawing = this.drawing ? null : { x: 0.4, y: 0.4, width: 0.2, height: 0.2 };
	}

	/** Has what is in the box followed through the shot, and shows it. */
	async follow(name: string): Promise<void> {
		const box = this.drawing;
		if (!box) return;
		const at_ms = this.moment;
		const shown = this.destination;
		this.drawing = null;
		this.following = 0;
		try {
			const body = { at_ms, ...box, name: name.trim() || null };
			const { subject, work } = await ask(api.POST('/api/quotes/{quote_id}/follow', { params: { path: { quote_id: this.bench.id } }, body }));
			await this.#done(work.id);
			await this.load();
			await this.bench.edit({ kind: 'show-followed', at_ms, subject, destination: shown });
		} catch (problem) {
			if (!(problem instanceof Problem)) throw problem;
			house.tell('bad', problem.message);
		} finally {
			this.following = null;
		}
	}

	/** Follows a piece of work to its end. Throws what it failed with. */
	async #done(id: number): Promise<void> {
		for (;;) {
			const now = await ask(api.GET('/api/work/{work_id}', { params: { path: { work_id: id } } }));
			if (now.state === 'done') return;
			if (now.state === 'failed' || now.state === 'stopped') throw new Problem(409, 'work-failed', now.problem ?? 'Following was stopped.');
			this.following = now.progress;
			await new Promise((passed) => setTimeout(passed, LOOK_AGAIN_MS));
		}
	}

	/** Has the recording's picture looked at by this version of the program. */
	async lookAgain(): Promise<void> {
		const params = { path: { recording_id: this.bench.quote!.recording_id } };
		await house.trying(async () => {
			this.bench.recording = await ask(api.POST('/api/recordings/{recording_id}/look-again', { params }));
			house.tell('good', 'The picture is being looked at again. Keep working: what is found comes up here by itself.');
			await this.lookFirst();
			this.bench.recording = await ask(api.GET('/api/recordings/{recording_id}', { params }));
		});
	}

	/** Has something followed no longer. */
	async forget(subject: number): Promise<void> {
		const name = this.called(subject);
		const params = { path: { recording_id: this.bench.quote!.recording_id, subject } };
		const shown = () => Promise.all([this.load(), this.bench.lookAgain()]);
		const back = () => void house.trying(() => ask(api.POST('/api/recordings/{recording_id}/things/{subject}/restore', { params })).then(shown));
		await house.trying(async () => {
			await ask(api.POST('/api/recordings/{recording_id}/things/{subject}/remove', { params }));
			house.tell('good', `${name[0]!.toUpperCase()}${name.slice(1)} is followed no longer.`, { name: 'Undo', run: back });
			await shown();
		});
	}

	/** Marks what is doubtful about the shot as fine. */
	fine(): void {
		if (!this.shot) return;
		const known = this.framed?.choice.fine ?? [];
		const codes = [...new Set([...known, ...this.doubtsOf(this.shot).map((one) => one.code)])];
		if (codes.length) void this.bench.edit({ kind: 'fine-shot', at_ms: this.moment, codes });
	}

	doubtAgain(): void {
		if (this.shot) void this.bench.edit({ kind: 'fine-shot', at_ms: this.moment, codes: [] });
	}
}
