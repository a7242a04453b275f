/** The captions of the version on the stage: its cues, what is wrong with them, and what a person does to them. */
import type { Cue, CueContrast, Edit, Finding } from '$api/client';
import { fractionOf, frameAt, stretchesOf } from '$player/stretches';
import type { Bench } from '../bench.svelte';

export type Slip = { cue: Cue; hidden: boolean; key: string };
/** Where the caret goes once the cues are made anew. */
type Caret = { word: number; end: boolean; after?: number };
const LONGEST_PUT_IN_MS = 2000;
const COMES_MS = 200;

export class Captions {
	/** The first word of the cue in hand. */
	hand = $state<number | null>(null);
	caret = $state.raw<Caret | null>(null);
	/** What is done with a colour that is picked from the picture; none while none is. */
	picking = $state.raw<((colour: string) => void) | null>(null);

	constructor(readonly bench: Bench) {}

	track = $derived.by(() => this.bench.version?.assembly.cue_tracks?.[0] ?? null);
	fps = $derived.by(() => fractionOf(this.bench.version!.assembly.rate));
	/** The cues down the page, those that are hidden among them. */
	slips = $derived.by((): Slip[] => {
		const all = [
			...(this.track?.cues ?? []).map((cue) => ({ cue, hidden: false })),
			...(this.track?.hidden ?? []).map((cue) => ({ cue, hidden: true }))
		].sort((a, b) => a.cue.first_frame - b.cue.first_frame);
		// By its first word, of which several cues may have a part: what is being typed stays where it is while times change.
		const before = new Map<string, number>();
		return all.map((one) => {
			const name = one.cue.added ? `added ${one.cue.added}` : `${firstOf(one.cue)}`;
			const times = before.get(name) ?? 0;
			before.set(name, times + 1);
			return { ...one, key: `${name} ${times}` };
		});
	});
	problems = $derived.by((): Finding[] =>
		this.bench.findingsOf(this.bench.shown).filter((one) => one.step === 'captions').sort((a, b) => (a.at_ms ?? 0) - (b.at_ms ?? 0))
	);

	problemsOf(cue: Cue): Finding[] {
		const from = this.msOf(cue.first_frame) - 1;
		const to = this.msOf(cue.end_frame) - 1;
		return this.problems.filter((one) => one.at_ms !== null && one.at_ms !== undefined && one.at_ms >= Math.floor(from) && one.at_ms < to);
	}

	contrastOf(cue: Cue): CueContrast | null {
		const version = this.bench.contrast?.versions.find((one) => one.destination === this.bench.shown);
		return version?.cues.find((one) => one.first_frame === cue.first_frame) ?? null;
	}

	msOf = (frame: number): number => (frame * 1000) / this.fps;
	here = $derived.by(() => frameAt(this.bench.version!.assembly, this.bench.player!.outMs));

	goTo(cue: Cue): void {
		const player = this.bench.player!;
		this.hand = firstOf(cue);
		const here = frameAt(this.bench.version!.assembly, player.outMs);
		if (here >= cue.first_frame && here < cue.end_frame) return;
		player.pause();
		// Where captions come in with a movement, once they are there.
		const comes = (this.track?.look.entrance ?? 'none') === 'none' ? 0 : Math.min(COMES_MS, this.msOf(cue.end_frame - cue.first_frame) / 2);
		player.seekOut(this.msOf(cue.first_frame) + comes + 1);
	}

	/** To the next cue with a problem after (or before) the moment on the stage. */
	step(by: 1 | -1): void {
		const now = this.bench.player!.outMs;
		const after = this.problems.filter((one) => (by > 0 ? (one.at_ms ?? 0) > now + 1 : (one.at_ms ?? 0) < now - this.msOf(1) - 1));
		const next = by > 0 ? after[0] : after.at(-1);
		const slip = next && this.slips.find((one) => this.msOf(one.cue.end_frame) > (next.at_ms ?? 0) + 1);
		if (slip) this.goTo(slip.cue);
	}

	/** To the cue before or after the one on the stage. */
	next(by: 1 | -1): void {
		const { slips, here } = this;
		const at = by > 0 ? slips.findIndex((one) => one.cue.first_frame > here) : slips.findLastIndex((one) => one.cue.end_frame <= here);
		if (slips[at]) this.goTo(slips[at].cue);
	}

	/** Puts the caret into the cue on the stage. */
	type(): void {
		const slip = this.slips.find((one) => !one.hidden && this.here >= one.cue.first_frame && this.here < one.cue.end_frame) ?? this.slips[0];
		if (slip) this.caret = { word: lastOf(slip.cue), end: true };
	}

