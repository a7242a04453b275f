/** What a player plays, from a recording or from an Assembly. */
import type { Assembly } from '$api/client';
import type { Stretch } from './player.svelte';

/** A rate as the server writes it ('25', '30000/1001'), in frames a second. */
export function rateOf(text: string): number {
	const [above, below] = text.split('/');
	return Number(above) / Number(below ?? 1);
}

/** The segments of an Assembly in milliseconds of the output. */
export function stretchesOf(assembly: Assembly): Stretch[] {
	const speed = assembly.speed ?? 1;
	const frame = 1000 / rateOf(assembly.rate);
	return assembly.segments.map((one) => ({
		sourceMs: one.source_frame * frame,
		lengthMs: (one.frames * frame) / speed,
		outMs: (one.out_frame * frame) / speed,
		rate: speed
	}));
}

/** How much larger than planned the picture is shown at a moment of the output, where jumps are softened. */
export function scaleAt(assembly: Assembly, outMs: number): number {
	const at = (outMs * (assembly.speed ?? 1) * rateOf(assembly.rate)) / 1000 + 0.001;
	return assembly.segments.findLast((one) => one.out_frame <= at)?.scale ?? 1;
}

export const wholeTalk = (durationMs: number): Stretch[] => [{ sourceMs: 0, lengthMs: durationMs, outMs: 0 }];
