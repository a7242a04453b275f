/** Backdrops: what stands behind panels that leave some of the output free. */
import type { Picture, Run, Size } from './panels';

/** The same small size as the renderer's, so that the backdrops agree. */
const BLUR_SIDE = 136;

const small = typeof document === 'undefined' ? null : document.createElement('canvas');
const even = (value: number) => Math.round(value / 2) * 2;

/** Fills a canvas of a size with what is behind a run; without a picture, with its colour. */
export function drawBackdrop(pen: CanvasRenderingContext2D, picture: Picture | null, run: Run, output: Size, size: Size): void {
	if (!picture || run.behind.kind === 'colour' || !small) {
		pen.fillStyle = run.behind.colour;
		pen.fillRect(0, 0, size.width, size.height);
		return;
	}
	const shrink = BLUR_SIDE / Math.min(output.width, output.height);
	small.width = even(output.width * shrink);
	small.height = even(output.height * shrink);
	const soft = small.getContext('2d');
	if (!soft) return;
	const cover = Math.max(small.width / picture.width, small.height / picture.height);
	const across = picture.width * cover;
	const down = picture.height * cover;
	const left = (small.width - across) / 2;
	const top = (small.height - down) / 2;
	// Twice: a blur takes what lies outside of a canvas for nothing, and the edges would go dark without something beneath.
	for (const filter of ['none', `blur(${run.behind.blur}px)`]) {
		soft.filter = filter;
		soft.drawImage(picture.image, left, top, across, down);
	}
	pen.drawImage(small, 0, 0, size.width, size.height);
}
