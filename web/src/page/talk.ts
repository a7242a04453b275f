/** A talk as the page reads it: its words in flat arrays, and which sentence each is in. */
import type { Sentence } from '$api/client';

export type Talk = {
	texts: string[];
	startsMs: number[];
	endsMs: number[];
	/** For each sentence: its first word, the word after its last, who says it, and whether no mark tells that it ends. */
	sentences: { first: number; end: number; speaker: string | null; doubtfulEnd: boolean }[];
	sentenceOf: Int32Array;
	/** For each word: how sure the recogniser was in percent, null where it did not say. */
	sure: (number | null)[];
	/** For each word: what stood there before a person corrected it, null where nobody did. */
	heard: (string | null)[];
	/** A letter a word: time `g` given by the file, `a` aligned to the sound, `e` estimated. */
	timing: string;
};

/** A word that a recogniser was less sure of than this is marked, and can be gone to. */
export const DOUBTFUL_BELOW = 50;

export function readTalk(sentences: Sentence[]): Talk {
	const talk: Talk = {
		texts: [], startsMs: [], endsMs: [], sentences: [], sentenceOf: new Int32Array(0), sure: [], heard: [], timing: ''
	};
	const owners: number[] = [];
	for (const one of sentences) {
		const first = talk.texts.length;
		for (let i = 0; i < one.words.length; i++) {
			talk.texts.push(one.words[i]!);
			talk.startsMs.push(one.starts_ms[i]!);
			talk.endsMs.push(one.ends_ms[i]!);
			talk.sure.push(one.sure?.[i] ?? null);
			talk.heard.push(one.heard?.[i] ?? null);
			owners.push(talk.sentences.length);
		}
		talk.timing += one.timing;
		talk.sentences.push({ first, end: talk.texts.length, speaker: one.speaker, doubtfulEnd: one.doubtful_end ?? false });
	}
	talk.sentenceOf = Int32Array.from(owners);
	return talk;
}

/** The words that the recogniser doubted and nobody has corrected. */
export function doubtful(talk: Talk): number[] {
	return talk.sure.flatMap((sure, word) => (sure !== null && sure < DOUBTFUL_BELOW ? [word] : []));
}

/** The last word that has begun by a moment; -1 before the first. */
export function wordAt(talk: Talk, ms: number): number {
	return lastBy(talk.startsMs, (start) => start, ms);
}

/** The place of the last of some items, rising by a number, whose number is at most a value; -1 where none is. */
export function lastBy<T>(items: readonly T[], number: (item: T) => number, value: number): number {
	let low = 0;
	let high = items.length;
	while (low < high) {
		const middle = (low + high) >> 1;
		if (number(items[middle]!) <= value) low = middle + 1;
		else high = middle;
	}
	return low - 1;
}
