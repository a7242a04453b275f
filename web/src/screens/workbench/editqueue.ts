/** Changes of one quote, made one after another: each on the revision that the one before it gave. */
import { Problem, type Quote } from '$api/client';

type Listening = {
	/** The quote as it is known now; none before it is loaded. */
	quote: () => Quote | null;
	/** A quote that was answered, by an edit or by asking. */
	taken: (quote: Quote) => void;
	/** A change that was refused. */
	refused: (problem: Problem) => void;
	/** Asks for the quote as it is on the server. */
	ask: () => Promise<Quote>;
	/** Whether a change is on its way. */
	saving: (on: boolean) => void;
};

export class EditQueue {
	#line: Promise<unknown> = Promise.resolve();
	readonly #to: Listening;

	constructor(to: Listening) {
		this.#to = to;
	}

	/** Makes a change when its turn comes; whether it was made. One that conflicts brings the newest quote. */
	async run(change: (quote: Quote) => Promise<Quote>): Promise<boolean> {
		return this.#inTurn(async (quote) => {
			this.#to.saving(true);
			try {
				return await change(quote);
			} finally {
				this.#to.saving(false);
			}
		});
	}

	/**
	 * News that the quote's head is another: looked at once all that is on its way has come back, since one's own changes are
	 * news too. Without a head, it is not known what changed.
	 */
	changedElsewhere(head: number | null, found: (quote: Quote) => void): Promise<boolean> {
		return this.#inTurn(async (quote) => {
			if (head === quote.revision) return quote;
			const now = await this.#to.ask();
			if (now.revision === quote.revision) return quote;
			found(now);
			return now;
		});
	}

	#inTurn(change: (quote: Quote) => Promise<Quote>): Promise<boolean> {
		const done = this.#line.then(async () => {
			const quote = this.#to.quote();
			if (!quote) return false;
			try {
				const now = await change(quote);
				if (now !== quote) this.#to.taken(now);
				return true;
			} catch (refused) {
				if (!(refused instanceof Problem)) throw refused;
				this.#to.refused(refused);
				if (refused.status === 409) this.#to.taken(await this.#to.ask());
				return false;
			}
		});
		this.#line = done.catch(() => undefined);
		return done;
	}
}
