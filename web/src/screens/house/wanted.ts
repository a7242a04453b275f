/** A destination in the form: as it is set, and as one begins. */
import type { Area, Destination, WantedDestination } from '$api/client';

/** The rates that clips are made at, as the server writes them, and as people say them. */
export const RATES = [
	['', 'As the recording'], ['24000/1001', '23.976'], ['24', '24'], ['25', '25'], ['30000/1001', '29.97'], ['30', '30'],
	['48', '48'], ['50', '50'], ['60000/1001', '59.94'], ['60', '60']
] as const;

/** What of a destination a house sets. */
export function wantedOf(one: Destination): WantedDestination {
	const { name, width, height, limit_ms, largest_mb, covered, rate, file_name } = one;
	return { name, width, height, limit_ms, largest_mb, covered: (covered ?? []).map((area) => ({ ...area })), rate: rate ?? null, file_name };
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
