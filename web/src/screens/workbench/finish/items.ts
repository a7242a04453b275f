/** What can be put over, before, after and under a clip: what each kind is called and begins as, and where they stand on the page. */
import type { Overlay, Shows, What } from '$api/client';

export type Kind = What['kind'];
/** A thing to add: what it is called on its button, and what it begins as, with the picture or the sound it `needs`. */
export type Addable = { name: string; what: (asset: number) => What; shows: Shows; wish?: Overlay['wish']; needs?: 'picture' | 'sound' | 'recording' };

const WHOLE: Shows = { kind: 'whole', offset_ms: 0 };
const start = (length_ms: number): Shows => ({ kind: 'start', offset_ms: 0, length_ms });

export const OVER: Addable[] = [
	{ name: 'Title', what: () => ({ kind: 'title', text: '{title}', second: '' }), shows: WHOLE },
	{ name: 'Opener', what: () => ({ kind: 'title', text: 'Opener', second: '', look: { entrance: 'pop' } }), shows: start(3000), wish: 'middle' },
	{ name: 'Name strap', what: () => ({ kind: 'name-strap', name: '', role: '', look: { entrance: 'slide' } }), shows: start(4000) },
	{ name: 'Text', what: () => ({ kind: 'lines', text: 'Text' }), shows: start(4000) },
	{ name: 'Progress line', what: () => ({ kind: 'progress', edge: 'bottom', thickness: 0.012 }), shows: WHOLE },
	{ name: 'Time left', what: () => ({ kind: 'time-left' }), shows: WHOLE },
	{ name: 'Sound wave', what: () => ({ kind: 'sound-wave', form: 'bars', width: 0.7, height: 0.14, calm: 0.4 }), shows: WHOLE },
	{ name: 'Logo', what: (picture) => ({ kind: 'logo', picture, size: 0.18, opacity: 1, margin: 0.04, round: false }), shows: WHOLE, needs: 'picture' },
	{ name: 'Picture', what: (picture) => ({ kind: 'insert', picture, covers: 'all', comes: 'cut', push: 0 }), shows: start(3000), needs: 'picture' },
	{ name: 'Footage', what: (recording) => ({ kind: 'insert', footage: { recording, from_ms: 0, width: 16, height: 9, duration_ms: 1000, heard: 'not' }, covers: 'all', comes: 'cut', push: 0 }), shows: start(3000), needs: 'recording' },
	{ name: 'Portrait', what: (picture) => ({ kind: 'logo', picture, size: 0.5, opacity: 1, margin: 0.04, round: true }), shows: WHOLE, wish: 'middle', needs: 'picture' },
	{ name: 'Mark', what: () => ({ kind: 'mark', form: 'ring', points: [{ x: 0.42, y: 0.35 }, { x: 0.58, y: 0.6 }], width: 0.008, draws_ms: 500, darkness: 0.6 }), shows: start(3000) }
];
export const AROUND: Addable[] = [
	{ name: 'Cover', what: () => ({ kind: 'cover', text: '{title}', shows: {} }), shows: WHOLE },
	{ name: 'End card', what: () => ({ kind: 'end-card', text: 'Hear the whole talk', second: '', address: '', code: false, length_ms: 3000, under_ms: 0 }), shows: WHOLE }
];
const QUIET_MUSIC = { kind: 'music', sound: 0, from_ms: 0, repeats: true, below_db: 6, duck_db: 14, fall_ms: 300, fade_in_ms: 300, fade_out_ms: 1200 } as const;
export const UNDER: Addable[] = [{ name: 'Music', what: (sound) => ({ ...QUIET_MUSIC, sound }), shows: WHOLE, needs: 'sound' }];

const NAMES: Record<Kind, string> = {
	title: 'Title', 'name-strap': 'Name strap', lines: 'Text', progress: 'Progress line', 'time-left': 'Time left',
	'sound-wave': 'Sound wave', logo: 'Logo', insert: 'Picture', mark: 'Mark', cover: 'Cover', 'end-card': 'End card', music: 'Music',
	'speaking-sound': 'Speaking sound'
};
/** Kinds of which a clip has one, before, after or under all of it. */
const ALONE: Kind[] = ['cover', 'end-card', 'speaking-sound'];
export const isAlone = (what: What): boolean => ALONE.includes(what.kind);
/** Kinds that are written or drawn somewhere, and can be put elsewhere. */
export const canBePlaced = (what: What): boolean =>
	!['progress', 'mark', 'music', 'speaking-sound'].includes(what.kind) && !(what.kind === 'insert' && what.covers === 'all');

export const nameOf = (what: What): string => (what.kind === 'insert' && what.footage ? 'Footage' : NAMES[what.kind]);

/** What a thing says, where it says anything. */
export function textOf(what: What): string {
	if (what.kind === 'title' || what.kind === 'lines') return what.text;
	if (what.kind === 'cover') return what.text ?? '';
	if (what.kind === 'end-card') return what.text || what.second || what.address || '';
	return what.kind === 'name-strap' ? what.name || 'whoever speaks' : '';
}

/** When a thing shows, or is heard, in words. */
export function whenOf(one: Overlay): string {
	if (one.what.kind === 'cover') return 'first frame';
	if (one.what.kind === 'end-card') return `${((one.what.length_ms ?? 3000) / 1000).toFixed(1)} s at the end`;
	return saysWhen(one.when);
}

export function saysWhen(shows: { kind: Shows['kind']; offset_ms?: number; length_ms?: number | null }): string {
	const long = shows.length_ms ? `${(shows.length_ms / 1000).toFixed(1)} s` : '';
	const after = shows.offset_ms ? ` after ${(shows.offset_ms / 1000).toFixed(1)} s` : '';
	if (shows.kind === 'whole') return 'whole clip';
	if (shows.kind === 'words') return long ? `${long} from these words` : 'with these words';
	if (shows.kind === 'end') return long ? `last ${long}` : 'to the end';
	return `${long ? `first ${long}` : 'from the start'}${after}`;
}

export type Stretch = { id: number; from: number; to: number };

/** The lane of each of some stretches, so that none stands on another: the first that is free, in order of their beginning. */
export function lanesOf(stretches: Stretch[]): Map<number, number> {
	const ends: number[] = [];
	const lanes = new Map<number, number>();
	for (const one of [...stretches].sort((a, b) => a.from - b.from || b.to - a.to)) {
		const free = ends.findIndex((end) => end <= one.from);
		const lane = free < 0 ? ends.length : free;
		ends[lane] = one.to;
		lanes.set(one.id, lane);
	}
	return lanes;
}
