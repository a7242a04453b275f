import { describe, expect, it, vi } from 'vitest';
import type { Finding } from '$api/client';
import type { Bench } from '../bench.svelte';
import { Check } from './check.svelte';

const found = (says: string, more: Partial<Finding> = {}): Finding =>
	({ id: `id ${says}`, check: 'soft', severity: 'warn', says, do: 'Do it.', step: 'frame', at_ms: null, mend: null, mend_says: '', ...more }) as Finding;

function over(findings: Record<string, Finding[]>, cuts: Record<string, number> = {}) {
	const versions = Object.keys(findings).map((destination) => ({
		destination,
		assembly: { rate: '25', frames: 50, cover_frames: 0, picture: [{ source: 'recording', first_frame: 0, frames: 50, source_frame: cuts[destination] ?? 25, step: '1' }], sound: { played: [] } }
	}));
	const bench = {
		shown: versions[0]!.destination, resolved: { versions }, accepted: [] as [string[], string][], edits: [] as unknown[],
		get version() { return versions.find((one) => one.destination === bench.shown); },
		findingsOf: (destination: string) => findings[destination]!, acceptedOf: () => [], show: (to: string) => { bench.shown = to; },
		player: { pause: vi.fn(), seekOut: vi.fn() },
		accept: (some: Finding[], reason: string) => { bench.accepted.push([some.map((one) => one.id ?? ''), reason]); return Promise.resolve(true); },
		edit: (edit: unknown) => { bench.edits.push(edit); return Promise.resolve(true); }
	};
	return { bench, check: new Check(bench as unknown as Bench) };
}

describe('checking all versions', () => {
	it('tells what is wrong with every version once, before what is wrong with each', () => {
		const { check } = over({ tall: [found('soft'), found('long', { severity: 'stop' })], wide: [found('soft')] });
		expect(check.groups.map((group) => [group.version?.destination ?? 'every', group.findings.map((one) => one.says)])).toEqual([
			['every', ['soft']], ['tall', ['long']], ['wide', []]
		]);
		expect(check.stops).toBe(1);
	});

	it('goes from finding to finding, round and round, each in its version and at its moment', () => {
		const { check, bench } = over({ tall: [found('a', { at_ms: 500 })], wide: [found('b', { at_ms: 900 })] });
		check.step(1);
		expect([check.inHand?.finding.says, bench.shown]).toEqual(['a', 'tall']);
		expect(bench.player.seekOut).toHaveBeenLastCalledWith(520);
		check.step(1);
		expect([check.inHand?.finding.says, bench.shown]).toEqual(['b', 'wide']);
		check.step(1);
		expect(check.inHand?.finding.says).toBe('a');
		check.step(-1);
		expect(check.inHand?.finding.says).toBe('b');
	});

	it('marks as fine all that one told once stands for', async () => {
		const cue = (number: number, severity: 'stop' | 'warn' = 'stop') => found(`cue ${number}`, { check: 'contrast', step: 'captions', severity });
		const { check, bench } = over({ tall: [found('soft'), cue(1), cue(2), cue(3, 'warn')], wide: [found('soft')] });
		const told = check.list.map((one) => one.finding);
		expect(told.map((one) => [one.says, one.more])).toEqual([['soft', undefined], ['cue 1', 1], ['cue 3', undefined]]);
		await check.accept(told[1]!, 'For the hall');
		expect(bench.accepted).toEqual([[['id cue 1', 'id cue 2'], 'For the hall']]);
		await check.accept(told[0]!, 'Marked as fine');
		expect(bench.accepted.at(-1)).toEqual([['id soft', 'id soft'], 'Marked as fine']);
	});

	it('makes the edit that mends, where there is one', async () => {
		const { check, bench } = over({ tall: [found('a', { mend: { kind: 'rename', title: 'x' } as never }), found('b')] });
		await check.mend(check.list[0]!.finding);
		await check.mend(check.list[1]!.finding);
		expect(bench.edits).toEqual([{ kind: 'rename', title: 'x' }]);
	});

	it('mends all captions that are told as one, each once, and stops where one is refused', async () => {
		const cue = (first: number, height: number, kind = 'place-caption') =>
			found(`cue ${first} ${height}`, { check: 'covered', step: 'captions', mend: { kind, first, last: first + 2, height } as never, mend_says: 'Move it clear' });
		const { check, bench } = over({ tall: [cue(1, 0.5), cue(4, 0.6)], wide: [cue(1, 0.7)] });
		const told = check.list[0]!.finding;
		expect(check.mends(told)).toHaveLength(2);
		await check.mend(told);
		expect(bench.edits).toMatchObject([{ first: 1, height: 0.5 }, { first: 4, height: 0.6 }]);
		bench.edits.length = 0;
		bench.edit = (edit: unknown) => { bench.edits.push(edit); return Promise.resolve(false); };
		await check.mend(told);
		expect(bench.edits).toHaveLength(1);
		// Captions that are joined have to do with each other.
		const joined = over({ tall: [cue(1, 0, 'join-captions'), cue(4, 0, 'join-captions')] });
		expect(joined.check.mends(joined.check.list[0]!.finding)).toHaveLength(1);
	});

	it('knows which versions play in step', () => {
		const { check } = over({ tall: [], wide: [], square: [] }, { square: 80 });
		expect(check.versions.map((version) => check.inStep(version))).toEqual([true, true, false]);
	});
});
