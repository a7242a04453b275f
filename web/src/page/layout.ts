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
};

/** A stretch of the page and the stretch of time it stands for: a line, or the space of a pause. */
export type Band = { y: number; height: number; startMs: number; untilMs: number };

export type Chip = { y: number; kind: 'pause' | 'speaker'; text: string; word: number };

export type Laid = { lines: Line[]; bands: Band[]; chips: Chip[]; height: number };

/**
 * Lays a talk out for a text width, given the width of each word as drawn and of a space; `after` is the room that
 * something takes after a word.
 */
export function layOut(
	talk: Talk, width: number, measure: (text: string) => number, space: number, after: (word: number) => number = () => 0
): Laid {
	const lines: Line[] = [];
	const bands: Band[] = [];
	const chips: Chip[] = [];
	let y = 12;
	const addBand = (startMs: number, height: number) => {
		const before = bands[bands.length - 1];
		if (before) before.untilMs = Math.max(before.startMs + 1, startMs);
		bands.push({ y, height, startMs, untilMs: startMs + 1 });
		y += height;
	};
	const addLine = (sentence: number, first: number, end: number) => {
		lines.push({ y, sentence, first, end, startMs: talk.startsMs[first]! });
		addBand(talk.startsMs[first]!, LINE_PX);
	};
	talk.sentences.forEach((sentence, number) => {
		const before = talk.sentences[number - 1];
		const startMs = talk.startsMs[sentence.first]!;
		const pause = before ? startMs - talk.endsMs[before.end - 1]! : 0;
		if (before) y += BETWEEN_PX;
		if (pause >= PAUSE_MS) {
			chips.push({ y, kind: 'pause', text: `${(pause / 1000).toFixed(1)} s pause`, word: sentence.first });
			addBand(startMs - pause, PAUSE_PX);
		}
		if (sentence.speaker && sentence.speaker !== before?.speaker) {
			chips.push({ y, kind: 'speaker', text: sentence.speaker, word: sentence.first });
			y += SPEAKER_PX;
		}
		let first = sentence.first;
		let used = 0;
		for (let word = sentence.first; word < sentence.end; word++) {
			const wide = measure(talk.texts[word]!) + after(word);
			if (word > first && used + wide > width) {
				addLine(number, first, word);
				first = word;
				used = 0;
			}
			used += wide + space;
		}
		addLine(number, first, sentence.end);
	});
	const last = bands[bands.length - 1];
	if (last) last.untilMs = talk.endsMs[talk.endsMs.length - 1]!;
	return { lines, bands, chips, height: y + 120 };
}

/** Whether the pause before a word is shown as space of its own. */
export function isSpaced(talk: Talk, word: number): boolean {
	const sentence = talk.sentences[talk.sentenceOf[word] ?? -1];
	return sentence?.first === word && word > 0 && talk.startsMs[word]! - talk.endsMs[word - 1]! >= PAUSE_MS;
}

/** The lines or bands that touch a stretch of the page. */
export function between<T extends { y: number }>(items: T[], top: number, bottom: number): T[] {
	const first = Math.max(0, lastBy(items, (one) => one.y, top));
	return items.slice(first, lastBy(items, (one) => one.y, bottom) + 1);
}

/** The line that holds a word. */
export function lineOfWord(laid: Laid, word: number): Line | undefined {
	return laid.lines[lastBy(laid.lines, (line) => line.first, word)];
}

/** Where on the page a moment is, in pixels from its top. */
export function yAt(laid: Laid, ms: number): number {
	const band = laid.bands[Math.max(0, lastBy(laid.bands, (one) => one.startMs, ms))];
	if (!band) return 0;
	const part = (ms - band.startMs) / (band.untilMs - band.startMs);
	return band.y + Math.min(1, Math.max(0, part)) * band.height;
}
