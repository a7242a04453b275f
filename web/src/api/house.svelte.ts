/** What every place shares: the catalogue, the exports and how they go on, and what is to be told to the person. */
import { faceUrl } from '$player/layers/faces';
import { api, ask, isLive, Problem, type CaptionStyle, type Catalogue, type Destination, type Export, type Face, type FinishOfHouse, type HousePicture, type HouseSound, type Post, type Ranges, type Work } from './client';

export type Offer = { name: string; run: () => void };
type News = { kind: string; id: number; head?: number };
export type Told = { id: number; kind: 'good' | 'bad'; says: string; offer?: Offer };

/** Asks again when something has changed: never twice at once, at most a few times a second, and never misses the last. */
class Refreshing {
	#busy = false;
	#stale = false;

	constructor(readonly load: () => Promise<unknown>) {}

	async ask(): Promise<void> {
		if (this.#busy) {
			this.#stale = true;
			return;
		}
		this.#busy = true;
		try {
			do {
				this.#stale = false;
				await this.load();
				if (this.#stale) await new Promise((again) => setTimeout(again, 250));
			} while (this.#stale);
		} catch {
			// The next news, or coming back to the page, asks again.
		} finally {
			this.#busy = false;
		}
	}
}

class House {
	/** The destinations that are offered, and all that ever were. */
	destinations = $state.raw<Destination[]>([]);
	everyDestination = $state.raw<Destination[]>([]);
	/** Pictures to stand behind others: those that are offered, and all that ever were. */
	pictures = $state.raw<HousePicture[]>([]);
	everyPicture = $state.raw<HousePicture[]>([]);
	/** What people are who speak, by their names. */
	roles = $state.raw<Record<string, string>>({});
	/** Music and sounds: those that are offered, and all that ever were. */
	sounds = $state.raw<HouseSound[]>([]);
	everySound = $state.raw<HouseSound[]>([]);
	/** The house's colour. */
	colour = $state('#1C2330');
	/** Whose its clips are, as is written into each. */
	copyright = $state('');
	styles = $state.raw<CaptionStyle[]>([]);
	/** Sets of what stands over the picture, which quotes follow: also those that are offered no more. */
	finishes = $state.raw<FinishOfHouse[]>([]);
	/** The finish that new quotes of a series follow, by its id. */
	seriesFinishes = $state.raw<Record<string, string>>({});
	faces = $state.raw<Face[]>([]);
	/** The house's colours, to choose from. */
	palette = $state.raw<string[]>([]);
	#faces = new Set<string>();
	/** What a transcript's letters may be read as, and how that is called. */
	encodings = $state.raw<Record<string, string>>({});
	/** The endings of files that are read as transcripts. */
	transcripts = $state.raw<string[]>([]);
	/** What may be spoken in a recording, and how that is called. */
	languages = $state.raw<Record<string, string>>({});
	#ranges = $state.raw<Ranges | null>(null);
	exports = $state.raw<Export[]>([]);
	/** The posts of all quotes. */
	posts = $state.raw<Post[]>([]);
	told = $state.raw<Told[]>([]);
	works = $state.raw<Work[]>([]);
	/** Counts up with each change of a recording, for whoever shows recordings. */
	recordingsChanged = $state(0);
	/** The quote that was changed last, by whomever, the revision it is at, and a number that is new each time. */
	quoteChanged = $state.raw<{ id: number | null; head?: number; count: number }>({ id: null, count: 0 });
	/** What the person at this browser calls themselves in the history. */
	#person = $state(typeof localStorage === 'undefined' ? '' : (localStorage.getItem('person') ?? ''));
	/** Whether a change is on its way to the server. */
	saving = $state(0);

	#events: EventSource | null = null;
	#tellings = 0;
	#loading: Promise<void> | null = null;
	readonly #exports = new Refreshing(async () => (this.exports = await ask(api.GET('/api/exports'))));
	readonly #posts = new Refreshing(async () => (this.posts = await ask(api.GET('/api/posts'))));
	readonly #works = new Refreshing(async () => {
		this.works = await ask(api.GET('/api/work'));
		this.recordingsChanged += 1;
	});

	destination(id: string): Destination | undefined {
		return this.destinations.find((one) => one.id === id);
	}

