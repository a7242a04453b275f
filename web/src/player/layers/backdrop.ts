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
	const house = houseBehind(run);
	if (house && run.behind.kind === 'picture') {
		const shown = covering(house, size);
		pen.drawImage(house.image, shown.x, shown.y, shown.width, shown.height, 0, 0, size.width, size.height);
		return;
	}
	const blurred = run.behind.kind === 'soft-picture' ? house : run.behind.kind === 'blur' ? picture : null;
	if (blurred && small) {
		drawBlurred(pen, blurred, small, run.behind.blur ?? 0, output, size);
		return;
	}
	pen.fillStyle = run.behind.colour;
	pen.fillRect(0, 0, size.width, size.height);
}

function houseBehind(run: Run): Picture | null {
	if (!run.behind.picture || !(run.behind.kind === 'picture' || run.behind.kind === 'soft-picture')) return null;
	const image = housePicture(run.behind.picture);
	return image.complete && image.naturalWidth ? { image, width: image.naturalWidth, height: image.naturalHeight } : null;
}

/** The part of a picture that covers a size. */
function covering(picture: Picture, size: Size): Size & { x: number; y: number } {
	const scale = Math.max(size.width / picture.width, size.height / picture.height);
	const [width, height] = [size.width / scale, size.height / scale];
	return { x: (picture.width - width) / 2, y: (picture.height - height) / 2, width, height };
}

function drawBlurred(pen: CanvasRenderingContext2D, picture: Picture, canvas: HTMLCanvasElement, blur: number, output: Size, size: Size): void {
	const shrink = BLUR_SIDE / Math.min(output.width, output.height);
	canvas.width = even(output.width * shrink);
	canvas.height = even(output.height * shrink);
	const soft = canvas.getContext('2d');
	if (!soft) return;
	const cover = Math.max(canvas.width / picture.width, canvas.height / picture.height);
	const across = picture.width * cover;
	const down = picture.height * cover;
	const left = (canvas.width - across) / 2;
	const top = (canvas.height - down) / 2;
	// Twice: a blur takes what lies outside of a canvas for nothing, and the edges would go dark without something beneath.
	for (const filter of ['none', `blur(${blur}px)`]) {
		soft.filter = filter;
		soft.drawImage(picture.image, left, top, across, down);
	}
	pen.drawImage(canvas, 0, 0, size.width, size.height);
}
