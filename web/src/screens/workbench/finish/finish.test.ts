import { describe, expect, it, vi } from 'vitest';
import type { Bench } from '../bench.svelte';
import { Finish } from './finish.svelte';
import { OVER } from './items';

const TALK = { texts: ['Keep', 'the', 'wick', 'short.', 'Ask', 'early.'], startsMs: [1000, 1300, 1600, 2000, 3000, 3400], endsMs: [1300, 1600, 1900, 2400, 3300, 3900], sentenceOf: Int32Array.from([0, 0, 0, 0, 1, 1]) };
const overlay = (id: number, more: object = {}) => ({ id, when: { kind: 'whole', offset_ms: 0, length_ms: null }, what: { kind: 'title', text: 'One', second: '', look: {} }, hidden: false, wish: null, placed: {}, ...more });
const area = (x: number, y: number, width: number, height: number) => ({ x, y, width, height, name: 'overlay' });

function made(more: Record<string, unknown> = {}): { finish: Finish; edits: unknown[] } {
	const edits: unknown[] = [];
	const panel = { x_px: 0, y_px: 0, width_px: 1080, height_px: 1920, keys: [{ frame: 0, window: { x: 0.4, y: 0, width: 0.2, height: 1 } }] };
	const bench = {
		quote: { overlays: [overlay(1), overlay(2, { when: { kind: 'words', offset_ms: 0, length_ms: null } })], overlay_words: [{ id: 2, first: 2, last: 3 }] },
		version: {
			assembly: {
				rate: '25', destination: { shape: 'tall', width: 1080, height: 1920 }, sound: { played: [
					{ source_ms: 1000, length_ms: 600, out_ms: 0, out_end_ms: 600 }, { source_ms: 2000, length_ms: 2000, out_ms: 600, out_end_ms: 2600 }
				] },
				picture: [{ first_frame: 0, panels: [panel] }],
				overlays: [
					{ item: 1, kind: 'lines', first_frame: 0, end_frame: 100, area: area(0.2, 0.1, 0.6, 0.05) },
					{ item: 1, kind: 'lines', first_frame: 0, end_frame: 100, area: area(0.3, 0.15, 0.4, 0.04) }
				]
			}
		},
		talk: TALK, cut: { kept: [{ start_ms: 1000, end_ms: 1600 }, { start_ms: 2000, end_ms: 4000 }], kept_words: [0, 1, 3, 4, 5] },
		selection: { range: null, clear: vi.fn() }, player: { outMs: 0, pause: vi.fn(), seekOut: vi.fn() }, shown: 'tall-60', findingsOf: () => [],
		edit: (edit: unknown) => { edits.push(typeof edit === 'function' ? (edit as () => unknown)() : edit); return Promise.resolve(true); }, ...more
	};
	return { finish: new Finish(bench as unknown as Bench), edits };
}

describe('the voice and the cover', () => {
	const whole = { kind: 'whole', offset_ms: 0, length_ms: null };
	const cleaned = overlay(5, { what: { kind: 'speaking-sound', strength: 'light' } });

	it('is cleaned by one choice: added, changed, removed', () => {
		const { finish, edits } = made();
		expect(finish.voice).toBe('none');
		void finish.clean('firm');
		expect(edits.at(-1)).toEqual({ kind: 'add-overlay', what: { kind: 'speaking-sound', strength: 'firm' }, shows: { kind: 'whole', offset_ms: 0 } });
		const other = made({ quote: { overlays: [cleaned], overlay_words: [] } });
		expect(other.finish.voice).toBe('light');
		void other.finish.clean('firm');
		void other.finish.clean('none');
		expect(other.edits).toEqual([{ kind: 'change-overlay', id: 5, what: { kind: 'speaking-sound', strength: 'firm' } }, { kind: 'remove-overlay', id: 5 }]);
	});

	it('shows the frame on the stage, of the cover there is or a new one', () => {
		const player = { outMs: 0, sourceMs: 4321.6, pause: vi.fn(), seekOut: vi.fn() };
		const { finish, edits } = made({ player });
		finish.coverHere();
		expect(edits.at(-1)).toMatchObject({ kind: 'add-overlay', what: { kind: 'cover', shows: { at_ms: 4322 } } });
		const cover = overlay(7, { when: whole, what: { kind: 'cover', text: '', shows: {}, look: {} } });
		const other = made({ player, quote: { overlays: [cover], overlay_words: [] } });
		other.finish.coverHere();
		expect(other.edits.at(-1)).toMatchObject({ kind: 'change-overlay', id: 7, what: { shows: { at_ms: 4322 } } });
		other.finish.take(7);
		expect(player.seekOut).toHaveBeenCalledWith(0);
	});
});

