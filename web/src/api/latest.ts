/**
 * Answers of which only the newest is taken: what was asked before it and comes later is of no use any more.
 *
 * The same is not asked twice in a row, unless it failed.
 */
export class LatestWins<Key, Answer> {
	#asked: { key: Key; failed: boolean } | null = null;

	/** Asks; the answer, or undefined where it is asked already or something else was asked meanwhile. */
	async ask(key: Key, get: () => Promise<Answer>): Promise<Answer | undefined> {
		if (this.#asked?.key === key && !this.#asked.failed) return undefined;
		const asked = { key, failed: false };
		this.#asked = asked;
		try {
			const answer = await get();
			return this.#asked === asked ? answer : undefined;
		} catch (failed) {
			if (this.#asked !== asked) return undefined;
			asked.failed = true;
			throw failed;
		}
	}

	/** Whether nothing was asked since. */
	isLatest(key: Key): boolean {
		return this.#asked?.key === key;
	}
}
