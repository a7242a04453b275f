import { describe, expect, it } from 'vitest';
import type { Assembly } from '$api/client';
import type { Panel, Run } from './panels';
import { windowAt } from './panels';
import { drawPicture, runAt } from './picture';

type Call = { kind: string; args: number[]; fill?: string };

function pen(): { calls: Call[]; context: CanvasRenderingContext2D } {
	const calls: Call[] = [];
	const context = {
		fillStyle: '',
		fillRect(...args: number[]) {
			calls.push({ kind: 'fill', args, fill: context.fillStyle });
		},
		drawImage(_image: unknown, ...args: number[]) {
			calls.push({ kind: 'image', args: args.map(Math.round) });
		}
	};
	return { calls, context: context as unknown as CanvasRenderingContext2D };
}

const stillImage = { naturalWidth: 1920, naturalHeight: 1080, complete: true } as HTMLImageElement;
const video = { videoWidth: 960, videoHeight: 540 } as HTMLVideoElement;
const AS_IT_IS = { power: 1, odds: 1, chroma: 1, blue: 0, red: 0 };
const TALL = { x: 0.5, y: 0, width: 0.31640625, height: 1 };
const ALL = { x: 0, y: 0, width: 1, height: 1 };
const still = (window: typeof ALL, [x, y, w, h]: [number, number, number, number]): Panel => ({
	x_px: x, y_px: y, width_px: w, height_px: h, keys: [{ frame: 0, window }]
});
const run = (panels: Panel[], more: Partial<Run> = {}): Run => ({
	first_frame: 0, frames: 50, source: 'recording', source_frame: 0, step: '1', panels, behind: { kind: 'colour', colour: '#0B6E6E', blur: 5 }, tone: AS_IT_IS, ...more
});
const assembly = (...picture: Run[]) => ({ destination: { width: 1080, height: 1920 }, picture }) as unknown as Assembly;
const drawn = (of: Assembly, frame = 0) => {
	const { calls, context } = pen();
	drawPicture(context, { video, still: () => stillImage, film: () => null }, of, frame, { width: 270, height: 480 });
	return calls;
};

describe('drawing a frame', () => {
	it('takes the window of the source and fills the canvas with it', () => {
		expect(drawn(assembly(run([still(TALL, [0, 0, 1080, 1920])])))).toEqual([
			{ kind: 'image', args: [480, 0, 304, 540, 0, 0, 270, 480] }
		]);
	});

	it('stands the whole picture on its colour where it does not cover the canvas', () => {
		expect(drawn(assembly(run([still(ALL, [0, 656, 1080, 608])])))).toEqual([
			{ kind: 'fill', args: [0, 0, 270, 480], fill: '#0B6E6E' },
			{ kind: 'image', args: [0, 0, 960, 540, 0, 164, 270, 152] }
		]);
	});

	it('draws the cover from a still of its moment, and what follows from the video', () => {
		const covered = { ...assembly(run([still(TALL, [0, 0, 1080, 1920])], { frames: 1 }), run([still(TALL, [0, 0, 1080, 1920])], { first_frame: 1 })), cover_frames: 1, rate: '25' } as unknown as Assembly;
		expect(drawn(covered, 0)).toEqual([{ kind: 'image', args: [960, 0, 608, 1080, 0, 0, 270, 480] }]);
		expect(drawn(covered, 1)).toEqual([{ kind: 'image', args: [480, 0, 304, 540, 0, 0, 270, 480] }]);
	});

	it('draws each tile in its box', () => {
		const tiles = [still(ALL, [0, 0, 1080, 800]), still(TALL, [0, 800, 1080, 1120])];
		expect(drawn(assembly(run(tiles))).map((one) => one.args.slice(4))).toEqual([
			[0, 0, 270, 200],
			[0, 200, 270, 280]
		]);
	});

	it('shows the colour alone for a run without a source', () => {
		expect(drawn(assembly(run([], { source: null })))).toEqual([{ kind: 'fill', args: [0, 0, 270, 480], fill: '#0B6E6E' }]);
	});

	it('shows the run that the frame lies in', () => {
		const of = assembly(run([still(TALL, [0, 0, 1080, 1920])]), run([], { first_frame: 50, source: null }));
		expect([runAt(of, 49).source, runAt(of, 50).source]).toEqual(['recording', null]);
		expect(drawn(of, 50)[0]!.kind).toBe('fill');
	});
});

describe('a window that moves', () => {
	const panel: Panel = {
		...still(ALL, [0, 0, 2, 2]),
		keys: [{ frame: 10, window: { x: 0, y: 0, width: 0.4, height: 1 } }, { frame: 20, window: { x: 0.5, y: 0, width: 0.2, height: 0.5 } }]
	};

	it('goes straight from key to key and stands still outside them', () => {
		expect(windowAt(panel, 5)).toEqual(panel.keys[0]!.window);
		expect(windowAt(panel, 15).x).toBeCloseTo(0.25);
		expect(windowAt(panel, 15).width).toBeCloseTo(0.3);
		expect(windowAt(panel, 90)).toEqual(panel.keys[1]!.window);
	});
});
