/** A cue as text to edit, and back: which word a caret stands at. */
import type { Cue } from '$api/client';

type Word = Cue['lines'][number][number];
export type Token = { word: Word; start: number; end: number };

/** The text of a cue, a line of it a line, and where each word stands in it. */
export function textOf(cue: Cue): { text: string; tokens: Token[] } {
	let text = '';
	const tokens: Token[] = [];
	for (const [number, line] of cue.lines.entries()) {
		for (const [place, word] of line.entries()) {
			if (place > 0 ? !word.glued : number > 0) text += place > 0 ? ' ' : '\n';
			tokens.push({ word, start: text.length, end: text.length + word.text.length });
			text += word.text;
		}
	}
	return { text, tokens };
}

/** The same without line breaks and runs of spaces: what it says. */
export const saidIn = (text: string): string => text.replace(/\s+/g, ' ').trim();

/** The place of the word that begins at a caret, or nearest to one inside a word; 0 at the very start, none at the very end. */
export function placeAt(tokens: Token[], caret: number): number | null {
	for (const [place, token] of tokens.entries()) {
		if (caret <= token.start) return place;
		if (caret < token.end) return caret - token.start < token.end - caret ? place : place + 1 < tokens.length ? place + 1 : null;
	}
	return null;
}

/** The words that a selection touches, as places of the first and the last. */
export function placesIn(tokens: Token[], from: number, to: number): { first: number; last: number } | null {
	const touched = tokens.flatMap((token, place) => (token.start < to && token.end > from ? [place] : []));
	return touched.length ? { first: touched[0]!, last: touched.at(-1)! } : null;
}

/** Where a caret of a text would be counted in words: how many begin before it. */
export const wordsBefore = (text: string, caret: number): number => saidIn(text.slice(0, caret)).split(' ').filter(Boolean).length;

/** A typed time ("1:02.5", "62.48") in ms; null where it is none. */
export function typedTime(text: string): number | null {
	const found = /^\s*(?:(\d{1,3}):)?(\d{1,3})(?:[.,](\d{1,3}))?\s*$/.exec(text);
	if (!found) return null;
	const [, minutes = '0', secs, part = '0'] = found;
	if (found[1] !== undefined && Number(secs) > 59) return null;
	return Number(minutes) * 60000 + Number(secs) * 1000 + Number(part.padEnd(3, '0'));
}

/** What of some words was written otherwise: the words between those that both begin and end with. */
export function differs(heard: string[], said: string[]): { at: number; heard: string; said: string } | null {
	let at = 0;
	while (at < heard.length && at < said.length && heard[at] === said[at]) at++;
	let end = 0;
	while (end < heard.length - at && end < said.length - at && heard.at(-1 - end) === said.at(-1 - end)) end++;
	const [was, now] = [heard.slice(at, heard.length - end), said.slice(at, said.length - end)];
	const bare = (words: string[]) => words.join(' ').replace(/^[^\p{L}\p{N}]+|[^\p{L}\p{N}]+$/gu, '');
	return was.length && bare(was) && bare(was) !== bare(now) ? { at, heard: bare(was), said: bare(now) } : null;
}
