/** Light: a soft white oval over the face in a panel. */
import type { Panel } from './panels';

type Light = NonNullable<Panel['light']>;

/** The strength of a light at so many parts of the way to its edge, as the renderer has it. */
const STEPS = Array.from({ length: 13 }, (_, step) => step / 12);
const left = (way: number) => Math.max(0, 1 - way * way) ** 2;

/** Where the middle of a light stands in its panel at a frame: straight from key to key. */
export function lightAt(light: Light, frame: number): { x: number; y: number } {
	const after = light.keys.findIndex((key) => key.frame > frame);
	if (after === 0) return light.keys[0]!;
	if (after < 0) return light.keys.at(-1)!;
	const one = light.keys[after - 1]!;
	const other = light.keys[after]!;
	const part = (frame - one.frame) / (other.frame - one.frame);
	return { x: one.x + (other.x - one.x) * part, y: one.y + (other.y - one.y) * part };
}

/** Draws the light of a panel on a canvas that shows the output at `scale`. */
export function drawLight(pen: CanvasRenderingContext2D, panel: Panel, light: Light, frame: number, scale: number): void {
	const at = lightAt(light, frame);
	pen.save();
	pen.beginPath();
	pen.rect(panel.x_px * scale, panel.y_px * scale, panel.width_px * scale, panel.height_px * scale);
	pen.clip();
	pen.translate((panel.x_px + at.x) * scale, (panel.y_px + at.y) * scale);
	pen.scale((light.width_px / 2) * scale, (light.height_px / 2) * scale);
	const fill = pen.createRadialGradient(0, 0, 0, 0, 0, 1);
	for (const way of STEPS) fill.addColorStop(way, `rgba(255, 255, 255, ${(light.strength * left(way)).toFixed(4)})`);
	pen.fillStyle = fill;
	pen.fillRect(-1, -1, 2, 2);
	pen.restore();
}
