/** Panels: windows of a source drawn into their boxes, as they are at a frame of the output. */
import type { Assembly } from '$api/client';
import { drawLight } from './light';

export type Run = Assembly['picture'][number];
export type Panel = NonNullable<Run['panels']>[number];
export type Window = Panel['keys'][number]['window'];
export type Size = { width: number; height: number };

/** A picture of a source, and how large it is. */
export type Picture = { image: CanvasImageSource } & Size;

/** The window of a panel at a frame: straight from key to key, still before the first and after the last. */
export function windowAt(panel: Panel, frame: number): Window {
	const { keys } = panel;
	const after = keys.findIndex((key) => key.frame > frame);
	if (after === 0) return keys[0]!.window;
	if (after < 0) return keys.at(-1)!.window;
	const one = keys[after - 1]!;
	const other = keys[after]!;
	const part = (frame - one.frame) / (other.frame - one.frame);
	const mixed = (a: number, b: number) => a + (b - a) * part;
	return {
		x: mixed(one.window.x, other.window.x),
		y: mixed(one.window.y, other.window.y),
		width: mixed(one.window.width, other.window.width),
		height: mixed(one.window.height, other.window.height)
	};
}

/** Whether panels leave none of the output free. */
export function fill(panels: Panel[], output: Size): boolean {
	return panels.reduce((area, one) => area + one.width_px * one.height_px, 0) === output.width * output.height;
}

/** Draws the panels of a run on a canvas that shows the output at `scale`. */
export function drawPanels(pen: CanvasRenderingContext2D, picture: Picture, run: Run, frame: number, scale: number): void {
	for (const panel of run.panels ?? []) {
		const window = windowAt(panel, frame);
		pen.drawImage(
			picture.image,
			window.x * picture.width, window.y * picture.height,
			window.width * picture.width, window.height * picture.height,
			panel.x_px * scale, panel.y_px * scale, panel.width_px * scale, panel.height_px * scale
		);
		if (panel.light) drawLight(pen, panel, panel.light, frame, scale);
	}
}
