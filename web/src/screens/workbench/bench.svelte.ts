/** One quote in work: what the server says it is, and the edits that change it. */
import { api, ask, cutSoundUrl, frameUrl, mediaUrl, Problem } from '$api/client';
import type { Contrast, Cut, Edit, Finding, FramedVersion, Quote, Recording, Resolved, Version } from '$api/client';
import { house } from '$api/house.svelte';
import type { Edges } from '$page/dragging.svelte';
import { WordSelection } from '$page/selection.svelte';
import { lastBy, readTalk, wordAt, type Talk } from '$page/talk';
import { Player } from '$player/player.svelte';
import { stretchesOf, wholeTalk } from '$player/stretches';
import { EditQueue } from './editqueue';
import { ResolvedVersions } from './resolved.svelte';
import { Trials } from './trials.svelte';

export class Bench {
	/** What it is: shown at once after an edit. */
	quote = $state.raw<Quote | null>(null);
	recording = $state.raw<Recording | null>(null);
	talk = $state.raw<Talk | null>(null);
	peaks = $state.raw<Uint8Array | null>(null);
	player = $state.raw<Player | null>(null);
	/** The destination whose version is on the stage. */
	shown = $state('');
	/** The word that was clicked last, also where it is not heard. */
	cursor = $state<number | null>(null);
	asSaid = $state(false);
	covered = $state(false);
	/** Whether the voice is heard as it was recorded, whatever is done to it. */
	plainVoice = $state(false);
	readonly selection = new WordSelection();

