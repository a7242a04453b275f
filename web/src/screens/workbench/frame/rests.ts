/** The cameras of a layout, and where they rest. */
import type { FramedShot } from '$api/client';

export type Layout = FramedShot['layout'];
type Single = Extract<Layout, { kind?: 'single' }>;
export type Camera = NonNullable<Single['camera']>;
export type Rest = Extract<Camera, { kind?: 'move' }>['rests'][number];
export type At = { x: number; y: number; zoom: number };

const STILL: Camera = { kind: 'hold', at: { x: 0.5, y: 0.5, zoom: 1 } };
const seen = (view: { x?: number; y?: number; zoom?: number } | undefined): At => ({ x: view?.x ?? 0.5, y: view?.y ?? 0.5, zoom: view?.zoom ?? 1 });

export function camerasOf(layout: Layout): Camera[] {
	if (layout.kind === 'whole') return [{ kind: 'hold', at: layout.at ?? seen(undefined) }];
	if (layout.kind === 'tiles') return layout.tiles.map((one) => one.camera ?? STILL);
	if (layout.kind === 'boxes') return layout.boxes.map((one) => one.camera ?? STILL);
	return [layout.camera ?? STILL];
}

/** The rests of a camera that moves; one that stands still has none to tell apart. */
export function restsOf(camera: Camera): Rest[] {
	return camera.kind === 'move' ? camera.rests : [];
}

/** Where a camera looks at a moment of the recording. */
export function viewAt(camera: Camera, ms: number): At {
	if (camera.kind !== 'move') return seen(camera.at);
	const { rests } = camera;
	const after = rests.findIndex((one) => one.from_ms > ms);
	if (after < 0) return seen(rests.at(-1)!.at);
	if (after === 0 || ms <= rests[after - 1]!.to_ms) return seen(rests[Math.max(0, after - 1)]!.at);
	const [one, other] = [rests[after - 1]!, rests[after]!];
	let part = (ms - one.to_ms) / (other.from_ms - one.to_ms);
	if (camera.ease !== 'even') part = part * part * (3 - 2 * part);
	const [a, b] = [seen(one.at), seen(other.at)];
	const mixed = (from: number, to: number) => from + (to - from) * part;
	return { x: mixed(a.x, b.x), y: mixed(a.y, b.y), zoom: mixed(a.zoom, b.zoom) };
}
