/** What the layers of a page share: the talk laid out, and what of it is in sight. */
import { getContext, setContext } from 'svelte';
import { between, lineOfWord, yAt, type Laid, type Line } from './layout';
import type { Talk } from './talk';

/** How far beyond what is in sight is drawn, so that a scroll has something to show at once. */
const OVER_PX = 280;
const KEY = Symbol('sheet');

/** A stretch of words that is in sight, with the lines that it begins and ends on, and its number among all. */
export type Laned<T> = { one: T; index: number; from: Line; to: Line };

export class Sheet {
	/** Getters, so that what is read through them is followed. */
	constructor(private readonly now: { readonly talk: Talk; readonly laid: Laid; readonly top: number; readonly height: number }) {}

	get talk(): Talk {
		return this.now.talk;
	}

	get laid(): Laid {
		return this.now.laid;
	}

	get top(): number {
		return this.now.top;
	}

	get height(): number {
		return this.now.height;
	}

	/** Whether a stretch of the page is in sight, or nearly. */
	shows(fromY: number, toY: number): boolean {
		return toY > this.top - OVER_PX && fromY < this.top + this.height + OVER_PX;
	}

	/** Those of some items, in their order down the page, that are in sight or nearly. */
	near<T extends { y: number }>(items: T[]): T[] {
		return between(items, this.top - OVER_PX, this.top + this.height + OVER_PX);
	}

	/** Stretches of words that are in sight. */
	laned<T extends { first: number; last: number }>(stretches: T[]): Laned<T>[] {
		return stretches.flatMap((one, index) => {
			const from = lineOfWord(this.laid, one.first);
			const to = lineOfWord(this.laid, one.last);
			return from && to && this.shows(from.y, to.y) ? [{ one, index, from, to }] : [];
		});
	}

	yAt(ms: number): number {
		return yAt(this.laid, ms);
	}
}

export const shareSheet = (sheet: Sheet): Sheet => setContext(KEY, sheet);
export const theSheet = (): Sheet => getContext(KEY);

/** Stretches that share lines get lanes of their own, so that each can be read: the first that is free. */
export function inLanes<T extends { first: number; last: number }>(laid: Laid, stretches: T[]): (T & { lane: number })[] {
	const ends: number[] = [];
	return [...stretches]
		.sort((a, b) => a.first - b.first)
		.map((one) => {
			const from = lineOfWord(laid, one.first)?.y ?? 0;
			const free = ends.findIndex((end) => end < from);
			const lane = free < 0 ? ends.length : free;
			ends[lane] = lineOfWord(laid, one.last)?.y ?? 0;
			return { ...one, lane };
		});
}