	/** How far what is set by hand may go; there once the house is open. */
	get ranges(): Ranges {
		return this.#ranges!;
	}

	get person(): string {
		return this.#person;
	}

	set person(name: string) {
		this.#person = name.trim().slice(0, 80);
		localStorage.setItem('person', this.#person);
	}

	get working(): Export[] {
		return this.exports.filter((one) => one.state === 'queued' || one.state === 'running');
	}

	/** Long work on recordings that is waiting or going on. */
	get preparing(): Work[] {
		return this.works.filter(isLive);
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
			if (refused.code !== 'told') this.tell('bad', refused.message);
			return undefined;
		}
	}

	refreshExports(): Promise<void> {
		return this.#exports.ask();
	}

	refreshPosts(): Promise<void> {
		return this.#posts.ask();
	}

	refreshWork(): Promise<void> {
		return this.#works.ask();
	}

	#hadNews = false;

	/** Reads the catalogue again, after something in it was made or changed. */
	async refreshCatalogue(): Promise<void> {
		this.#offer(await ask(api.GET('/api/catalogue')));
	}

	/** Offers what the house can choose from of its own. */
	#offer(catalogue: Catalogue): void {
		this.everyDestination = catalogue.destinations;
		this.destinations = catalogue.destinations.filter((one) => !one.retired);
		this.everyPicture = catalogue.pictures;
		this.everySound = catalogue.sounds;
		this.roles = catalogue.roles;
		this.sounds = catalogue.sounds.filter((one) => !one.retired);
		this.finishes = catalogue.finishes;
		this.seriesFinishes = catalogue.series_finishes;
		this.pictures = catalogue.pictures.filter((one) => !one.retired);
		this.colour = catalogue.colour;
		this.copyright = catalogue.copyright;
		this.palette = catalogue.palette ?? [];
		this.styles = catalogue.styles;
		for (const face of catalogue.faces) {
			if (this.#faces.has(face.file)) continue;
			this.#faces.add(face.file);
			document.fonts.add(new FontFace(face.name, `url(${faceUrl(face)})`));
		}
		this.faces = catalogue.faces;
	}

	async #load(): Promise<void> {
		const catalogue = await ask(api.GET('/api/catalogue'));
		this.#offer(catalogue);
		this.encodings = catalogue.encodings;
		this.transcripts = catalogue.transcripts;
		this.languages = catalogue.languages;
		this.#ranges = catalogue.ranges;
		void this.refreshExports();
		void this.refreshWork();
		void this.refreshPosts();
		this.#listen();
		document.addEventListener('visibilitychange', () => this.#listen());
	}

	/** A browser keeps six connections to a server, for all its tabs: one that nobody sees needs no news until it is seen again. */
	#listen(): void {
		if (document.hidden) {
			this.#events?.close();
			this.#events = null;
			// Also one that was opened unseen: what happens until it is seen is a gap.
			this.#hadNews = true;
		} else if (!this.#events) {
			this.#events = new EventSource('/api/changes');
			this.#events.onmessage = (message) => this.#take(JSON.parse(message.data) as News);
			this.#events.onopen = () => this.#take({ kind: 'all', id: 0 });
		}
	}

	/** How far a post is sent is told by its work, and whether its clip is there by its export. */
	#isOfPosts(kind: string): boolean {
		if (kind === 'work') return this.posts.some((one) => one.state === 'sending' || one.state === 'removing');
		if (kind === 'export') return this.posts.some((one) => one.clip === 'making');
		return kind === 'post' || kind === 'all';
	}

	#take(news: News): void {
		if (news.kind === 'quote') {
			this.quoteChanged = { id: news.id, head: news.head, count: this.quoteChanged.count + 1 };
			return;
		}
		// What was missed may have been about any quote. The first time nothing was.
		if (news.kind === 'all' && this.#hadNews) this.quoteChanged = { id: null, count: this.quoteChanged.count + 1 };
		this.#hadNews = true;
		if (news.kind === 'export' || news.kind === 'all') void this.refreshExports();
		if (this.#isOfPosts(news.kind)) void this.refreshPosts();
		if (news.kind !== 'export' && news.kind !== 'post') void this.refreshWork();
	}
}

export const house = new House();
