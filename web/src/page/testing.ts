/** Sentences for tests. */
import type { Sentence } from '$api/client';

export function sentence(speaker: string | null, words: string[], starts_ms: number[], ends_ms: number[], more: Partial<Sentence> = {}): Sentence {
	return { speaker, words, starts_ms, ends_ms, timing: 'g'.repeat(words.length), sure: null, heard: null, doubtful_end: false, ...more };
}
