/** The words chosen on the page: an anchor that stays and a focus that moves, by pointer or by shift and arrows. */
import type { Talk } from './talk';

export class WordSelection {
	#anchor = $state<number | null>(null);
	#focus = $state<number | null>(null);

	/** First and last word, both chosen; null where none is. */
	range = $derived.by((): { first: number; last: number } | null =>
		this.#anchor === null || this.#focus === null
			? null
			: { first: Math.min(this.#anchor, this.#focus), last: Math.max(this.#anchor, this.#focus) }
	);

	get focus(): number | null {
		return this.#focus;
	}

	holds(word: number): boolean {
		return this.range !== null && word >= this.range.first && word <= this.range.last;
	}

	set(anchor: number, focus: number): void {
		this.#anchor = anchor;
		this.#focus = focus;
	}

	clear(): void {
		this.#anchor = this.#focus = null;
	}

	/** Moves the focus by words, from `from` where nothing is chosen yet. */
	byWords(talk: Talk, step: number, from: number): void {
		if (this.#anchor === null || this.#focus === null) this.set(from, from);
		else this.#focus = clamp(this.#focus + step, talk);
	}

	/** Moves the focus by sentences, to their last word going down and their first going up. */
	bySentences(talk: Talk, step: number, from: number): void {
		const start = this.#focus ?? from;
		const at = talk.sentenceOf[start] ?? 0;
		if (this.#anchor === null) this.#anchor = step > 0 ? talk.sentences[at]!.first : talk.sentences[at]!.end - 1;
		const here = talk.sentences[at]!;
		const atEdge = step > 0 ? start === here.end - 1 : start === here.first;
		const goal = talk.sentences[Math.min(Math.max(at + (atEdge ? step : 0), 0), talk.sentences.length - 1)]!;
		this.#focus = step > 0 ? goal.end - 1 : goal.first;
	}
}

function clamp(word: number, talk: Talk): number {
	return Math.min(Math.max(word, 0), talk.texts.length - 1);
}
