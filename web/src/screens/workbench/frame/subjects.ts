/** Where those who are followed are at a moment. */
import type { Followed } from '$api/client';
import { lastBy } from '$page/talk';

export type Box = { x: number; y: number; width: number; height: number };
/** Somebody who is not seen for longer is not there. */
const LOST_MS = 1200;

/** The box of a track at a moment of the recording, in fractions of the picture; none where it is not seen then. */
export function boxAt(track: Followed, ms: number): Box | null {
	const { at_ms: times } = track;
	const before = lastBy(times, (at) => at, ms);
	const after = Math.min(before + 1, times.length - 1);
	const from = Math.max(before, 0);
	if (!times.length || ms < times[0]! - 200 || ms > times.at(-1)! + 200) return null;
	const gap = times[after]! - times[from]!;
	if (gap > LOST_MS && ms - times[from]! > 200 && times[after]! - ms > 200) return null;
	const part = gap > 0 ? Math.min(1, Math.max(0, (ms - times[from]!) / gap)) : 0;
	const at = (values: number[]) => values[from]! + (values[after]! - values[from]!) * part;
	return { x: at(track.x), y: at(track.y), width: at(track.width), height: at(track.height) };
}
