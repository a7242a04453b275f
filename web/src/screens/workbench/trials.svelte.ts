/** A version as an edit would make it, before it is made: what a drag shows. While one is on its way only the newest waits. */
import type { Edit, Version } from '$api/client';

export class Trials {
	/** The version to show instead of what is kept. */
	shown = $state.raw<Version | null>(null);
	#waiting: Edit | null = null;
	#running = false;
	/** Counts up with each end: what was asked before it is not taken. */
	#round = 0;
	readonly #ask: (edit: Edit) => Promise<Version>;

	constructor(ask: (edit: Edit) => Promise<Version>) {
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

	/** Lets go of a version that was shown, unless another is meanwhile. */
	letGo(version: Version | null): void {
		if (this.shown === version) this.shown = null;
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
