/** Backdrops: what stands behind panels that leave some of the output free. */
import type { Picture, Run, Size } from './panels';

/** The same small size as the renderer's, so that the backdrops agree. */
const BLUR_SIDE = 136;

const small = typeof document === 'undefined' ? null : document.createElement('canvas');
/** The house's pictures that were drawn, by their numbers. */
const pictures = new Map<number, HTMLImageElement>();

export const housePictureUrl = (number: number) => `/api/house/pictures/${number}`;

/** A picture of the house's; it may still be on its way, and whoever draws is told by `load` when it is there. */
export function housePicture(number: number): HTMLImageElement {
	let picture = pictures.get(number);
	if (!picture) {
		picture = new Image();
		picture.src = housePictureUrl(number);
		pictures.set(number, picture);
	}
	return picture;
}

const even = (value: number) => Math.round(value / 2) * 2;

/** Fills a canvas of a size with what is behind a run; without a picture, with its colour. */
export function drawBackdrop(pen: CanvasRenderingContext2D, picture: Picture | null, run: Run, output: Size, size: Size): void {
	const house = run.behind.kind === 'picture' && run.behind.picture ? housePicture(run.behind.picture) : null;
	if (house?.complete && house.naturalWidth) {
		const { width, height } = size;
		const cover = Math.max(width / house.naturalWidth, height / house.naturalHeight);
		const across = width / cover;
		const down = height / cover;
		pen.drawImage(house, (house.naturalWidth - across) / 2, (house.naturalHeight - down) / 2, across, down, 0, 0, width, height);
		return;
	}
	if (!picture || run.behind.kind !== 'blur' || !small) {
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
