/** The picture of an Assembly at a frame of the output: backdrop and panels of the run that it lies in. */
import type { Assembly } from '$api/client';
import { drawBackdrop } from './backdrop';
import { drawPanels, fill, type Picture, type Run, type Size } from './panels';
import { drawOver } from './over';
import { fractionOf } from '../stretches';
import type { Player } from '../player.svelte';
import { toned } from './tone';

/** The run that a frame of the output lies in. */
export function runAt(assembly: Assembly, frame: number): Run {
	return assembly.picture.findLast((run) => run.first_frame <= frame) ?? assembly.picture[0]!;
}

/** The still that the cover of an Assembly shows of the recording; none where it shows something else, or there is no cover. */
export function coverStill(player: Pick<Player, 'still'>, assembly: Assembly): HTMLImageElement | null {
	const run = assembly.picture[0];
	if (!run || !(assembly.cover_frames ?? 0) || run.source === null) return null;
	return player.still(Math.round(((run.source_frame ?? 0) * 1000) / fractionOf(assembly.rate)));
}

/** Draws a frame of the output on a canvas of any size, from a player that stands at its moment. */
export function drawPicture(pen: CanvasRenderingContext2D, player: Pick<Player, 'film' | 'still' | 'video'>, assembly: Assembly, frame: number, size: Size): void {
	const output = assembly.destination;
	const run = runAt(assembly, frame);
	const picture = frame < (assembly.cover_frames ?? 0) ? pictureOf(coverStill(player, assembly)) : pictureOf(player.video);
	const seen = run.source !== null && picture ? toned(picture, run.tone) : null;
	if (!seen || !fill(run.panels ?? [], output)) drawBackdrop(pen, seen, run, output, size);
	if (seen) drawPanels(pen, seen, run, frame, size.width / output.width);
	drawOver(pen, player, assembly, frame, size.width / output.width);
}

/** What an element shows; none where it shows nothing yet. */
function pictureOf(element: HTMLVideoElement | HTMLImageElement | null): Picture | null {
	if (!element) return null;
	const [width, height] = 'videoWidth' in element ? [element.videoWidth, element.videoHeight] : [element.naturalWidth, element.naturalHeight];
	return width > 0 ? { image: element, width, height } : null;
}
