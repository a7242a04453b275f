/** What a player plays, from a recording or from an Assembly. */
import type { Assembly } from '$api/client';
import type { Stretch } from './player.svelte';

/** A rate as the server writes it ('25', '30000/1001'), in frames a second. */
export function rateOf(text: string): number {
	const [above, below] = text.split('/');
	return Number(above) / Number(below ?? 1);
}

/** The segments of an Assembly in milliseconds. */
export function stretchesOf(assembly: Assembly): Stretch[] {
	const frame = 1000 / rateOf(assembly.rate);
	return assembly.segments.map((one) => ({
		sourceMs: one.source_frame * frame,
		lengthMs: one.frames * frame,
		outMs: one.out_frame * frame
	}));
}

export const wholeTalk = (durationMs: number): Stretch[] => [{ sourceMs: 0, lengthMs: durationMs, outMs: 0 }];
