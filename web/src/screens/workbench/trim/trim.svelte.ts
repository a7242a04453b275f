/** What is in hand in Trim besides the quote itself: a join, a pause, a rule to strike by, a plan to fit. */
import { api, ask, type Fast, type Join, type Pause, type Plan, type Rule, type Strike } from '$api/client';
import { house } from '$api/house.svelte';
import { LatestWins } from '$api/latest';
import { outAtSource } from '$player/stretches';
import type { Bench } from '../bench.svelte';

export type Tab = 'cut' | 'fit' | 'fair' | 'history';
/** What is heard of a join: this much before it and after it. */
const AROUND_MS = 1500;
const OPENING_MS = 3000;

export class Trim {
	tab = $state<Tab>('cut');
	/** The number of the join in hand; none for the edges of the quote. */
	joinAt = $state<number | null>(null);
	/** The word before which the pause in hand is. */
	pauseBefore = $state<number | null>(null);
	rule = $state.raw<Rule | null>(null);
	found = $state.raw<Strike[]>([]);
	/** Places that a rule found and that are to stay. */
	but = $state.raw<Set<string>>(new Set());
	plan = $state.raw<Plan | null>(null);
	refused = $state.raw<Set<string>>(new Set());
	locked = $state.raw<Set<string>>(new Set());
	planning = $state(false);
	readonly #plans = new LatestWins<object, Plan>();

	constructor(readonly bench: Bench) {}

