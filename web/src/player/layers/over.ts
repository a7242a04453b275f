/** Pictures that stand over the picture: logos and inserts, each at the size it is burned in at. */
import type { Assembly } from '$api/client';

type Placed = NonNullable<Assembly['overlays']>[number];
export type PictureOver = Extract<Placed, { kind: 'picture' }>;

/** Those that were drawn, by their addresses. */
const drawn = new Map<string, HTMLImageElement>();

const addressOf = (one: PictureOver) => `/api/house/pictures/${one.picture}/${one.width_px}x${one.height_px}.png?revision=${one.revision ?? 1}`;

export const picturesOver = (assembly: Assembly): PictureOver[] => (assembly.overlays ?? []).filter((one) => one.kind === 'picture');

/** The picture at its size; it may still be on its way, and whoever draws is told by `load` when it is there. */
export function shownPicture(one: PictureOver): HTMLImageElement {
	const address = addressOf(one);
	let picture = drawn.get(address);
	if (!picture) {
		picture = new Image();
		picture.src = address;
		drawn.set(address, picture);
	}
	return picture;
}

/** How much of a picture is seen at a frame, 0 to 1: it may come and go over some frames. */
export function opacityAt(one: PictureOver, frame: number): number {
	if (frame < one.first_frame || frame >= one.end_frame) return 0;
	const fade = one.fade_frames ?? 0;
	const whole = one.opacity ?? 1;
	if (!fade) return whole;
	const since = frame - one.first_frame;
	const left = one.end_frame - fade;
	return whole * Math.min(1, since / fade, frame < left ? 1 : 1 - (frame - left) / fade);
}

/** Draws those that show at a frame, on a canvas that shows the output at `scale`. */
export function drawOver(pen: CanvasRenderingContext2D, assembly: Assembly, frame: number, scale: number): void {
	for (const one of picturesOver(assembly)) {
		const opacity = opacityAt(one, frame);
		if (opacity <= 0) continue;
		const picture = shownPicture(one);
		if (!picture.complete || !picture.naturalWidth) continue;
		pen.globalAlpha = opacity;
		pen.drawImage(picture, one.x_px * scale, one.y_px * scale, one.width_px * scale, one.height_px * scale);
		pen.globalAlpha = 1;
	}
}
