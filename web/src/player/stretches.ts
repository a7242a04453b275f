/** What a player plays, from a recording or from an Assembly. */
import type { Assembly } from '$api/client';
import type { Stretch } from './player.svelte';

/** A fraction as the server writes it ('25', '30000/1001'): a rate in frames a second, or a step. */
export function fractionOf(text: string): number {
	const [above, below] = text.split('/');
	return Number(above) / Number(below ?? 1);
}

/** The frame of the output that is shown at a moment of it. */
export function frameAt(assembly: Assembly, outMs: number): number {
	return Math.floor((outMs * fractionOf(assembly.rate)) / 1000 + 0.001);
}

/** The stretches of the recording that an Assembly plays, in milliseconds of the output: runs that go on in the source are
 * one. Where there is no picture, those of its sound. */
export function stretchesOf(assembly: Assembly): Stretch[] {
	const frame = 1000 / fractionOf(assembly.rate);
	const cover = assembly.cover_frames ?? 0;
	const runs = assembly.picture.filter((run) => run.source !== null && run.first_frame >= cover);
	if (runs.length === 0) return toTheEnd(spoken(assembly), assembly);
	const stretches: Stretch[] = [];
	for (const run of runs) {
		const rate = fractionOf(run.step ?? '1');
		// The cover stands in place of the cut's first frame, and is no stretch of its own.
		const covered = stretches.length ? 0 : Math.min(cover, run.first_frame) * frame;
		const one = {
			sourceMs: Math.max(0, (run.source_frame ?? 0) * frame - covered * rate),
			lengthMs: run.frames * frame + covered,
			outMs: run.first_frame * frame - covered,
			rate
		};
		const last = stretches.at(-1);
		const goesOn = last && last.rate === rate && Math.abs(last.sourceMs + last.lengthMs * rate - one.sourceMs) <= frame * rate;
		if (goesOn) last.lengthMs += one.lengthMs;
		else stretches.push(one);
	}
	return toTheEnd(stretches, assembly);
}

/** With what is shown after the recording has ended: an end card. */
function toTheEnd(stretches: Stretch[], assembly: Assembly): Stretch[] {
	const last = stretches.at(-1);
	const until = (assembly.frames * 1000) / fractionOf(assembly.rate);
	const from = last ? last.outMs + last.lengthMs : 0;
	if (!last || assembly.card_frame == null || until - from < 1) return stretches;
	return [...stretches, { sourceMs: last.sourceMs + last.lengthMs * (last.rate ?? 1), lengthMs: until - from, outMs: from, rate: 0 }];
}

function spoken(assembly: Assembly): Stretch[] {
	return (assembly.sound.played ?? []).map((one) => ({
		sourceMs: one.source_ms, lengthMs: one.out_end_ms - one.out_ms, outMs: one.out_ms, rate: one.times ?? 1
	}));
}

/** The moment of the output at which a moment of the recording is heard; where it is cut out, where the cut goes on. */
export function outAtSource(assembly: Assembly, sourceMs: number): number {
	const played = assembly.sound.played ?? [];
	const one = played.find((stretch) => sourceMs < stretch.source_ms + stretch.length_ms) ?? played.at(-1);
	if (!one) return 0;
	return Math.min(one.out_end_ms, one.out_ms + Math.max(0, sourceMs - one.source_ms) / (one.times ?? 1));
}

export const wholeTalk = (durationMs: number): Stretch[] => [{ sourceMs: 0, lengthMs: durationMs, outMs: 0 }];
