/** Findings as they are told in a list: those of captions of one kind as one, the first of them, with how many more there are. */
import type { Finding } from '$api/client';

export type Told = Finding & { more?: number };

/** Whether two are told as one. */
export const alike = (one: Finding, other: Finding): boolean =>
	one.step === 'captions' && one.check !== 'fairness' && other.check === one.check && other.severity === one.severity;

export function together(findings: Finding[]): Told[] {
	const out: Told[] = [];
	for (const one of findings) {
		const same = out.find((other) => alike(one, other));
		if (same) same.more = (same.more ?? 0) + 1;
		else out.push({ ...one });
	}
	return out;
}
