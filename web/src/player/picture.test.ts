import { describe, expect, it } from 'vitest';
import type { Assembly } from '$api/client';
import { drawShape } from './picture';

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

const video = { videoWidth: 960, videoHeight: 540 } as HTMLVideoElement;
const assembly = (picture: unknown, framing: unknown = { colour: '#0B6E6E', backdrop: 'colour' }) =>
	({ destination: { width: 1080, height: 1920 }, picture, framing }) as unknown as Assembly;

describe('drawing a shape', () => {
	it('takes the window of the source and fills the canvas with it', () => {
		const { calls, context } = pen();
		const window = { x: 0.5, y: 0, width: 0.31640625, height: 1 };
		drawShape(context, video, assembly({ window, x_px: 0, y_px: 0, width_px: 1080, height_px: 1920 }), { width: 270, height: 480 });
		expect(calls).toEqual([{ kind: 'image', args: [480, 0, 304, 540, 0, 0, 270, 480] }]);
	});

	it('stands the whole picture on its colour where it does not cover the canvas', () => {
		const { calls, context } = pen();
		const window = { x: 0, y: 0, width: 1, height: 1 };
		drawShape(context, video, assembly({ window, x_px: 0, y_px: 656, width_px: 1080, height_px: 608 }), { width: 270, height: 480 });
		expect(calls).toEqual([
			{ kind: 'fill', args: [0, 0, 270, 480], fill: '#0B6E6E' },
			{ kind: 'image', args: [0, 0, 960, 540, 0, 164, 270, 152] }
		]);
	});

	it('shows the colour alone for a recording without picture', () => {
		const { calls, context } = pen();
		drawShape(context, video, assembly(null), { width: 10, height: 10 });
		expect(calls).toEqual([{ kind: 'fill', args: [0, 0, 10, 10], fill: '#0B6E6E' }]);
	});
});
