import { describe, expect, it } from 'vitest';
import type { Cue, Edit } from '$api/client';
import type { Bench } from '../bench.svelte';
import { Captions } from './captions.svelte';

type Word = { index: number; text: string };

const cue = (first_frame: number, words: Word[], more: Partial<Cue> = {}): Cue =>
	({ first_frame, end_frame: first_frame + 25, lines: [words], said_from_ms: first_frame * 40, said_to_ms: first_frame * 40 + 1000, ...more }) as Cue;
const words = (from: number, ...texts: string[]): Word[] => texts.map((text, at) => ({ index: from + at, text }));

/** Captions over a bench that writes down what it is asked for. */
function over(cues: Cue[], more: { added?: unknown[]; step?: string; problems?: number[]; hidden?: Cue[] } = {}) {
	const edits: Edit[] = [];
	const sought: number[] = [];
	const bench = {
		shown: 'tall-60',
		version: {
			assembly: {
				rate: '25', frames: 250,
				picture: [{ source: 'recording', first_frame: 0, frames: 250, step: more.step ?? '1' }],
				cue_tracks: [{ cues, hidden: more.hidden ?? [], look: { entrance: 'none' } }]
			}
		},
		quote: { document: { captions: { added: more.added ?? [] } } },
		resolved: { revision: 3 },
		player: { outMs: 0, pause() {}, seekOut: (ms: number) => sought.push(ms) },
		findingsOf: () => (more.problems ?? []).map((at_ms) => ({ step: 'captions', at_ms })),
		edit: (edit: Edit) => (edits.push(edit), Promise.resolve(true))
	};
	return { captions: new Captions(bench as unknown as Bench), edits, sought };
}

describe('what is done to cues', () => {
	const one = cue(0, words(10, 'Patience', 'is', 'a'));
	const two = cue(25, words(13, 'muscle', 'you', 'train'));

	it('keeps what is being typed where it is while times change, also where a word is parted among cues', () => {
		const parted = [one, cue(25, words(13, 'Donau')), cue(50, words(13, 'dampf')), cue(75, [], { added: 4, lines: [words(-1, '[laughter]')] } as Partial<Cue>)];
		const later = parted.map((each) => ({ ...each, first_frame: each.first_frame + 3 }));
		const keys = (cues: Cue[]) => over(cues).captions.slips.map((slip) => slip.key);
		expect(keys(parted)).toEqual(['10 0', '13 0', '13 1', 'added 4 0']);
		expect(keys(later)).toEqual(keys(parted));
	});

	it('moves the break between two by whole words, and never past the cue’s only word', () => {
		const { captions, edits } = over([one, two]);
		captions.moveBreak(one, two, 1);
		captions.moveBreak(one, two, -9);
		captions.moveBreak(one, two, 0);
		expect(edits).toEqual([
			{ kind: 'move-break', word: 13, to: 14, at: 'cue' },
			{ kind: 'move-break', word: 13, to: 11, at: 'cue' }
		]);
	});

	it('joins two whichever is in hand, with the caret where they met', () => {
		const { captions, edits } = over([one, two]);
		captions.join(two, one);
		expect(edits).toEqual([{ kind: 'join-captions', first: 10, last: 15 }]);
		expect(captions.caret).toEqual({ word: 13, end: false, after: 3 });
	});

	it('joins nothing with a cue that was added', () => {
		const { captions, edits } = over([one, two]);
		captions.join(one, cue(50, words(-1, '[laughter]'), { added: 7 }));
		captions.join(one, undefined);
		expect(edits).toEqual([]);
	});

	it('shifts an edge in the time of the clip, by at most five seconds', () => {
		const { captions, edits } = over([one, two]);
		captions.time(two, 'in', 1200);
		captions.time(two, 'out', 9000);
		expect(edits).toEqual([
			{ kind: 'time-caption', word: 13, edge: 'in', shift_ms: 200 },
			{ kind: 'time-caption', word: 15, edge: 'out', shift_ms: 5000 }
		]);
	});

	it('shifts an added cue in the recording, which runs faster than the clip', () => {
		const added = { id: 7, start_ms: 500, end_ms: 1500, text: '[applause]' };
		const { captions, edits } = over([cue(0, words(-1, '[applause]'), { added: 7, said_to_ms: 500 })], { added: [added], step: '2' });
		captions.time(captions.slips[0]!.cue, 'out', 900);
		expect(edits).toEqual([{ ...added, end_ms: 2300, kind: 'change-added-caption' }]);
	});

	it('never ends an added cue before it begins', () => {
		const added = { id: 7, start_ms: 500, end_ms: 1500, text: '[applause]' };
		const { captions, edits } = over([cue(0, words(-1, '[applause]'), { added: 7 })], { added: [added] });
		captions.time(captions.slips[0]!.cue, 'out', -5000);
		expect(edits).toEqual([{ ...added, end_ms: 600, kind: 'change-added-caption' }]);
	});

	it('keeps what the cue beside it shows of a word that is parted between them', () => {
		const left = cue(0, [{ index: 4, text: 'Donaudampf' }]);
		const right = cue(25, [{ index: 4, text: 'schiff' }, { index: 5, text: 'fahrt' }]);
		const { captions, edits } = over([left, right]);
		void captions.correct(right, 'schiff fahrt!');
		expect(edits).toEqual([{ kind: 'correct-caption', first: 4, last: 5, text: 'Donaudampfschiff fahrt!' }]);
	});
});

describe('going through cues', () => {
	const cues = [cue(0, words(0, 'One')), cue(25, words(1, 'two')), cue(75, words(2, 'three'))];

	it('lists hidden cues among the others, in order', () => {
		const { captions } = over([cues[0]!, cues[2]!], { hidden: [cues[1]!] });
		expect(captions.slips.map((slip) => slip.hidden)).toEqual([false, true, false]);
	});

	it('goes to the next cue with a problem, and nowhere after the last', () => {
		const { captions, sought } = over(cues, { problems: [3000] });
		captions.step(1);
		expect(captions.hand).toBe(2);
		expect(sought).toEqual([3001]);
		captions.step(-1);
		expect(sought).toHaveLength(1);
	});
});
