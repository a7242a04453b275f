/** A shortlist: quotes as slips in an order, what is said of each, and which are being compared or played. */
import { api, ask, type Judged, type Slip, type SlipMark, type WeekPost } from '$api/client';
import { house } from '$api/house.svelte';
import { Sequence } from '$player/sequence.svelte';
import type { Stretch } from '$player/player.svelte';
import { moved } from './order';

export type Scope = { talk?: number; series?: string; q?: string };
export const MARKS: SlipMark[] = ['candidate', 'picked', 'parked', 'done'];
export type Saying = { mark?: SlipMark; tags?: string[]; note?: string };

export class Shortlist {
	title = $state('');
	slips = $state.raw<Slip[] | null>(null);
	judged = $state.raw<Record<number, Judged>>({});
	/** The limits that the gauges of the slips show. */
	limits = $state.raw<string[]>(['tall-30', 'tall-60']);
	/** Only slips with this mark are shown; all where it is null. */
	only = $state<SlipMark | null>(null);
	at = $state(0);
	/** The quotes that are to be compared, two at most. */
	compared = $state.raw<number[]>([]);
	week = $state.raw<WeekPost[] | null>(null);
	readonly sequence = new Sequence();
	shown = $derived((this.slips ?? []).filter((one) => !this.only || one.mark === this.only));

	#undo: (() => Promise<void>)[] = [];

	constructor(readonly scope: Scope) {}

	get current(): Slip | undefined {
		return this.shown[this.at];
	}

	async load(): Promise<void> {
		const list = await ask(api.GET('/api/shortlist', { params: { query: this.scope } }));
		this.title = list.title;
		this.slips = list.slips;
		this.at = Math.max(0, Math.min(this.at, list.slips.length - 1));
		// One after another: each may have to read a whole talk for the first time.
		for (const slip of list.slips) {
			if (this.judged[slip.id] || !slip.lines.length) continue;
			const judged = await ask(api.GET('/api/quotes/{quote_id}/judged', { params: { path: { quote_id: slip.id } } }));
			this.judged = { ...this.judged, [slip.id]: judged };
		}
	}

	async say(slip: Slip, saying: Saying, undoing = false): Promise<void> {
		const params = { path: { quote_id: slip.id } };
		const before: Saying = { mark: slip.mark, tags: slip.tags, note: slip.note };
		const now = await house.trying(() => ask(api.POST('/api/quotes/{quote_id}/slip', { params, body: saying })));
		if (!now) return;
		this.slips = (this.slips ?? []).map((one) => (one.id === now.id ? now : one));
		this.at = Math.max(0, Math.min(this.at, this.shown.length - 1));
		if (!undoing) this.#undo.push(() => this.say(now, before, true));
	}

	/** Moves a shown slip to another place among those shown. */
	async move(from: number, to: number): Promise<void> {
		const before = this.shown.map((one) => one.id);
		const wanted = moved(before, from, to);
		if (wanted.join() === before.join()) return;
		const id = before[from]!;
		await this.#order(wanted);
		this.at = this.shown.findIndex((one) => one.id === id);
		this.#undo.push(() => this.#order(before));
	}

	async #order(quotes: number[]): Promise<void> {
		await house.trying(async () => {
			await ask(api.PUT('/api/shortlist/order', { body: { quotes } }));
			const places = new Map(quotes.map((id, place) => [id, place]));
			const mine = (this.slips ?? []).filter((one) => places.has(one.id)).sort((a, b) => places.get(a.id)! - places.get(b.id)!);
			this.slips = (this.slips ?? []).map((one) => (places.has(one.id) ? mine.shift()! : one));
		});
	}

	async undo(): Promise<void> {
		await this.#undo.pop()?.();
	}

	/** Puts a quote among those compared, or takes it out; the oldest of three gives way. */
	turnCompared(id: number): void {
		this.compared = this.compared.includes(id) ? this.compared.filter((one) => one !== id) : [...this.compared, id].slice(-2);
	}

	/** Plays the cut of one slip. */
	async play(slip: Slip): Promise<void> {
		if (this.sequence.current === String(slip.id)) return this.sequence.player?.toggle();
		await this.playFrom([slip]);
	}

	/** Plays the cuts of slips one after another, hands free. */
	async playFrom(slips: Slip[]): Promise<void> {
		const pieces = await Promise.all(
			slips.map(async (slip) => ({ id: String(slip.id), recordingId: slip.recording_id, stretches: await this.#stretches(slip.id) }))
		);
		this.sequence.play(pieces);
	}

	async #stretches(quote_id: number): Promise<Stretch[]> {
		const { cut } = await ask(api.GET('/api/quotes/{quote_id}', { params: { path: { quote_id } } }));
		let outMs = 0;
		return cut.kept.map((span) => {
			const one = { sourceMs: span.start_ms, lengthMs: span.end_ms - span.start_ms, outMs };
			outMs += one.lengthMs;
			return one;
		});
	}

	async suggestWeek(posts: number, destinations: string[]): Promise<void> {
		const body = { quotes: (this.slips ?? []).map((one) => one.id), posts, destinations, days: 14 };
		const week = await house.trying(() => ask(api.POST('/api/shortlist/week', { body })));
		if (week) this.week = week;
	}

	/** Puts another quote in the place of one in the week. */
	swap(place: number, quote: number): void {
		const post = this.week?.[place];
		if (!post || !this.week) return;
		const instead = [post.quote_id, ...post.instead.filter((one) => one !== quote)];
		this.week = this.week.with(place, { ...post, quote_id: quote, instead, reason: 'Chosen by you.' });
	}
}
