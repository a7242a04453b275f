/** Colours of a picture as it is drawn. */

/** A colour by its parts (0 to 255), as the server writes it: `#0B6EFF`. */
export const colourCode = (...parts: number[]) => `#${parts.map((one) => one.toString(16).padStart(2, '0')).join('')}`.toUpperCase();

/** The colour of a canvas where it is clicked. */
export function colourUnder(canvas: HTMLCanvasElement, event: MouseEvent): string {
	const box = canvas.getBoundingClientRect();
	const [x, y] = [((event.clientX - box.left) * canvas.width) / box.width, ((event.clientY - box.top) * canvas.height) / box.height];
	const [red, green, blue] = canvas.getContext('2d')?.getImageData(Math.floor(x), Math.floor(y), 1, 1).data ?? [0, 0, 0];
	return colourCode(red!, green!, blue!);
}