	readonly #edits = new EditQueue({
		quote: () => this.quote,
		taken: (quote) => this.#take(quote),
		refused: (problem) => {
			this.endTrial();
			house.tell('bad', problem.message);
		},
		ask: () => this.#asked(),
		saving: (on) => (house.saving += on ? 1 : -1)
	});
	readonly #trials = new Trials<Version>((edit) =>
		ask(api.POST('/api/quotes/{quote_id}/trial', { params: { path: { quote_id: this.id } }, body: { edit, destination: this.shown } }))
	);
	readonly #framings = new Trials<FramedVersion[]>((edit) =>
		ask(api.POST('/api/quotes/{quote_id}/framing-trial', { params: { path: { quote_id: this.id } }, body: { edit } }))
	);
	readonly #versions = new ResolvedVersions(() =>
		ask(api.GET('/api/quotes/{quote_id}/versions', { params: { path: { quote_id: this.id } } }))
	);
	/** The trials that were made an edit: shown until that edit has been looked at closely. */
	#settled: Version | null = null;
	#settledFramings: FramedVersion[] | null = null;
	#closed = false;

	constructor(readonly id: number) {}

	/** What its versions look like, and what is wrong with them: follows a moment later. */
	get resolved(): Resolved | null {
		return this.#versions.now;
	}

	/** A version as a drag would make it, before it is let go. */
	get trial(): Version | null {
		return this.#trials.shown;
	}

	/** Every version as it is, or as a change of the framing would make it before it is let go. */
	versions = $derived.by((): Version[] =>
		(this.resolved?.versions ?? []).map((one) => {
			const tried = this.#framings.shown?.find((framed) => framed.destination === one.destination);
			return tried ? { ...one, framing: tried.framing, assembly: { ...one.assembly, picture: tried.picture } } : one;
		})
	);
	version = $derived.by((): Version | null => (this.trial?.destination === this.shown ? this.trial : this.#shownFramed));
	#shownFramed = $derived(this.versions.find((one) => one.destination === this.shown) ?? this.versions[0] ?? null);
	#shownResolved = $derived(this.resolved?.versions.find((one) => one.destination === this.shown) ?? this.resolved?.versions[0] ?? null);
	/** Whether cutting concerns all versions, or only the one on the stage. */
	ownCut = $state(false);
	/** What is heard of the version on the stage. */
	cut = $derived.by((): Cut | null => this.#shownVersion?.cut ?? this.quote?.cut ?? null);
	#shownVersion = $derived(this.quote?.versions.find((one) => one.destination === this.shown) ?? null);
	unfair = $derived(this.version?.unfair ?? []);
	lengthMs = $derived(this.#shownVersion?.length_ms ?? this.quote?.cut.length_ms ?? 0);
	#kept = $derived(new Set(this.cut?.kept_words));
	#struck = $derived(new Set(this.cut?.struck_words));
	/** The first and last word that are heard. */
	edges = $derived.by((): Edges | null => {
		const words = this.cut?.kept_words;
		return words?.length ? { first: words[0]!, last: words.at(-1)! } : null;
	});
	/** Where the limit of the version on the stage falls on the page. */
	limit = $derived(this.#shownVersion?.limit ?? null);
	/** How well captions can be told from the picture: follows what the versions look like, where somebody looks at that. */
	contrast = $state.raw<Contrast | null>(null);
	#measuring: number | null = null;

	/** The word being said. In the air before a word after a join, the word before it in the recording is a struck one. */
	get spoken(): number {
		if (!this.talk || !this.player) return -1;
		let word = wordAt(this.talk, this.player.sourceMs + 20);
		if (!this.asSaid) while (this.#struck.has(word)) word++;
		return word;
	}

	/** The version that cutting concerns; none where it concerns all. */
	get scope(): string | null {
		return this.ownCut && (this.quote?.versions.length ?? 0) > 1 ? this.shown : null;
	}

	/** The word that keys act on where none are selected. */
	get here(): number {
		return this.selection.range?.first ?? this.cursor ?? Math.max(0, this.spoken);
	}

	wordState = (word: number): string => {
		const at = word === this.cursor ? ' cursor' : '';
		if (this.#struck.has(word)) return `struck${at}`;
		if (!this.#kept.has(word)) return `out${at}`;
		const past = this.limit?.kept_ms;
		return (past !== null && past !== undefined && this.talk!.startsMs[word]! >= past ? 'kept past' : 'kept') + at;
	};

	shade = (ms: number): 'kept' | 'struck' | 'out' => {
		const span = this.quote?.document.span;
		if (!span || ms < span.start_ms || ms >= span.end_ms) return 'out';
		const kept = this.cut?.kept ?? [];
		const held = kept[lastBy(kept, (one) => one.start_ms, ms)];
		return held && ms < held.end_ms ? 'kept' : 'struck';
	};

	async load(): Promise<void> {
		const [quote] = await Promise.all([this.#asked(), this.#versions.load()]);
		const params = { path: { recording_id: quote.recording_id } };
		const [recording, transcript] = await Promise.all([
			ask(api.GET('/api/recordings/{recording_id}', { params })),
			ask(api.GET('/api/recordings/{recording_id}/transcript', { params }))
		]);
		if (this.#closed) return;
		this.recording = recording;
		this.talk = readTalk(transcript.sentences);
		this.player = new Player(mediaUrl(quote.recording_id), undefined, (ms) => frameUrl(quote.recording_id, ms), mediaUrl);
		this.#take(quote);
		this.#play();
		this.player.seekOut(0);
		const peaks = await fetch(`/api/recordings/${quote.recording_id}/peaks`);
		if (peaks.ok) this.peaks = new Uint8Array(await peaks.arrayBuffer());
	}

	/** Looks at the versions anew, where what is known of the recording changed and not the quote. */
	async lookAgain(): Promise<void> {
		await this.#versions.load();
		this.#play();
	}

	/** Reads the talk's words anew, after they were corrected. */
	async wordsChanged(): Promise<void> {
		const [quote, transcript] = await Promise.all([
			this.#asked(),
			ask(api.GET('/api/recordings/{recording_id}/transcript', { params: { path: { recording_id: this.quote!.recording_id } } }))
		]);
		this.talk = readTalk(transcript.sentences);
		this.#take(quote);
		await this.lookAgain();
	}

	close(): void {
		this.#closed = true;
		this.#versions.close();
		this.player?.close();
	}

	/**
	 * Makes a change. Changes wait for one another, since each is made on the revision that the last one gave. One that
	 * names something of the cut is given as a function, asked when its turn comes: a key held down makes many.
	 */
	edit(edit: Edit | (() => Edit | null)): Promise<boolean> {
		return this.#made(async (quote) => {
			const now = typeof edit === 'function' ? edit() : edit;
			if (!now) return quote;
			const body = { on_revision: quote.revision, edit: now, by: house.person || null };
			return ask(api.POST('/api/quotes/{quote_id}/edits', { params: { path: { quote_id: this.id } }, body }));
		});
	}

	undo(): Promise<boolean> {
		return this.#step('/api/quotes/{quote_id}/undo', (quote) => quote.undo_said);
	}

	redo(): Promise<boolean> {
		return this.#step('/api/quotes/{quote_id}/redo', (quote) => quote.redo_said);
	}

	/** Shows what an edit would make of the version on the stage. While one is on its way, only the newest waits. */
	try(edit: Edit): void {
		this.#trials.try(edit);
	}

	/** Shows what a change of the framing would make of every version. */
	tryFraming(edit: Edit): void {
		this.#framings.try(edit);
	}

	endTrial(): void {
		this.#trials.end();
		this.#framings.end();
	}

	/** Has the voice heard as it was recorded, to compare, or as it will be. */
	hearPlain(plain: boolean): void {
		this.plainVoice = plain;
		this.#play();
	}

	/** Strikes the selected words, or puts them back where all of them are struck. */
	strike(): Promise<boolean> {
		const { first, last } = this.selection.range ?? { first: this.here, last: this.here };
		let allStruck = true;
		for (let word = first; word <= last; word++) allStruck &&= this.#struck.has(word);
		this.selection.clear();
		return this.edit({ kind: allStruck ? 'restore-words' : 'strike-words', first, last, destination: this.scope });
	}

	isStruck(word: number): boolean {
		return this.#struck.has(word);
	}

	show(destination: string): void {
		this.endTrial();
		this.shown = destination;
		this.#play();
	}

	/** What is wrong with a version, the contrast of its captions among it where that was measured, but for what was said to be fine. */
	findingsOf(destination: string): Finding[] {
		return this.#found(destination).filter((one) => one.accepted == null);
	}

	/** What was found wrong with a version and said to be fine, or to stand for a reason. */
	acceptedOf(destination: string): Finding[] {
		return this.#found(destination).filter((one) => one.accepted != null);
	}

	/** Says why findings may stand; without a reason they are told again. */
	accept(findings: Finding[], reason: string): Promise<boolean> {
		const [what, ...also] = findings.map((one) => one.id ?? '');
		return what ? this.edit({ kind: 'accept-note', what, also, reason }) : Promise.resolve(false);
	}

	#found(destination: string): Finding[] {
		const found = this.resolved?.versions.find((one) => one.destination === destination)?.findings ?? [];
		if (!this.contrast || this.contrast.revision !== this.resolved?.revision) return found;
		return [...(this.contrast.versions.find((one) => one.destination === destination)?.findings ?? []), ...found];
	}

	/** Measures the contrast of the captions as they are now; what was measured before stays until then. */
	async measure(): Promise<void> {
		const revision = this.resolved?.revision;
		if (revision === undefined || this.#measuring === revision || this.contrast?.revision === revision) return;
		this.#measuring = revision;
		try {
			const measured = await ask(api.GET('/api/quotes/{quote_id}/contrast', { params: { path: { quote_id: this.id } } }));
			if (!this.#closed) this.contrast = measured;
		} catch (refused) {
			// Not worth a message: the captions can be worked on all the same, and the next change asks again.
			if (!(refused instanceof Problem)) throw refused;
		} finally {
			this.#measuring = null;
		}
	}

	/** Starts or ends the quote, or the version that is cut by itself, with a word. */
	moveEdge(edge: 'in' | 'out', word: number): Promise<boolean> {
		return this.edit({ kind: 'move-edge-to-word', edge, word, destination: this.scope });
	}

	/** Takes a quote that was changed by other means than an edit. */
	taken(change: (quote: Quote) => Promise<Quote>): Promise<boolean> {
		return this.#made(change);
	}

	/** News that somebody changed the quote; without a head it is not known who changed what. */
	changedElsewhere(head: number | null): Promise<boolean> {
		return this.#edits.changedElsewhere(head, (now) => house.tell('good', `Changed elsewhere: ${now.undo_said ?? 'gone back to the start'}.`));
	}

	playAsSaid(asSaid: boolean): void {
		this.asSaid = asSaid;
		this.#play();
	}

	#step(path: '/api/quotes/{quote_id}/undo' | '/api/quotes/{quote_id}/redo', said: (quote: Quote) => string | null): Promise<boolean> {
		return this.#made(async (quote) => {
			if (!said(quote)) return quote;
			return ask(api.POST(path, { params: { path: { quote_id: this.id } }, body: { on_revision: quote.revision, by: house.person || null } }));
		});
	}

	/** Makes a change in its turn. A trial that led to it stays on the stage until the change has been looked at. */
	async #made(change: (quote: Quote) => Promise<Quote>): Promise<boolean> {
		const done = await this.#edits.run(async (quote) => {
			const now = await change(quote);
			this.#settled = this.trial;
			this.#settledFramings = this.#framings.shown;
			return now;
		});
		this.#trials.stop();
		this.#framings.stop();
		return done;
	}

	#asked(): Promise<Quote> {
		return ask(api.GET('/api/quotes/{quote_id}', { params: { path: { quote_id: this.id } } }));
	}

	#take(quote: Quote): void {
		this.quote = quote;
		if (quote.merged.length) house.tell('good', `Changed elsewhere meanwhile, and kept: ${quote.merged.join('; ')}.`);
		if (!quote.versions.some((one) => one.destination === this.shown)) this.shown = quote.versions[0]?.destination ?? '';
		this.#versions.follow(() => this.quote?.revision, (failed) => this.#looked(failed));
	}

	/** What the versions look like has come, or has failed to. */
	#looked(failed: unknown): void {
		if (this.#closed) return;
		if (failed instanceof Problem) house.tell('bad', failed.message);
		else if (failed) throw failed;
		this.#trials.letGo(this.#settled);
		this.#framings.letGo(this.#settledFramings);
		this.#play();
	}

	#play(): void {
		const version = this.#shownResolved;
		if (!version || !this.recording || !this.player) return;
		this.player.set(this.asSaid ? wholeTalk(this.recording.duration_ms) : stretchesOf(version.assembly));
		const heard = !this.asSaid && this.recording.audio_codec;
		this.player.hear(heard ? cutSoundUrl(this.id, version.destination, this.resolved!.revision, this.plainVoice) : null);
	}
}
