/** What one quote is posted with: as it is written, as it is sent, and what is wrong with it while one types. */
import { api, ask, Problem, type HousePosting, type Posting, type PostText, type VersionText } from '$api/client';
import { house } from '$api/house.svelte';
import { tagsIn } from './say';

type Fields = { title: string; description: string; tags: string; alt: string };
const TRY_MS = 250;
const WRITE_MS = 1200;

export class Desk {
	posting = $state.raw<Posting | null>(null);
	settings = $state.raw<HousePosting | null>(null);
	missing = $state('');
	/** The destination whose own text is written; all of them where it is empty. */
	tab = $state('');
	/** The version that is shown as it is sent. */
	shown = $state('');
	fields = $state<Fields>({ title: '', description: '', tags: '', alt: '' });
	tried = $state.raw<VersionText | null>(null);
	posts = $derived(house.posts.filter((one) => one.quote_id === this.id).sort((a, b) => a.due_at.localeCompare(b.due_at)));
	version = $derived(this.tried ?? this.posting?.versions.find((one) => one.destination === this.shown) ?? null);
	own = $derived(Boolean(this.tab && this.posting?.own[this.tab]));
	#trying: ReturnType<typeof setTimeout> | undefined;
	#writing: ReturnType<typeof setTimeout> | undefined;
	#asked = 0;

	constructor(readonly id: number) {}

	get text(): PostText {
		return { ...this.fields, tags: tagsIn(this.fields.tags) };
	}

	async load(): Promise<void> {
		try {
			const [posting, settings] = await Promise.all([
				ask(api.GET('/api/quotes/{quote_id}/posting', { params: { path: { quote_id: this.id } } })),
				ask(api.GET('/api/house/posting'))
			]);
			this.settings = settings;
			this.#take(posting);
			if (!posting.versions.some((one) => one.destination === this.shown)) this.shown = posting.versions[0]?.destination ?? '';
			this.#show();
		} catch (refused) {
			if (!(refused instanceof Problem)) throw refused;
			this.missing = refused.message;
		}
	}

	#take(posting: Posting): void {
		this.posting = posting;
		this.tried = null;
	}

	/** Puts into the fields what is written for what is open. */
	#show(): void {
		const written = (this.tab && this.posting?.own[this.tab]) || this.posting?.written;
		if (written) this.fields = { title: written.title ?? '', description: written.description ?? '', tags: (written.tags ?? []).join(', '), alt: written.alt ?? '' };
	}

	async open(destination: string): Promise<void> {
		await this.write();
		this.tab = destination;
		if (destination) this.shown = destination;
		this.tried = null;
		this.#show();
	}

	look(destination: string): void {
		this.shown = destination;
		this.tried = null;
		if (this.#writing) this.#try();
	}

	/** Something was typed: it is tried soon, and written once typing pauses. */
	typed(): void {
		clearTimeout(this.#trying);
		clearTimeout(this.#writing);
		this.#trying = setTimeout(() => this.#try(), TRY_MS);
		this.#writing = setTimeout(() => void this.write(), WRITE_MS);
	}

	async #try(): Promise<void> {
		const asked = ++this.#asked;
		const body = { text: this.text, destination: this.shown };
		const tried = await house.trying(() => ask(api.POST('/api/quotes/{quote_id}/posting/try', { params: { path: { quote_id: this.id } }, body })));
		if (asked === this.#asked && this.#writing && tried) this.tried = tried;
	}

	/** Writes what was typed, where anything was. */
	async write(): Promise<void> {
		if (!this.#writing) return;
		clearTimeout(this.#writing);
		this.#writing = undefined;
		await this.#edit(this.text);
	}

	/** Takes back what was written, for what is open. */
	async toDraft(): Promise<void> {
		clearTimeout(this.#writing);
		this.#writing = undefined;
		await this.#edit(null);
		this.#show();
	}

	async #edit(text: PostText | null): Promise<void> {
		if (!this.posting) return;
		house.saving += 1;
		const params = { path: { quote_id: this.id } };
		const body = { on_revision: this.posting.revision, by: house.person || null, edit: { kind: 'write-posting' as const, destination: this.tab || null, text } };
		await house.trying(() => ask(api.POST('/api/quotes/{quote_id}/edits', { params, body })));
		house.saving -= 1;
		const now = await house.trying(() => ask(api.GET('/api/quotes/{quote_id}/posting', { params })));
		// What was typed meanwhile stays in the fields, and is written next.
		if (now) this.#take(now);
	}

	suggest(tag: string): void {
		this.fields.tags = [...tagsIn(this.fields.tags), tag].join(', ');
		this.typed();
	}

	async link(address: string): Promise<void> {
		const posting = this.posting!;
		const params = { path: { recording_id: posting.recording_id } };
		await house.trying(async () => {
			const { title, series, held_on, notes } = await ask(api.GET('/api/recordings/{recording_id}', { params }));
			await ask(api.PUT('/api/recordings/{recording_id}/description', { params, body: { title, series, held_on, notes, link: address } }));
		});
		await this.load();
	}
}
