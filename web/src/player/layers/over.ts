/** What stands over the picture as a picture: logos, inserts, footage and spotlights, each as it is burned in. */
import type { Assembly } from '$api/client';
import type { Player } from '../player.svelte';
import { fractionOf } from '../stretches';

type Placed = NonNullable<Assembly['overlays']>[number];
export type PictureOver = Extract<Placed, { kind: 'picture' }>;
export type FootageOver = Extract<Placed, { kind: 'footage' }>;
export type Spotlight = Extract<Placed, { kind: 'spotlight' }>;

/** Those that were drawn, by their addresses. */
const drawn = new Map<string, HTMLImageElement>();
const even = (value: number) => 2 * Math.round(value / 2);
/** A spotlight is wholly light as far as this part of its size. */
const SOFT = 0.82;

function addressOf(one: PictureOver): string {
	const grown = 1 + (one.push ?? 0);
	const size = `${even(one.width_px * grown)}x${even(one.height_px * grown)}`;
	return `/api/house/pictures/${one.picture}/${size}.png?revision=${one.revision ?? 1}${one.round ? '&round=true' : ''}`;
}

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

/** How much of something is seen at a frame, 0 to 1: it may come over some frames, and a picture goes over as many. */
export function opacityAt(one: PictureOver | FootageOver | Spotlight, frame: number): number {
	if (frame < one.first_frame || frame >= one.end_frame) return 0;
	const fade = one.fade_frames ?? 0;
	const whole = one.kind === 'picture' ? (one.opacity ?? 1) : 1;
	if (!fade) return whole;
	const since = frame - one.first_frame;
	const left = one.end_frame - fade;
	const goes = one.kind !== 'spotlight' && frame >= left ? 1 - (frame - left) / fade : 1;
	return whole * Math.min(1, since / fade, goes);
}

/** How far something has moved at a frame: straight from key to key, still before the first and after the last. */
export function shiftAt(path: { frame: number; x: number; y: number }[], frame: number): { x: number; y: number } {
	const after = path.findIndex((key) => key.frame > frame);
	if (!path.length) return { x: 0, y: 0 };
	if (after <= 0) return after === 0 ? path[0]! : path.at(-1)!;
	const [one, other] = [path[after - 1]!, path[after]!];
	const part = (frame - one.frame) / (other.frame - one.frame);
	return { x: one.x + (other.x - one.x) * part, y: one.y + (other.y - one.y) * part };
}

/** Draws what shows at a frame, on a canvas that shows the output at `scale`. */
export function drawOver(pen: CanvasRenderingContext2D, player: Pick<Player, 'film'>, assembly: Assembly, frame: number, scale: number): void {
	for (const one of assembly.overlays ?? []) {
		if (one.kind !== 'picture' && one.kind !== 'spotlight' && one.kind !== 'footage') continue;
		const opacity = opacityAt(one, frame);
		if (opacity <= 0) continue;
		pen.globalAlpha = opacity;
		if (one.kind === 'picture') drawOne(pen, one, frame, scale);
		else if (one.kind === 'footage') drawFootage(pen, player, one, assembly, frame, scale);
		else drawDark(pen, one, frame, scale, assembly.destination);
		pen.globalAlpha = 1;
	}
}

function drawOne(pen: CanvasRenderingContext2D, one: PictureOver, frame: number, scale: number): void {
	const picture = shownPicture(one);
	if (!picture.complete || !picture.naturalWidth) return;
	const [x, y, width, height] = [one.x_px, one.y_px, one.width_px, one.height_px].map((value) => value * scale) as [number, number, number, number];
	if (!one.push) {
		pen.drawImage(picture, x, y, width, height);
		return;
	}
	// As large as it has grown, of which its box shows the middle.
	const grown = 1 + (one.push * (frame - one.first_frame)) / Math.max(1, one.end_frame - one.first_frame - 1);
	const across = (one.width_px / even(one.width_px * grown)) * picture.naturalWidth;
	const down = (one.height_px / even(one.height_px * grown)) * picture.naturalHeight;
	pen.drawImage(picture, (picture.naturalWidth - across) / 2, (picture.naturalHeight - down) / 2, across, down, x, y, width, height);
}

function drawFootage(pen: CanvasRenderingContext2D, player: Pick<Player, 'film'>, one: FootageOver, assembly: Assembly, frame: number, scale: number): void {
	// In the middle of its frame, so that no rounding shows the one before.
	const ms = ((one.source_frame + frame - one.first_frame + 0.5) * 1000) / fractionOf(assembly.rate);
	const film = player.film(String(one.item), one.recording, ms);
	if (!film?.videoWidth) return;
	const { x, y, width, height } = one.window;
	pen.drawImage(
		film, x * film.videoWidth, y * film.videoHeight, width * film.videoWidth, height * film.videoHeight,
		one.x_px * scale, one.y_px * scale, one.width_px * scale, one.height_px * scale
	);
}

function drawDark(pen: CanvasRenderingContext2D, one: Spotlight, frame: number, scale: number, output: { width: number; height: number }): void {
	const shift = shiftAt(one.path ?? [], frame);
	const left = even(one.x_px - output.width + shift.x) + output.width;
	const top = even(one.y_px - output.height + shift.y) + output.height;
	pen.save();
	pen.beginPath();
	pen.rect(0, 0, output.width * scale, output.height * scale);
	pen.clip();
	pen.translate(left * scale, top * scale);
	pen.scale(1, one.down_px / one.across_px);
	const reach = one.across_px * scale;
	const dark = pen.createRadialGradient(0, 0, reach * SOFT, 0, 0, reach);
	dark.addColorStop(0, 'rgb(0 0 0 / 0)');
	dark.addColorStop(1, `rgb(0 0 0 / ${one.darkness})`);
	pen.fillStyle = dark;
	const far = 4 * Math.max(output.width, output.height) * scale * Math.max(1, one.across_px / one.down_px);
	pen.fillRect(-far, -far, 2 * far, 2 * far);
	pen.restore();
}
