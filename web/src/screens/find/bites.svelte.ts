/** The soundbites that the finder offers for a talk: which one is in hand, how it is grown, kept or passed over. */
import { api, ask, type Offer, type Soundbite } from '$api/client';
import { house } from '$api/house.svelte';

export type Length = 'any' | 'under-20' | '20-40' | 'over-40';
type Verdict = 'kept' | 'parked' | 'unlike';
type Done = { bite: Soundbite; verdict: Verdict; quote: number | null };

const FIRST_COUNT = 10;

/** A probability as how many of ten; a half goes up. */
export function inTen(merit: number): number {
	return Math.round(merit * 10);
}

export class Bites {
	offer = $state.raw<Offer | null>(null);
	/** The soundbites in the list; one that was grown stands in the place of what was offered. */
	list = $state.raw<Soundbite[]>([]);
	at = $state(-1);
	destinations = $state.raw<string[]>(['tall-30', 'tall-60']);
	count = $state(FIRST_COUNT);
	/** Whether those are shown that an editor would hardly keep. */
	weaker = $state(false);
	topic = $state<number | null>(null);
	length = $state<Length>('any');
	busy = $state(false);
	problem = $state('');
	/** What of the features has changed with the last choice, to be seen. */
	learned = $state('');
	current = $derived<Soundbite | undefined>(this.list[this.at]);
	/** Of ten like it, so many an editor would keep at least of what is offered. */
	least = $derived(inTen(this.offer?.least ?? 0));

	#asking = 0;
	#did: Done[] = [];

	constructor(
		readonly id: number,
		/** Called when quotes were kept or taken back. */
		readonly onkept: () => Promise<void>
	) {}

	async load(): Promise<void> {
		const asking = ++this.#asking;
		const { destinations, count, length, weaker } = this;
		const query = { destinations, count, length, weaker, ...(this.topic === null ? {} : { topic: this.topic }) };
		this.busy = true;
		try {
			const offer = await ask(api.GET('/api/recordings/{recording_id}/soundbites', { params: { path: { recording_id: this.id }, query } }));
			if (asking !== this.#asking) return;
			this.#show(offer);
			this.problem = '';
		} catch (refused) {
			if (asking === this.#asking) this.problem = (refused as Error).message;
		} finally {
			if (asking === this.#asking) this.busy = false;
		}
	}

	#show(offer: Offer): void {
		const held = this.current;
		this.offer = offer;
		this.list = offer.soundbites;
		this.at = held ? this.list.findIndex((one) => one.first === held.first && one.last === held.last) : -1;
	}

	/** Asks again with another choice of destinations, topic or length. */
	async choose(change: Partial<Pick<Bites, 'destinations' | 'topic' | 'length' | 'count' | 'weaker'>>): Promise<void> {
		Object.assign(this, change);
		this.at = -1;
		await this.load();
	}

	/** Takes the next soundbite in hand, or the one before. */
	go(step: number): Soundbite | undefined {
		if (!this.list.length) return undefined;
		this.at = this.at < 0 ? (step > 0 ? 0 : this.list.length - 1) : (this.at + step + this.list.length) % this.list.length;
		return this.current;
	}

	/** Moves an end of the soundbite in hand by a sentence: it is judged anew. */
	async grow(end: 'first' | 'last', step: number): Promise<Soundbite | undefined> {
		const bite = this.current;
		if (!bite) return undefined;
		const wanted = { first: bite.first, last: bite.last, [end]: bite[end] + step };
		if (wanted.first < 0 || wanted.first > wanted.last) return bite;
		const grown = await house.trying(() => this.#judge(wanted));
		if (!grown || this.current !== bite) return this.current;
		this.list = this.list.with(this.at, grown);
		return grown;
	}

	/** Keeps the soundbite in hand, parks it, or says that it is not this house's kind. */
	async decide(verdict: Verdict): Promise<Soundbite | undefined> {
		const bite = this.current;
		if (!bite) return undefined;
		const before = this.offer?.taste.shifts ?? [];
		const decided = await house.trying(() => this.#decide(bite, verdict));
		if (!decided) return undefined;
		this.#did.push({ bite, verdict, quote: decided.kept?.id ?? null });
		await this.load();
		this.#tellLearned(before);
		if (verdict === 'kept') await this.onkept();
		return decided;
	}

	/** Takes the last choice back: also the quote that was kept by it. */
	async undo(): Promise<boolean> {
		const last = this.#did.pop();
		if (!last) return false;
		await this.takeBack(last.bite);
		if (last.quote !== null) {
			const quote_id = last.quote;
			await house.trying(() => ask(api.POST('/api/quotes/{quote_id}/remove', { params: { path: { quote_id } } })));
			await this.onkept();
		}
		return true;
	}

	/** A soundbite passed over before may be offered again. */
	async takeBack(bite: Soundbite): Promise<void> {
		await house.trying(() => this.#decide(bite, null));
		await this.load();
	}

	async forgetTaste(): Promise<void> {
		await house.trying(() => ask(api.POST('/api/taste/forget')));
		this.#did = [];
		this.learned = '';
		await this.load();
	}

	#decide(bite: Soundbite, verdict: Verdict | null): Promise<Soundbite> {
		const body = { first: bite.first, last: bite.last, destinations: this.destinations, verdict };
		return ask(api.POST('/api/recordings/{recording_id}/soundbites/decide', { params: { path: { recording_id: this.id } }, body }));
	}

	#judge(wanted: { first: number; last: number }): Promise<Soundbite> {
		const body = { ...wanted, destinations: this.destinations };
		return ask(api.POST('/api/recordings/{recording_id}/soundbites/judge', { params: { path: { recording_id: this.id } }, body }));
	}

	#tellLearned(before: { feature: string; times: number }[]): void {
		const changes = (this.offer?.taste.shifts ?? []).map((now) => {
			const was = before.find((one) => one.feature === now.feature)?.times ?? 1;
			return { feature: now.feature, by: now.times / was };
		});
		const most = changes.sort((a, b) => Math.abs(Math.log(b.by)) - Math.abs(Math.log(a.by)))[0];
		const name = this.list[0]?.reasons.find((one) => one.feature === most?.feature)?.name;
		this.learned = most && name && Math.abs(most.by - 1) >= 0.01 ? `“${name}” now counts ${most.by > 1 ? 'more' : 'less'} here.` : '';
	}
}
