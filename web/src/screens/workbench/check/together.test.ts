import { describe, expect, it } from 'vitest';
import type { Finding } from '$api/client';
import { together } from './together';

const found = (check: string, severity: 'stop' | 'warn', step: Finding['step']): Finding => ({ check, severity, step, says: check, do: '', mend_says: '' }) as Finding;

describe('findings in a list', () => {
	it('are one for captions of one kind, and each by itself for the rest', () => {
		const told = together([found('covered', 'warn', 'captions'), found('soft', 'warn', 'frame'), found('covered', 'warn', 'captions'), found('soft', 'warn', 'frame')]);
		expect(told.map((one) => [one.check, one.more ?? 0])).toEqual([['covered', 1], ['soft', 0], ['soft', 0]]);
	});
	it('are never one where one of them is a stop, or about fairness', () => {
		expect(together([found('contrast', 'stop', 'captions'), found('contrast', 'warn', 'captions')])).toHaveLength(2);
		expect(together([found('fairness', 'warn', 'captions'), found('fairness', 'warn', 'captions')])).toHaveLength(2);
	});
});
