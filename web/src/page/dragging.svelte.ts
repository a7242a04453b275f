/** Dragging on the page: words are chosen from where the pointer went down, or an edge of what is kept is pulled. */
import type { WordSelection } from './selection.svelte';

/** The first and last word of what is kept, each with a grip to drag it by. */
export type Edges = { first: number; last: number };
export type Edge = 'in' | 'out';

type Page = {
	readonly selection: WordSelection;
	readonly edges: Edges | null;
	onword: (word: number) => void;
	/** An edge was dragged to a word, which is the first or the last that is kept. */
	onedge?: (edge: Edge, word: number) => void;
};

export class Dragging {
	/** The edge that is pulled, and the word it is over. */
	pulled = $state.raw<{ edge: Edge; word: number } | null>(null);
	#from: number | null = null;
	#moved = false;

	constructor(private readonly page: Page) {}

	get going(): boolean {
		return this.#from !== null || this.pulled !== null;
	}

	/** The pointer went down on a word; with shift, what is chosen is drawn out to it. Whether a drag begins. */
	press(word: number, shift: boolean): boolean {
		const chosen = this.page.selection.range;
		if (shift && chosen) {
			this.page.selection.set(word < chosen.first ? chosen.last : chosen.first, word);
			return false;
		}
		this.#from = word;
		this.#moved = false;
		return true;
	}

	grip(edge: Edge): boolean {
		if (!this.page.edges) return false;
		this.pulled = { edge, word: this.#edgeWord(edge) };
		return true;
	}

	over(word: number | null): void {
		const edges = this.page.edges;
		if (word === null) return;
		if (this.pulled) {
			if (edges) this.pulled = { edge: this.pulled.edge, word: this.pulled.edge === 'in' ? Math.min(word, edges.last) : Math.max(word, edges.first) };
			return;
		}
		if (this.#from === null || (word === this.#from && !this.#moved)) return;
		this.#moved = true;
		this.page.selection.set(this.#from, word);
	}

	release(): void {
		if (this.pulled && this.page.edges) {
			// A grip lies over the end of its word: a click on it is one on the word.
			if (this.pulled.word === this.#edgeWord(this.pulled.edge)) this.page.onword(this.pulled.word);
			else this.page.onedge?.(this.pulled.edge, this.pulled.word);
		}
		if (this.#from !== null && !this.#moved) {
			this.page.selection.clear();
			this.page.onword(this.#from);
		}
		this.cancel();
	}

	cancel(): void {
		this.pulled = null;
		this.#from = null;
	}

	/** What would become of a word if the edge that is pulled were let go, as a class. */
	fate(word: number): '' | ' gained' | ' proposed' {
		if (!this.pulled || !this.page.edges) return '';
		const { edge, word: to } = this.pulled;
		const from = this.#edgeWord(edge);
		if (word < Math.min(to, from) || word > Math.max(to, from)) return '';
		const grows = edge === 'in' ? to < from : to > from;
		return grows || word === to ? ' gained' : ' proposed';
	}

	/** The word at an edge, as it is kept now. */
	#edgeWord(edge: Edge): number {
		return edge === 'in' ? this.page.edges!.first : this.page.edges!.last;
	}
}
