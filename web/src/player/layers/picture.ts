/** The picture of an Assembly at a frame of the output: backdrop and panels of the run that it lies in. */
import type { Assembly } from '$api/client';
import { drawBackdrop } from './backdrop';
import { drawPanels, fill, type Run, type Size } from './panels';
import { drawOver } from './over';
import { toned } from './tone';

/** The run that a frame of the output lies in. */
export function runAt(assembly: Assembly, frame: number): Run {
	return assembly.picture.findLast((run) => run.first_frame <= frame) ?? assembly.picture[0]!;
}

/** Draws a frame of the output on a canvas of any size, from a video that stands at its moment. */
export function drawPicture(pen: CanvasRenderingContext2D, video: HTMLVideoElement, assembly: Assembly, frame: number, size: Size): void {
	const output = assembly.destination;
	const run = runAt(assembly, frame);
	const seen = run.source !== null && video.videoWidth > 0 ? toned(video, run.tone) : null;
	if (!seen || !fill(run.panels ?? [], output)) drawBackdrop(pen, seen, run, output, size);
	if (seen) drawPanels(pen, seen, run, frame, size.width / output.width);
	drawOver(pen, assembly, frame, size.width / output.width);
}