	joins = $derived.by((): Join[] => this.bench.cut?.joins ?? []);
	join = $derived.by((): Join | null => (this.joinAt === null ? null : (this.joins[Math.min(this.joinAt, this.joins.length - 1)] ?? null)));
	pause = $derived.by((): Pause | null => this.bench.cut?.pauses.find((one) => one.before === this.pauseBefore) ?? null);
	/** What would go if it were done: by the rule in hand, or by the plan in hand. */
	#proposed = $derived.by(() => {
		const words = new Set<number>();
		const add = (first: number, last: number) => {
			for (let word = first; word <= last; word++) words.add(word);
		};
		if (this.tab === 'fit') for (const piece of this.plan?.pieces ?? []) if (piece.kind !== 'pause' && piece.kind !== 'speed') add(piece.first, piece.last);
		if (this.tab === 'cut' && this.rule?.name !== 'pauses') for (const one of this.found) if (!this.but.has(one.id)) add(one.first, one.last);
		return words;
	});
	#unfair = $derived.by(() => new Set(this.bench.unfair.filter((one) => one.accepted === null).flatMap((one) => [one.first, one.last])));

	wordState = (word: number): string => {
		let said = this.bench.wordState(word);
		const at = this.bench.talk!.startsMs[word]!;
		if (this.bench.quote?.document.fast?.some((one) => one.span.start_ms <= at && at < one.span.end_ms)) said += ' fast';
		if (this.#proposed.has(word)) said += ' proposed';
		if (this.tab === 'fair' && this.#unfair.has(word)) said += ' unfair';
		return said;
	};

	/** Chooses the next join, or the one before; beyond them are the edges of the quote. */
	stepJoin(step: number): void {
		if (!this.joins.length) return;
		const at = (this.joinAt ?? (step > 0 ? -1 : this.joins.length)) + step;
		this.joinAt = at < 0 || at >= this.joins.length ? null : at;
		this.bench.player?.seekSource(this.join?.after_ms ?? this.bench.quote!.document.span.start_ms);
	}

	/** Plays a little before a join to a little after it. */
	hearJoin(): void {
		const { player } = this.bench;
		if (!player) return;
		const at = this.join ? outAtSource(this.bench.version!.assembly, this.join.after_ms) : 0;
		this.#hear(Math.max(0, at - AROUND_MS), at + AROUND_MS);
	}

	hearEdge(edge: 'in' | 'out'): void {
		const length = this.bench.player?.lengthMs ?? 0;
		if (edge === 'in') this.#hear(0, AROUND_MS);
		else this.#hear(Math.max(0, length - AROUND_MS), length);
	}

	hearOpening(): void {
		this.#hear(0, OPENING_MS);
	}

	#hear(fromMs: number, toMs: number): void {
		const { bench } = this;
		bench.playAsSaid(false);
		bench.player!.pause();
		bench.player!.seekOut(fromMs);
		bench.player!.play(toMs);
	}

	/** From the word before a pause to the word after it. */
	gapOf(pause: Pause): { fromMs: number; toMs: number } {
		const talk = this.bench.talk!;
		return { fromMs: talk.endsMs[pause.after]!, toMs: talk.startsMs[pause.before]! };
	}

	/** From the beginning of a word to the end of another. */
	spanOf(first: number, last: number): { fromMs: number; toMs: number } {
		const talk = this.bench.talk!;
		return { fromMs: talk.startsMs[first]!, toMs: talk.endsMs[last]! };
	}

	/** How all of a stretch is played, where that is faster than it was. */
	fastBetween(fromMs: number, toMs: number): Fast | null {
		const middle = (fromMs + toMs) / 2;
		return this.bench.quote?.document.fast?.find((one) => one.span.start_ms <= middle && middle < one.span.end_ms) ?? null;
	}

	/** Plays a stretch faster, or as it was again. */
	async playFast(fromMs: number, toMs: number, times: number | null, silent: boolean): Promise<void> {
		await this.bench.edit({ kind: 'play-fast', span: { start_ms: fromMs, end_ms: toMs }, times, silent: times !== null && silent });
	}

	/** Gives the pause in hand another length. */
	async setPause(toMs: number | null): Promise<void> {
		if (!this.pause) return;
		await this.bench.edit({ kind: 'set-pause', before: this.pause.before, to_ms: toMs, destination: this.bench.scope });
	}

	/** Makes the pause in hand a little longer, or shorter: by that much than it is when the change before is made. */
	nudgePause(byMs: number): void {
		const destination = this.bench.scope;
		void this.bench.edit(() => this.pause && { kind: 'set-pause', before: this.pause.before, to_ms: Math.max(0, this.pause.kept_ms + byMs), destination });
	}

	/** Moves one side of the join in hand, where it is when the change before is made. */
	nudgeJoin(side: 'before' | 'after', byMs: number): Promise<boolean> {
		const { bench } = this;
		return bench.edit(() => {
			const join = this.join;
			if (!join) return null;
			// A join that only this version has is moved in it alone.
			const shared = bench.quote!.cut.joins.some((one) => one.before_ms === join.before_ms && one.after_ms === join.after_ms);
			return { kind: 'nudge-join', side, at_ms: side === 'before' ? join.before_ms : join.after_ms, by_ms: byMs, destination: shared ? bench.scope : bench.shown };
		});
	}

	/** The pause after the place in hand, or the next. */
	stepPause(step: number): void {
		const pauses = this.bench.cut?.pauses ?? [];
		if (!pauses.length) return;
		const at = pauses.findIndex((one) => one.before === this.pauseBefore);
		const near = pauses.findIndex((one) => one.before >= this.bench.here);
		const next = at < 0 ? Math.max(0, near) : (at + step + pauses.length) % pauses.length;
		this.pauseBefore = pauses[next]!.before;
	}

	/** Looks what a rule would strike; none puts it away. */
	async tryRule(rule: Rule | null): Promise<void> {
		this.rule = rule;
		this.but = new Set();
		this.found = [];
		if (!rule) return;
		const found = await house.trying(() =>
			ask(
				api.POST('/api/quotes/{quote_id}/strikes', {
					params: { path: { quote_id: this.bench.id } },
					body: { rule, destination: this.bench.scope }
				})
			)
		);
		if (this.rule === rule) this.found = found ?? [];
	}

	except(id: string): void {
		const but = new Set(this.but);
		if (!but.delete(id)) but.add(id);
		this.but = but;
	}

	/** Whether a click on a word is about the rule in hand: then it is excepted, or not any more. */
	exceptWord(word: number): boolean {
		const one = this.rule && this.tab === 'cut' ? this.found.find((strike) => word >= strike.first && word <= strike.last) : undefined;
		if (!one) return false;
		this.except(one.id);
		return true;
	}

	async strikeByRule(): Promise<void> {
		if (!this.rule) return;
		const edit = { kind: 'strike-by-rule' as const, rule: this.rule, but: [...this.but], destination: this.bench.scope };
		if (await this.bench.edit(edit)) await this.tryRule(null);
	}

	/** Asks for the plan that loses least, with what is refused and locked. */
	async makePlan(): Promise<void> {
		this.planning = true;
		const wanted = { destination: this.bench.shown, refused: [...this.refused], locked: [...this.locked] };
		const asked = () => ask(api.POST('/api/quotes/{quote_id}/plan', { params: { path: { quote_id: this.bench.id } }, body: wanted }));
		const plan = await house.trying(() => this.#plans.ask(wanted, asked));
		// A plan for another version, or with other wishes, may have been asked for since.
		if (!this.#plans.isLatest(wanted)) return;
		this.planning = false;
		this.plan = plan ?? null;
	}

	/** Refuses a piece, or allows it again; the plan is made anew around it. */
	async refuse(id: string): Promise<void> {
		const refused = new Set(this.refused);
		if (!refused.delete(id)) refused.add(id);
		this.refused = refused;
		this.locked = new Set([...this.locked].filter((one) => one !== id));
		await this.makePlan();
	}

	async lock(id: string): Promise<void> {
		const locked = new Set(this.locked);
		if (!locked.delete(id)) locked.add(id);
		this.locked = locked;
		await this.makePlan();
	}

	forgetWishes(): void {
		this.refused = new Set();
		this.locked = new Set();
		this.plan = null;
	}

	/** Makes some of the pieces of the plan, or all. */
	async accept(ids: string[]): Promise<void> {
		const { bench, plan } = this;
		const pieces = plan?.pieces.filter((one) => ids.includes(one.id)) ?? [];
		if (!plan || !pieces.length) return;
		const own = (bench.quote?.versions.length ?? 0) > 1;
		const speed = pieces.some((one) => one.kind === 'speed') ? plan.speed : null;
		const spans = pieces.flatMap((one) => one.spans);
		const destination = own || speed ? bench.shown : null;
		if (await bench.edit({ kind: 'strike-spans', spans, speed, destination })) {
			this.plan = null;
			await this.makePlan();
		}
	}
}
