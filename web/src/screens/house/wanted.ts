/** A destination in the form: as it is set, and as one begins. */
import type { Area, Destination, WantedDestination } from '$api/client';

/** The rates that clips are made at, as the server writes them, and as people say them. */
export const RATES = [
	['', 'As the recording'], ['24000/1001', '23.976'], ['24', '24'], ['25', '25'], ['30000/1001', '29.97'], ['30', '30'],
	['48', '48'], ['50', '50'], ['60000/1001', '59.94'], ['60', '60']
] as const;

/** What of a destination a house sets. */
export function wantedOf(one: Destination): WantedDestination {
	const { name, width, height, limit_ms, largest_mb, covered, rate, file_name, texts } = one;
	return { name, width, height, limit_ms, largest_mb, covered: (covered ?? []).map((area) => ({ ...area })), rate: rate ?? null, file_name, texts: { ...texts } };
}

/** A new destination: like another, under a name that no other has. */
export function likeOne(one: Destination, names: string[]): WantedDestination {
	const taken = new Set(names.map((name) => name.toLowerCase()));
	let number = 2;
	while (taken.has(`${one.name} ${number}`.toLowerCase())) number++;
	return { ...wantedOf(one), name: `${one.name} ${number}` };
}

/** An area that stands where it can be seen, to be moved from there. */
export const newArea = (): Area => ({ x: 0, y: 0.8, width: 1, height: 0.2, name: 'covered' });

export type Point = { x: number; y: number };
/** What is drawn smaller than this, in parts of the picture, was a click. */
const LEAST = 0.02;

/** The area between two points of a picture, in parts of it, as far as it is inside; none where it is too small to be meant. */
export function areaBetween(one: Point, other: Point): Area | null {
	const inside = (value: number) => Math.min(1, Math.max(0, Math.round(value * 1000) / 1000));
	const [x, right] = [inside(Math.min(one.x, other.x)), inside(Math.max(one.x, other.x))];
	const [y, bottom] = [inside(Math.min(one.y, other.y)), inside(Math.max(one.y, other.y))];
	const [width, height] = [inside(right - x), inside(bottom - y)];
	return width < LEAST || height < LEAST ? null : { x, y, width, height, name: 'covered' };
}
