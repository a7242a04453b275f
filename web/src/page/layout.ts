/** Laying a talk out down the page: sentences broken into lines of known place, so that any stretch can be drawn alone. */
import { lastBy, type Talk } from './talk';

export const LINE_PX = 28;
const BETWEEN_PX = 8;
const PAUSE_PX = 26;
const SPEAKER_PX = 30;
/** A pause this long is shown as a chip, and as more space. */
export const PAUSE_MS = 800;

export type Line = {
	y: number;
	sentence: number;
	first: number;
	end: number;
	startMs: number;
	/** Where the next line takes over, so that time runs on without gaps. */
	untilMs: number;
};

export type Chip = { y: number; kind: 'pause' | 'speaker'; text: string; atMs: number };

export type Laid = { lines: Line[]; chips: Chip[]; height: number };

/** Lays a talk out for a text width, given the width of each word as drawn and of a space. */
export function layOut(talk: Talk, width: number, measure: (text: string) => number, space: number): Laid {
	const lines: Line[] = [];
	const chips: Chip[] = [];
	let y = 12;
	talk.sentences.forEach((sentence, number) => {
		const before = talk.sentences[number - 1];
		const startMs = talk.startsMs[sentence.first]!;
		const pause = before ? startMs - talk.endsMs[before.end - 1]! : 0;
		if (before) y += BETWEEN_PX;
		if (pause >= PAUSE_MS) {
			chips.push({ y, kind: 'pause', text: `${(pause / 1000).toFixed(1)} s pause`, atMs: startMs - pause });
			y += PAUSE_PX;
		}
		if (sentence.speaker && sentence.speaker !== before?.speaker) {
			chips.push({ y, kind: 'speaker', text: sentence.speaker, atMs: startMs });
			y += SPEAKER_PX;
		}
		let first = sentence.first;
		let used = 0;
		for (let word = sentence.first; word < sentence.end; word++) {
			const wide = measure(talk.texts[word]!);
			if (word > first && used + wide > width) {
				y = addLine(lines, talk, y, number, first, word);
				first = word;
				used = 0;
			}
			used += wide + space;
		}
		y = addLine(lines, talk, y, number, first, sentence.end);
	});
	return { lines, chips, height: y + 120 };
}

function addLine(lines: Line[], talk: Talk, y: number, sentence: number, first: number, end: number): number {
	const startMs = talk.startsMs[first]!;
	const previous = lines[lines.length - 1];
	if (previous) previous.untilMs = Math.max(previous.startMs + 1, startMs);
	lines.push({ y, sentence, first, end, startMs, untilMs: talk.endsMs[end - 1]! });
	return y + LINE_PX;
}

/** The lines that touch a stretch of the page, as half-open places. */
export function linesBetween(laid: Laid, top: number, bottom: number): [number, number] {
	const first = Math.max(0, lastBy(laid.lines, (line) => line.y, top));
	return [first, lastBy(laid.lines, (line) => line.y, bottom) + 1];
}

/** The line that holds a word. */
export function lineOfWord(laid: Laid, word: number): Line | undefined {
	return laid.lines[lastBy(laid.lines, (line) => line.first, word)];
}

/** Where on the page a moment is, in pixels from its top. */
export function yAt(laid: Laid, ms: number): number {
	const line = laid.lines[Math.max(0, lastBy(laid.lines, (one) => one.startMs, ms))];
	if (!line) return 0;
	const part = (ms - line.startMs) / Math.max(1, line.untilMs - line.startMs);
	return line.y + Math.min(1, Math.max(0, part)) * LINE_PX;
}
