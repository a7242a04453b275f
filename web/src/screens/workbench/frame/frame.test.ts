import { beforeEach, describe, expect, it, vi } from 'vitest';
import { house } from '$api/house.svelte';
import type { Bench } from '../bench.svelte';
import { Frame } from './frame.svelte';

const span = (start_ms: number, end_ms: number) => ({ start_ms, end_ms });
const framed = (start: number, end: number, doubts: { code: string; says: string; do: string; at_ms: number }[] = []) => ({
	span: span(start, end), kept: [span(start + 100, end)], doubts, choice: {}, subjects: [], says: 'still'
});
const doubt = { code: 'outside', says: 'leaves the window for 0.8 s', do: 'Drag it.', at_ms: 2600 };
const version = (destination: string, shape: string, framing: unknown[], alone = false) => ({
	destination, framing, treated: { alone, shares: [], caption_height: 0.7 }, assembly: { destination: { id: destination, name: destination, shape } }
});

let sought: number;
let edits: unknown[];
let bench: Bench;

beforeEach(() => {
	sought = 0;
	edits = [];
	const player = { sourceMs: 500, seekSource: (ms: number) => { sought = ms; player.sourceMs = ms; } };
	const versions = [
		version('tall-60', 'tall', [framed(0, 2000), framed(2000, 4000, [doubt]), framed(4000, 6000)]),
		version('tall-90', 'tall', []),
		version('square-60', 'square', [framed(0, 2000), framed(2000, 4000, [doubt]), framed(4000, 6000, [{ ...doubt, at_ms: 4500 }])])
	];
	bench = {
		id: 1, shown: 'tall-60', player, versions, version: versions[0],
		resolved: { shots: [0, 2000, 4000].map((at) => ({ span: span(at, at + 2000), parted: false, set_up: 0 })), set_ups: ['the wide'] },
		edit: (edit: unknown) => { edits.push(edit); return Promise.resolve(true); },
		tryFraming: (edit: unknown) => edits.push(edit)
	} as unknown as Bench;
});

describe('framing', () => {
	it('is told once for each shape, in the version that is on the stage', () => {
		expect(new Frame(bench).shapes.map((one) => one.destination)).toEqual(['tall-60', 'square-60']);
		bench.shown = 'tall-90';
		expect(new Frame(bench).shapes.map((one) => one.destination)).toEqual(['tall-90', 'square-60']);
	});
	it('goes through the doubtful shots, round and round, to where it is doubtful', () => {
		const frame = new Frame(bench);
		expect(frame.doubtful).toEqual([1, 2]);
		frame.step(1);
		expect([frame.here, sought]).toEqual([1, 2601]);
		frame.step(1);
		expect([frame.here, sought]).toEqual([2, 4501]);
		frame.step(1);
		expect(frame.here).toBe(1);
		frame.step(-1);
		expect(frame.here).toBe(2);
	});
	it('says which shapes something is doubtful in', () => {
		const frame = new Frame(bench);
		expect(frame.doubtsOf(frame.shots[1]!)[0]!.shapes).toEqual(['tall-60', 'square-60']);
		expect(frame.doubtsOf(frame.shots[2]!)[0]!.shapes).toEqual(['square-60']);
	});
	it('says so where nothing is doubtful', () => {
		const told = vi.spyOn(house, 'tell').mockImplementation(() => undefined);
		bench.versions = [];
		new Frame(bench).step(1);
		expect(told).toHaveBeenCalledWith('good', 'Nothing is doubtful in this quote.');
	});
	it('is chosen for every shape, or for the one on the stage, in the shot at the playhead', () => {
		const frame = new Frame(bench);
		frame.go(1);
		frame.choose({ closeness: 1.4 });
		frame.every = false;
		frame.choose({ layout: 'whole' });
		expect(edits).toEqual([
			{ kind: 'frame-shot', at_ms: 2101, destination: null, change: { closeness: 1.4 } },
			{ kind: 'frame-shot', at_ms: 2101, destination: 'tall-60', change: { layout: 'whole' } }
		]);
	});
	it('names a moment inside the shot, wherever the playhead stands between its frames', () => {
		const frame = new Frame(bench);
		bench.player!.seekSource(3990.4);
		expect([frame.here, frame.moment]).toEqual([1, 3990]);
		bench.player!.seekSource(3999.7);
		expect([frame.here, frame.moment]).toEqual([2, 4000]);
	});
	it('knows who is seen in the shot, and by number whoever has no name', () => {
		const frame = new Frame(bench);
		const track = (subject: number, from: number, to: number) => ({ subject, at_ms: [from, to], x: [0, 0], y: [0, 0], width: [0, 0], height: [0, 0] });
		frame.sight = { subjects: [{ subject: 1, called: 'Sanna', thing: false }], tracks: [track(1, 0, 1500), track(0, 1800, 2600), track(2, 2100, 2600)] };
		expect(frame.there).toEqual([0, 1]);
		expect([frame.called(1), frame.called(2)]).toEqual(['Sanna', 'person 3']);
	});
	it('shows the windows of the middle of a shot, or of what is left of it', () => {
		const run = (first_frame: number, source_frame: number, frames: number, x: number) => ({
			first_frame, source_frame, frames, step: '1', panels: [{ keys: [{ frame: first_frame, window: { x, y: 0, width: 0.3, height: 1 } }] }]
		});
		const assembly = { rate: '25', picture: [run(0, 0, 40, 0.1), run(40, 55, 20, 0.5)] };
		const frame = new Frame(bench);
		const windows = (shot: number) => frame.windowsIn({ assembly } as never, frame.shots[shot]!).map((one) => one.x);
		expect([windows(0), windows(1), windows(2)]).toEqual([[0.1], [0.5], []]);
	});
	it('is split at the playhead and joined only where it was split', () => {
		const frame = new Frame(bench);
		frame.join();
		expect(edits).toEqual([]);
		frame.split();
		expect(edits).toEqual([{ kind: 'part-shot', at_ms: 500 }]);
	});
	it('is marked as fine with all that is doubtful, in whichever shape', () => {
		const frame = new Frame(bench);
		frame.go(2);
		frame.fine();
		expect(edits).toEqual([{ kind: 'fine-shot', at_ms: 4101, codes: ['outside'] }]);
	});
});
