import { beforeEach, describe, expect, it, vi } from 'vitest';
import { keys } from './keys.svelte';

class Target {
	type = '';
	isContentEditable = false;
	closest(): null {
		return null;
	}
}
class Field extends Target {}

beforeEach(() => {
	vi.stubGlobal('HTMLElement', Target);
	vi.stubGlobal('HTMLInputElement', Field);
	vi.stubGlobal('HTMLTextAreaElement', class {});
	vi.stubGlobal('HTMLSelectElement', class {});
});

function press(key: string, more: Partial<KeyboardEvent> = {}): boolean {
	const taken = vi.fn();
	const event = { key, defaultPrevented: false, target: new Target(), preventDefault: taken, ...more };
	keys.press(event as unknown as KeyboardEvent);
	return taken.mock.calls.length > 0;
}

describe('keys of a place', () => {
	it('act by their sign, whatever the shift it takes', () => {
		const did: string[] = [];
		const stop = keys.use('Test', [
			{ keys: ['x'], does: 'strike', run: () => did.push('x') },
			{ keys: ['shift+n'], does: 'before', run: () => did.push('N') },
			{ keys: ['{'], does: 'earlier', run: () => did.push('{') },
			{ keys: ['ctrl+shift+z'], does: 'redo', run: () => did.push('redo') },
			{ keys: ['Space'], does: 'play', run: () => did.push('play') }
		]);
		expect(press('x')).toBe(true);
		press('N', { shiftKey: true });
		press('{', { shiftKey: true });
		press('Z', { shiftKey: true, metaKey: true });
		press(' ');
		expect(press('q')).toBe(false);
		expect(did).toEqual(['x', 'N', '{', 'redo', 'play']);
		stop();
		expect(press('x')).toBe(false);
	});

	it('act by signs that need AltGr or Option on this keyboard', () => {
		const did: string[] = [];
		const bracket = { keys: ['['], does: 'in', run: () => did.push('[') };
		const stop = keys.use('Test', [bracket, { keys: ['ctrl+e'], does: 'export', run: () => did.push('ctrl+e') }]);
		const altGraph = { getModifierState: (name: string) => name === 'AltGraph' };
		press('[', { ...altGraph, ctrlKey: true, altKey: true });
		press('[', { ...altGraph });
		press('[', { altKey: true });
		press('[');
		expect(press('e', { ctrlKey: true, altKey: true })).toBe(false);
		expect(press('[', { ctrlKey: true })).toBe(false);
		expect(did).toEqual(['[', '[', '[', '[']);
		stop();
	});

	it('write where one is writing', () => {
		const run = vi.fn();
		const stop = keys.use('Test', [{ keys: ['x'], does: 'strike', run }]);
		press('x', { target: new Field() as unknown as EventTarget });
		expect(run).not.toHaveBeenCalled();
		stop();
	});

	it('act on a slider, but for those that move it', () => {
		const run = vi.fn();
		const stop = keys.use('Test', [{ keys: ['g', 'ArrowLeft', 'Home'], does: 'give', run }]);
		const target = Object.assign(new Field(), { type: 'range' }) as unknown as EventTarget;
		press('ArrowLeft', { target });
		press('Home', { target });
		expect(run).not.toHaveBeenCalled();
		press('g', { target });
		expect(run).toHaveBeenCalledOnce();
		stop();
	});

	it('are those of the place one came to last', () => {
		const [outer, inner] = [vi.fn(), vi.fn()];
		const stops = [keys.use('Outer', [{ keys: ['x'], does: '', run: outer }]), keys.use('Inner', [{ keys: ['x'], does: '', run: inner }])];
		press('x');
		expect([outer.mock.calls.length, inner.mock.calls.length]).toEqual([0, 1]);
		stops.forEach((stop) => stop());
	});
});
