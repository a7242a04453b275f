/** The width of words in the reading face, measured once each. */
const FONT = '17px "Source Serif 4"';

let pen: CanvasRenderingContext2D | null = null;
const widths = new Map<string, number>();

/** Waits for the reading face, without which every line would be measured wrong. */
export async function readingFace(): Promise<void> {
	await document.fonts.load(FONT);
	pen = document.createElement('canvas').getContext('2d');
	if (pen) pen.font = FONT;
	widths.clear();
}

export function widthOf(text: string): number {
	let width = widths.get(text);
	if (width === undefined) {
		width = pen?.measureText(text).width ?? text.length * 8;
		widths.set(text, width);
	}
	return width;
}
