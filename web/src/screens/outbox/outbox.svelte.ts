/** The outbox: what is shown of it, the files as a whole, and the line of those that wait. */
import { api, ask, type Export, type Outbox as Whole } from '$api/client';
import { house } from '$api/house.svelte';
import { cardsOf, type Wanted } from './cards';

export class Outbox {
	wanted = $state<Wanted>({ talk: null, state: 'all', since: '', text: '' });
	whole = $state.raw<Whole | null>(null);

	cards = $derived.by(() => cardsOf(house.exports, this.wanted));
	talks = $derived.by(() => [...new Map(house.exports.map((one) => [one.recording_id, one.recording_title])).entries()]);
	/** Those that wait, in the order in which they are made. */
	line = $derived.by(() => house.exports.filter((one) => one.state === 'queued').sort((a, b) => (a.waits ?? 0) - (b.waits ?? 0)));

	async load(): Promise<void> {
		await Promise.all([house.refreshExports(), this.#look()]);
	}

	async #look(): Promise<void> {
		this.whole = await ask(api.GET('/api/outbox'));
	}

	#do(what: () => Promise<unknown>): Promise<boolean | undefined> {
		return house.trying(async () => {
			await what();
			await this.load();
			return true;
		});
	}

	pause(paused: boolean): Promise<boolean | undefined> {
		return this.#do(() => ask(api.PUT('/api/outbox/paused', { body: { paused } })));
	}

	cancel(one: Export): Promise<boolean | undefined> {
		return this.#do(() => ask(api.POST('/api/work/{work_id}/stop', { params: { path: { work_id: one.work_id } } })));
	}

	again(one: Export): Promise<boolean | undefined> {
		return this.#do(() => ask(api.POST('/api/work/{work_id}/resume', { params: { path: { work_id: one.work_id } } })));
	}

	remove(one: Export): Promise<boolean | undefined> {
		return this.#do(() => ask(api.POST('/api/exports/{export_id}/remove', { params: { path: { export_id: one.id } } })));
	}

	/** Moves one that waits so many places up, or down; Infinity makes it the next. */
	move(one: Export, up: number): Promise<boolean | undefined> {
		const ids = this.line.map((each) => each.id);
		const from = ids.indexOf(one.id);
		if (from < 0) return Promise.resolve(undefined);
		ids.splice(from, 1);
		ids.splice(Math.max(0, Math.min(ids.length, from - up)), 0, one.id);
		return this.#do(() => ask(api.PUT('/api/exports/order', { body: { exports: ids } })));
	}

	async clear(days: number, butNewest: boolean): Promise<number | undefined> {
		let gone: number | undefined;
		await this.#do(async () => (gone = await ask(api.POST('/api/outbox/clear', { body: { older_than_days: days, but_newest: butNewest } }))));
		return gone;
	}

	changes(one: Export): Promise<string[]> {
		return ask(api.GET('/api/exports/{export_id}/changes', { params: { path: { export_id: one.id } } }));
	}
}
