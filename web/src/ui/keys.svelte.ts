/** The keys of the screen one is on, in groups: listed once, both to act on and to show under `?`. */

import { untrack } from 'svelte';

export type Key = {
	/** As `KeyboardEvent.key` names it, lower case for letters; `shift+`, `ctrl+` before it. `ctrl` is Cmd on a Mac. */
	keys: string[];
	does: string;
	run: (event: KeyboardEvent) => void;
};

class Keys {
	groups = $state.raw<{ name: string; keys: Key[] }[]>([]);
	shown = $state(false);

	/** Adds the keys of a group while it is there; gives what takes them away again. */
	use(name: string, keys: Key[]): () => void {
		const group = { name, keys };
		// Untracked: an effect that adds keys must not run again because keys were added.
		untrack(() => (this.groups = [...this.groups, group]));
		return () => {
			untrack(() => (this.groups = this.groups.filter((one) => one !== group)));
		};
	}

	/** A button pressed by the pointer gives the keys back, so that Space plays and does not press it again. */
	letGo(event: MouseEvent): void {
		const pressed = event.target instanceof Element ? event.target.closest<HTMLElement>('button, input[type="range"]') : null;
		if (event.detail > 0 && pressed === document.activeElement) pressed?.blur();
	}

	press(event: KeyboardEvent): void {
		if (event.defaultPrevented || isTyping(event)) return;
		const pressed = nameOf(event);
		for (const group of [...this.groups].reverse()) {
			const key = group.keys.find((one) => one.keys.includes(pressed));
			if (key) {
				event.preventDefault();
				key.run(event);
				return;
			}
		}
	}
}

function nameOf(event: KeyboardEvent): string {
	const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
	// Many keyboards need AltGr (which may come as Ctrl and Alt) or Option for a sign like [: it says all there is to say.
	if (/^[^a-z0-9 ]$/.test(key) && (event.getModifierState?.('AltGraph') || event.altKey)) return key;
	// Where shift makes another sign of a key, the sign says it already.
	const shift = event.shiftKey && (key.length > 1 || /[a-z ]/.test(key)) ? 'shift+' : '';
	return `${event.ctrlKey || event.metaKey ? 'ctrl+' : ''}${event.altKey ? 'alt+' : ''}${shift}${key === ' ' ? 'Space' : key}`;
}

/** In a field, keys write; on a control, Space and Enter press it and arrows move it; a slider takes no letters. */
function isTyping(event: KeyboardEvent): boolean {
	const at = event.target;
	if (!(at instanceof HTMLElement)) return false;
	if (at.isContentEditable || at instanceof HTMLTextAreaElement || at instanceof HTMLSelectElement) return true;
	if (at instanceof HTMLInputElement && at.type === 'range') return /^(Arrow|Page|Home|End)/.test(event.key);
	if (at instanceof HTMLInputElement) return at.type !== 'radio' && at.type !== 'checkbox' ? true : isPressing(event);
	if (at.closest('[data-own-keys]') && event.key.startsWith('Arrow')) return true;
	return isPressing(event) && at.closest('button, a, [role="slider"], summary') !== null;
}

function isPressing(event: KeyboardEvent): boolean {
	return event.key === ' ' || event.key === 'Enter';
}

export const keys = new Keys();
