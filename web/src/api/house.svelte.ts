/** What every place shares: the catalogue, the exports and how they go on, and what is to be told to the person. */
import { api, ask, Problem, type CaptionStyle, type Destination, type Export } from './client';

export type Offer = { name: string; run: () => void };
export type Told = { id: number; kind: 'good' | 'bad'; says: string; offer?: Offer };

class House {
	destinations = $state.raw<Destination[]>([]);
	styles = $state.raw<CaptionStyle[]>([]);
	softBelow = $state(0);
	exports = $state.raw<Export[]>([]);
	told = $state.raw<Told[]>([]);
	/** Counts up with each change of a recording, for whoever shows recordings. */
	recordingsChanged = $state(0);
	/** Whether a change is on its way to the server. */
	saving = $state(0);

	#events: EventSource | null = null;
	#tellings = 0;
	#loading: Promise<void> | null = null;
	#refreshing = false;
	#stale = false;

	destination(id: string): Destination | undefined {
		return this.destinations.find((one) => one.id === id);
	}

	get working(): Export[] {
		return this.exports.filter((one) => one.state === 'queued' || one.state === 'running');
	}

	/** Loads what ships and begins to listen for news. */
	open(): Promise<void> {
		this.#loading ??= this.#load();
		return this.#loading;
	}

	tell(kind: Told['kind'], says: string, offer?: Offer): void {
		const id = ++this.#tellings;
		this.told = [...this.told.filter((one) => one.says !== says).slice(-2), { id, kind, says, offer }];
		if (kind === 'good') setTimeout(() => this.dismiss(id), offer ? 8000 : 4000);
	}

	dismiss(id: number): void {
		this.told = this.told.filter((one) => one.id !== id);
	}

	/** Runs something that may be refused, and tells why where it is. */
	async trying<T>(work: () => Promise<T>): Promise<T | undefined> {
		try {
			return await work();
		} catch (refused) {
			if (!(refused instanceof Problem)) throw refused;
			this.tell('bad', refused.message);
			return undefined;
		}
	}

	async refreshExports(): Promise<void> {
		if (this.#refreshing) {
			this.#stale = true;
			return;
		}
		this.#refreshing = true;
		try {
			do {
				this.#stale = false;
				this.exports = await ask(api.GET('/api/exports'));
			} while (this.#stale);
		} catch {
			// The next news, or coming back to the page, asks again.
		} finally {
			this.#refreshing = false;
		}
	}

	async #load(): Promise<void> {
		const catalogue = await ask(api.GET('/api/catalogue'));
		this.destinations = catalogue.destinations;
		this.styles = catalogue.styles;
		this.softBelow = catalogue.soft_below;
		void this.refreshExports();
		this.#events = new EventSource('/api/changes');
		this.#events.onmessage = (message) => this.#heard(JSON.parse(message.data) as { kind: string });
		this.#events.onopen = () => this.#heard({ kind: 'all' });
	}

	#heard(news: { kind: string }): void {
		if (news.kind !== 'recording') void this.refreshExports();
		if (news.kind !== 'export') this.recordingsChanged += 1;
	}
}

export const house = new House();
