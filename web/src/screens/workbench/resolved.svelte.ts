/** What the versions of a quote look like: follows a moment behind edits, and not after each of many. */
import type { Resolved } from '$api/client';

/** Edits that follow one another faster than this are looked at closely once they pause for so long. */
const HASTY_MS = 1000;
const PAUSE_MS = 150;

export class ResolvedVersions {
	now = $state.raw<Resolved | null>(null);
	#after: ReturnType<typeof setTimeout> | undefined;
	#line: Promise<unknown> = Promise.resolve();
	#followed = -Infinity;
	readonly #ask: () => Promise<Resolved>;

	constructor(ask: () => Promise<Resolved>) {
		this.#ask = ask;
	}

	async load(): Promise<void> {
		this.now = await this.#ask();
	}

	/** Follows a change: `wanted` says which revision is to be looked at when its turn comes; `done` is called after it. */
	follow(wanted: () => number | undefined, done: (failed: unknown) => void): void {
		const hasty = performance.now() - this.#followed < HASTY_MS;
		this.#followed = performance.now();
		clearTimeout(this.#after);
		this.#after = setTimeout(
			() => {
				const looked = this.#line.then(async () => {
					let failed: unknown;
					try {
						if (this.now?.revision !== wanted()) this.now = await this.#ask();
					} catch (refused) {
						failed = refused;
					}
					done(failed);
				});
				this.#line = looked.catch(() => undefined);
			},
			hasty ? PAUSE_MS : 0
		);
	}

	close(): void {
		clearTimeout(this.#after);
	}
}