describe('what stands over the picture', () => {
	it('stands beside the kept words, sentence by sentence, in the time of the clip', () => {
		const { finish } = made();
		expect(finish.rows.map((row) => [row.words.map((word) => word.text).join(' '), row.fromMs, row.toMs])).toEqual([
			['Keep the short.', 0, 1000],
			['Ask early.', 1600, 2500]
		]);
	});

	it('has the time and the box of all its parts, and none where it sleeps', () => {
		const { finish } = made();
		expect(finish.timeOf(1)).toEqual({ fromMs: 0, toMs: 4000 });
		expect(finish.timeOf(2)).toBeNull();
		const box = finish.boxOf(1)!;
		expect([box.x, box.y, box.width, Math.round(box.height * 100) / 100]).toEqual([0.2, 0.1, 0.6000000000000001, 0.09]);
	});

	it('is added with the selected words, but for what lasts all the time', async () => {
		const { finish, edits } = made({ selection: { range: { first: 3, last: 4 }, clear: () => {} } });
		await finish.add(OVER.find((one) => one.name === 'Text')!);
		await finish.add(OVER.find((one) => one.name === 'Title')!);
		expect(edits.map((one) => (one as { shows: object }).shows)).toEqual([
			{ kind: 'words', offset_ms: 0, first: 3, last: 4 },
			{ kind: 'whole', offset_ms: 0 }
		]);
	});

	it('keeps its words when only its length is changed', async () => {
		const { finish, edits } = made();
		await finish.time(2, { length_ms: 900 });
		expect(edits).toEqual([{ kind: 'time-overlay', id: 2, shows: { kind: 'words', offset_ms: 0, length_ms: 900, first: 2, last: 3 } }]);
	});

	it('is changed field by field, its look too, from what it is when that is made', async () => {
		const { finish, edits } = made({ quote: { overlays: [overlay(1, { what: { kind: 'title', text: 'One', second: '', look: { size: 0.05, face: 'Lexend Bold' } } })] } });
		await finish.change(1, { second: 'Two' });
		await finish.change(1, { look: { size: 0.06, face: undefined } });
		await finish.change(1, { look: null });
		expect(edits.map((one) => (one as { what: object }).what)).toEqual([
			{ kind: 'title', text: 'One', second: 'Two', look: { size: 0.05, face: 'Lexend Bold' } },
			{ kind: 'title', text: 'One', second: '', look: { size: 0.06 } },
			{ kind: 'title', text: 'One', second: '', look: {} }
		]);
	});

	it('is nudged from where it stands, and never out of the picture', () => {
		const { finish, edits } = made();
		finish.hand = 1;
		finish.nudge(0, -0.5);
		expect(edits).toEqual([{ kind: 'place-overlay', id: 1, shape: 'tall', at: { x: 0.5, y: 0 } }]);
	});

	it('draws a mark on the recording’s picture, wherever the window shows that', () => {
		const mark = overlay(1, { what: { kind: 'mark', form: 'arrow', points: [{ x: 0, y: 0 }, { x: 1, y: 1 }] } });
		const { finish, edits } = made({ quote: { overlays: [mark] } });
		finish.hand = 1;
		finish.draw([{ x: 0.5, y: 0.5 }, { x: 0.6, y: 0.6 }, { x: 1, y: 0.25 }]);
		const { points } = (edits[0] as { what: { points: { x: number; y: number }[] } }).what;
		expect(points.map(({ x, y }) => [Math.round(x * 1000) / 1000, y])).toEqual([[0.5, 0.5], [0.6, 0.25]]);
	});

	it('goes from one thing to the next in the order of their time', () => {
		const { finish } = made();
		finish.step(1);
		expect(finish.hand).toBe(1);
		finish.step(1);
		expect(finish.hand).toBe(2);
		finish.step(-1);
		expect(finish.hand).toBe(1);
	});
});
