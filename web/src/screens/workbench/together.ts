/** Findings as they are told in a list: those of captions of one kind as one, the first of them, with how many more there are. */
import type { Finding } from '$api/client';

export type Told = Finding & { more?: number };

export function together(findings: Finding[]): Told[] {
	const out: Told[] = [];
	for (const one of findings) {
		const ofCaptions = one.step === 'captions' && one.check !== 'fairness';
		const same = ofCaptions ? out.find((other) => other.check === one.check && other.severity === one.severity) : undefined;
		if (same) same.more = (same.more ?? 0) + 1;
		else out.push({ ...one });
	}
	return out;
}
