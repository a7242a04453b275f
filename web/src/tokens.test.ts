/// <reference types="node" />
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';

const css = readFileSync(new URL('./tokens.css', import.meta.url), 'utf8');
const tokens = new Map([...css.matchAll(/--([\w-]+): (#[0-9a-f]{6})/g)].map((found) => [found[1]!, found[2]!]));

/** Relative luminance as WCAG 2.2 defines it. */
function luminance(name: string): number {
	const code = tokens.get(name);
	if (!code) throw new Error(`there is no token ${name}`);
	const [red, green, blue] = [1, 3, 5].map((i) => {
		const part = parseInt(code.slice(i, i + 2), 16) / 255;
		return part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4;
	});
	return 0.2126 * red! + 0.7152 * green! + 0.0722 * blue!;
}

function contrast(text: string, ground: string): number {
	const [light, dark] = [luminance(text), luminance(ground)].sort((a, b) => b - a);
	return (light! + 0.05) / (dark! + 0.05);
}

describe('the colours', () => {
	it.each([
		['paper', ['ink', 'ink-soft', 'kept', 'struck', 'note', 'good', 'warn', 'bad', ...Array.from({ length: 8 }, (_, i) => `speaker-${i}`)]],
		['paper-raised', ['ink', 'ink-soft', 'kept', 'struck', 'note', 'good', 'warn', 'bad']],
		['paper-sunk', ['ink', 'ink-soft']],
		['kept', ['paper-raised']],
		['kept-wash', ['ink', 'ink-soft']],
		['found', ['ink']],
		['found-wash', ['ink']],
		['note-wash', ['ink']],
		['warn-wash', ['ink', 'warn']],
		['bad-wash', ['ink']],
		['stage', ['stage-text', 'stage-soft', 'found']],
		['stage-raised', ['stage-text']]
	])('can be read on %s', (ground, texts) => {
		for (const text of texts as string[]) expect(contrast(text, ground as string), `${text} on ${ground}`).toBeGreaterThanOrEqual(4.5);
	});

	it('stand in one file only', () => {
		const files = import.meta.glob(['./**/*.svelte', './app.css'], { query: '?raw', import: 'default', eager: true });
		const raw = Object.entries(files).filter(([, text]) => /#[0-9a-f]{3,8}\b(?![^<]*<\/script>)/i.test(styleOf(String(text))));
		expect(raw.map(([name]) => name)).toEqual([]);
	});
});

function styleOf(text: string): string {
	return text.slice(Math.max(0, text.lastIndexOf('<style>')));
}
