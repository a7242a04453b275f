/** Drawing the sound beside the words: a waveform that runs down the page at the same scale as they do. */
import type { Band } from './layout';

export type Shade = 'plain' | 'kept' | 'struck' | 'out';

const BAR_PX = 2;

/** Draws the bars of some bands; `top` is the page's scroll. */
export function drawWave(
	pen: CanvasRenderingContext2D,
	bands: Band[],
	top: number,
	peaks: Uint8Array,
	size: { width: number; height: number },
	shade: (ms: number) => Shade,
	colours: Record<Shade, string>
): void {
	pen.clearRect(0, 0, size.width, size.height);
	const middle = size.width / 2;
	for (const band of bands) {
		const perPx = (band.untilMs - band.startMs) / band.height;
		for (let y = 0; y < band.height; y += BAR_PX) {
			const from = band.startMs + y * perPx;
			const loud = loudest(peaks, from, from + BAR_PX * perPx) / 255;
			const half = Math.max(0.5, loud * (middle - 2));
			pen.fillStyle = colours[shade(from)];
			pen.fillRect(middle - half, band.y - top + y, half * 2, BAR_PX - 0.5);
		}
	}
}

/** The loudest of the peaks (one each 10 ms) in a stretch of time. */
export function loudest(peaks: Uint8Array, fromMs: number, toMs: number): number {
	let most = 0;
	const end = Math.min(peaks.length, Math.max(Math.floor(fromMs / 10) + 1, Math.ceil(toMs / 10)));
	for (let i = Math.max(0, Math.floor(fromMs / 10)); i < end; i++) if (peaks[i]! > most) most = peaks[i]!;
	return most;
}
