/** Exports as cards: one a quote, with the newest of each of its files. */
import type { Export } from '$api/client';

export type Card = { quoteId: number; title: string; recordingId: number; recording: string; at: string; exports: Export[]; older: number };
export type Shown = 'all' | 'going' | 'done' | 'faults' | 'changed';
export type Wanted = { talk: number | null; state: Shown; since: string; text: string };

const kindOf = (one: Export): string => `${one.destination.id} ${one.making.kind} ${one.making.codec} ${one.making.quality} ${one.making.size_mb ?? ''}`;
export const isGoing = (one: Export): boolean => one.state === 'queued' || one.state === 'running';
export const isFaulty = (one: Export): boolean => one.state === 'failed' || one.findings.some((finding) => finding.severity === 'stop');

function fits(one: Export, wanted: Wanted): boolean {
	if (wanted.talk !== null && one.recording_id !== wanted.talk) return false;
	if (wanted.since && one.created_at.slice(0, 10) < wanted.since) return false;
	if (wanted.text && !`${one.quote_title} ${one.recording_title} ${one.destination.name}`.toLowerCase().includes(wanted.text.toLowerCase())) return false;
	if (wanted.state === 'going') return isGoing(one);
	if (wanted.state === 'done') return one.state === 'done';
	if (wanted.state === 'faults') return isFaulty(one);
	return wanted.state === 'all' || (one.state === 'done' && !one.current);
}

/** The cards of some exports, newest first. Of files of one kind the newest shows; those before it are counted. */
export function cardsOf(exports: Export[], wanted: Wanted): Card[] {
	const cards = new Map<number, Card & { kinds: Set<string> }>();
	for (const one of exports) {
		if (!fits(one, wanted)) continue;
		const card = cards.get(one.quote_id) ?? {
			quoteId: one.quote_id, title: one.quote_title, recordingId: one.recording_id, recording: one.recording_title, at: one.created_at, exports: [], older: 0, kinds: new Set()
		};
		cards.set(one.quote_id, card);
		const kind = kindOf(one);
		// What failed or was cancelled is told until the same is there after all.
		if (card.kinds.has(kind)) card.older += one.state === 'done' ? 1 : 0;
		else {
			card.kinds.add(kind);
			card.exports.push(one);
		}
	}
	return [...cards.values()].map(({ kinds: _, ...card }) => card);
}

/** The line that is said of a card as a whole. */
export function saidOf(card: Card): { says: string; kind: 'good' | 'bad' | 'going' | 'plain' } {
	const going = card.exports.filter(isGoing).length;
	const faulty = card.exports.filter(isFaulty).length;
	const done = card.exports.filter((one) => one.state === 'done').length;
	if (faulty) return { says: `${faulty} of ${card.exports.length} with a fault`, kind: 'bad' };
	if (going) return { says: `${going} of ${card.exports.length} to go`, kind: 'going' };
	if (done === card.exports.length) return { says: 'All checks passed', kind: 'good' };
	return { says: `${done} of ${card.exports.length} exported`, kind: 'plain' };
}
