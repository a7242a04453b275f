import { describe, expect, it } from 'vitest';
import type { Edit, Version } from '$api/client';
import { Trials } from './trials.svelte';

const edit = (name: string) => ({ kind: 'rename', title: name }) as Edit;
const version = (name: string) => ({ destination: name }) as Version;
const soon = () => new Promise((done) => setTimeout(done));

/** Trials whose answers come when the test says so. */
function slowly() {
	const asked: { name: string; answer: (version: Version) => void; fail: () => void }[] = [];
	const trials = new Trials(
		(one) => new Promise((answer, no) => asked.push({ name: (one as { title: string }).title, answer, fail: () => no(new Error('gone')) }))
	);
	return { trials, asked };
}

describe('trials of an edit', () => {
	it('ask for the newest only, while one is on its way', async () => {
		const { trials, asked } = slowly();
		for (const name of ['a', 'b', 'c']) trials.try(edit(name));
		asked[0]!.answer(version('a'));
		await soon();
		expect(asked.map((one) => one.name)).toEqual(['a', 'c']);
		expect(trials.shown).toEqual(version('a'));
	});

	it('that come back after the end are not shown', async () => {
		const { trials, asked } = slowly();
		trials.try(edit('a'));
		trials.end();
		asked[0]!.answer(version('a'));
		await soon();
		expect(trials.shown).toBeNull();
	});

	it('begun again after an end are shown, whatever is still on its way', async () => {
		const { trials, asked } = slowly();
		trials.try(edit('a'));
		trials.end();
		trials.try(edit('b'));
		asked[0]!.answer(version('a'));
		await soon();
		expect(asked.map((one) => one.name)).toEqual(['a', 'b']);
		asked[1]!.answer(version('b'));
		await soon();
		expect(trials.shown).toEqual(version('b'));
	});

	it('that fail leave what was shown, and the next is asked', async () => {
		const { trials, asked } = slowly();
		trials.try(edit('a'));
		asked[0]!.fail();
		await soon();
		trials.try(edit('b'));
		asked[1]!.answer(version('b'));
		await soon();
		expect(trials.shown).toEqual(version('b'));
	});

	it('let go of a version only where no other took its place', async () => {
		const { trials, asked } = slowly();
		trials.try(edit('a'));
		asked[0]!.answer(version('a'));
		await soon();
		const first = trials.shown;
		trials.letGo(version('another'));
		expect(trials.shown).toBe(first);
		trials.letGo(first);
		expect(trials.shown).toBeNull();
	});
});
