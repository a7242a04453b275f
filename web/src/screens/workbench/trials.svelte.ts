/** What an edit would make, before it is made: what a drag shows. While one is on its way only the newest waits. */
import type { Edit } from '$api/client';

export class Trials<T> {
	/** What to show instead of what is kept. */
	shown = $state.raw<T | null>(null);
	#waiting: Edit | null = null;
	#running = false;
	/** Counts up with each end: what was asked before it is not taken. */
	#round = 0;
	readonly #ask: (edit: Edit) => Promise<T>;

	constructor(ask: (edit: Edit) => Promise<T>) {
		this.#ask = ask;
	}

	try(edit: Edit): void {
		this.#waiting = edit;
		if (!this.#running) void this.#run();
	}

	/** Takes no more answers; what is shown stays until it is let go of. */
	stop(): void {
		this.#round++;
		this.#waiting = null;
	}

	/** Shows what is kept again. */
	end(): void {
		this.stop();
		this.shown = null;
	}

	/** Lets go of what was shown, unless something else is meanwhile. */
	letGo(one: T | null): void {
		if (this.shown === one) this.shown = null;
	}

	async #run(): Promise<void> {
		this.#running = true;
		const round = this.#round;
		while (this.#waiting && round === this.#round) {
			const edit = this.#waiting;
			this.#waiting = null;
			try {
				const version = await this.#ask(edit);
				if (round === this.#round) this.shown = version;
			} catch {
				break;
			}
		}
		this.#running = false;
		if (this.#waiting) void this.#run();
	}
}
