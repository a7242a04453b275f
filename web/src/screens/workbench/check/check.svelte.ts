/** What is in hand in Check: what is wrong with every version, told once where it is the same, and the finding that is looked at. */
import type { Edit, Finding, Version } from '$api/client';
import { stretchesOf } from '$player/stretches';
import type { Bench } from '../bench.svelte';
import { alike, together, type Told } from './together';

export type Group = { destination: string; version: Version | null; findings: Told[] };

/** Edits of one caption alone. */
const APART: Edit['kind'][] = ['place-caption', 'change-cue-look'];
const same = (one: Finding, other: Finding) => one.says === other.says && one.do === other.do;

export class Check {
	/** The finding in hand, by its place among all that are told. */
	at = $state<number | null>(null);
	muted = $state(true);
	/** Shown as large as on a phone. */
	real = $state(false);
	/** The recording is shown beside the clip. */
	comparing = $state(false);

	constructor(readonly bench: Bench) {}

	versions = $derived.by((): Version[] => this.bench.resolved?.versions ?? []);

	/** What is wrong with every version alike is told once, before what is wrong with each. */
	groups = $derived.by((): Group[] => {
		const found = this.versions.map((version) => ({ version, findings: together(this.bench.findingsOf(version.destination)) }));
		const shared = found.length < 2 ? [] : found[0]!.findings.filter((one) => found.every((other) => other.findings.some((its) => same(one, its))));
		const each = found.map(({ version, findings }) => ({
			destination: version.destination, version, findings: findings.filter((one) => !shared.some((other) => same(one, other)))
		}));
		return shared.length ? [{ destination: this.bench.shown, version: null, findings: shared }, ...each] : each;
	});
	list = $derived.by(() => this.groups.flatMap((group) => group.findings.map((finding) => ({ group, finding }))));
	stops = $derived.by(() => this.list.filter(({ finding }) => finding.severity === 'stop').length);
	accepted = $derived.by(() => this.versions.flatMap((version) => this.bench.acceptedOf(version.destination).map((finding) => ({ version, finding }))));
	inHand = $derived.by(() => (this.at === null ? null : (this.list[Math.min(this.at, this.list.length - 1)] ?? null)));

	/** Whether a version plays in step with the one on the stage: it is cut alike. */
	inStep(version: Version): boolean {
		const shown = this.bench.version;
		if (!shown || version.destination === shown.destination) return true;
		const cut = (one: Version) => JSON.stringify(stretchesOf(one.assembly).map(({ sourceMs, outMs }) => [Math.round(sourceMs / 100), Math.round(outMs / 100)]));
		return cut(version) === cut(shown);
	}

	/** Goes to the next finding, or the one before, and to its moment. */
	step(by: number): void {
		if (!this.list.length) return;
		const from = this.at ?? (by > 0 ? -1 : this.list.length);
		this.look((from + by + this.list.length) % this.list.length);
	}

	look(at: number): void {
		const one = this.list[at];
		if (!one) return;
		this.at = at;
		this.bench.show(one.group.destination);
		this.bench.player?.pause();
		if (one.finding.at_ms != null) this.bench.player?.seekOut(one.finding.at_ms + 20);
	}

	/** The findings of all versions that one told once stands for. */
	#meant(finding: Told): Finding[] {
		const all = this.versions.flatMap((version) => this.bench.findingsOf(version.destination));
		return all.filter((one) => one.id === finding.id || same(one, finding) || (finding.more && alike(one, finding)));
	}

	/** Says that a finding is fine, in every version that it was told of; a stop takes a reason. */
	accept(finding: Told, reason: string): Promise<boolean> {
		return this.bench.accept(this.#meant(finding), reason);
	}

	/** The edits that mend a finding: of several captions that are told as one each, where none of them has to do with another. */
	mends(finding: Told): Edit[] {
		if (!finding.mend) return [];
		if (!finding.more || !APART.includes(finding.mend.kind)) return [finding.mend];
		const every = [finding, ...this.#meant(finding)].flatMap((one) => (one.mend?.kind === finding.mend!.kind ? [one.mend] : []));
		// A caption that is told of in several versions is mended once.
		const about = (edit: Edit) => ('first' in edit ? `${edit.first}` : JSON.stringify(edit));
		return every.filter((one, at) => every.findIndex((other) => about(other) === about(one)) === at);
	}

	/** Makes the edits that mend a finding, one after another, as far as none is refused. */
	async mend(finding: Told): Promise<void> {
		for (const one of this.mends(finding)) if (!(await this.bench.edit(one))) return;
	}
}