	edit(edit: Edit, caret: Caret | null = null): Promise<boolean> {
		this.caret = caret && { ...caret, after: this.bench.resolved?.revision };
		return this.bench.edit(edit);
	}

	/** Says anew what a cue says: its words, and those pieces of them that stand in the cues beside it. */
	correct(cue: Cue, text: string): Promise<boolean> {
		if (cue.added) {
			const added = this.bench.quote!.document.captions?.added?.find((one) => one.id === cue.added);
			if (!added) return Promise.resolve(false);
			return text ? this.bench.edit({ ...added, kind: 'change-added-caption', text }) : this.bench.edit({ kind: 'remove-added-caption', id: added.id });
		}
		const [first, last] = [firstOf(cue), lastOf(cue)];
		const before = this.#pieces(first, cue, -1);
		const after = this.#pieces(last, cue, 1);
		return this.bench.edit({ kind: 'correct-caption', first, last, text: `${before}${text}${after}` });
	}

	/** What other cues show of a word that is parted among them. */
	#pieces(index: number, cue: Cue, side: 1 | -1): string {
		const others = this.slips.filter((one) => one.cue !== cue && (side < 0 ? one.cue.first_frame < cue.first_frame : one.cue.first_frame > cue.first_frame));
		return others.flatMap((one) => one.cue.lines.flat()).filter((word) => word.index === index).map((word) => word.text).join('');
	}

	join(cue: Cue, other: Cue | undefined): void {
		if (!other || cue.added || other.added) return;
		const indexes = [firstOf(cue), lastOf(cue), firstOf(other), lastOf(other)];
		const later = cue.first_frame > other.first_frame ? cue : other;
		void this.edit({ kind: 'join-captions', first: Math.min(...indexes), last: Math.max(...indexes) }, { word: firstOf(later), end: false });
	}

	/** Moves the first words of a cue to the one before it, or the last of that one to it. */
	moveBreak(before: Cue, cue: Cue, words: number): void {
		const all = [...before.lines.flat(), ...cue.lines.flat()].map((word) => word.index).filter((one, at, list) => one >= 0 && list.indexOf(one) === at);
		const at = all.indexOf(firstOf(cue));
		const to = Math.min(all.length - 1, Math.max(1, at + words));
		if (at > 0 && to !== at) void this.edit({ kind: 'move-break', word: all[at]!, to: all[to]!, at: 'cue' });
	}

	/** Has a cue begin or end at a moment of the clip. */
	time(cue: Cue, edge: 'in' | 'out', ms: number): Promise<boolean> {
		const added = cue.added && this.bench.quote!.document.captions?.added?.find((one) => one.id === cue.added);
		const from = edge === 'in' ? cue.said_from_ms : cue.said_to_ms;
		const shift = Math.round(ms - from);
		if (added) {
			// What is put in lies in the recording, which may run faster than the clip.
			const stretch = stretchesOf(this.bench.version!.assembly).findLast((one) => one.outMs <= from);
			const by = Math.round(shift * (stretch?.rate ?? 1));
			const moved = edge === 'in' ? { start_ms: Math.max(0, added.start_ms + by) } : { end_ms: Math.max(added.start_ms + 100, added.end_ms + by) };
			return this.edit({ ...added, ...moved, kind: 'change-added-caption' });
		}
		const word = edge === 'in' ? firstOf(cue) : lastOf(cue);
		return this.edit({ kind: 'time-caption', word, edge, shift_ms: Math.max(-5000, Math.min(5000, shift)) });
	}

	/** Puts a cue in between two, over what of the recording is shown there. */
	putIn(after: Cue | undefined, before: Cue | undefined): void {
		const assembly = this.bench.version!.assembly;
		const first = this.msOf(after?.end_frame ?? 0);
		const stretch = stretchesOf(assembly).findLast((one) => one.outMs <= first + 1);
		if (!stretch) return;
		const end = Math.min(this.msOf(before?.first_frame ?? assembly.frames), stretch.outMs + stretch.lengthMs, first + LONGEST_PUT_IN_MS);
		const sourceMs = (ms: number) => Math.round(stretch.sourceMs + (ms - stretch.outMs) * (stretch.rate ?? 1));
		void this.edit({ kind: 'add-caption', start_ms: sourceMs(first), end_ms: sourceMs(end), text: '[laughter]' });
	}
}

export const firstOf = (cue: Cue): number => cue.lines[0]![0]!.index;
export const lastOf = (cue: Cue): number => cue.lines.at(-1)!.at(-1)!.index;
