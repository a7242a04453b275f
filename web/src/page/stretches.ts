/** What stands beside the words of a page. */

/** A stretch of time in a lane: a shot, or a face; `tone` is the number of its colour. */
export type Strip = { id: string; lane: number; fromMs: number; toMs: number; tone: number; label: string; byHand?: boolean };
/** A stretch of words that is offered as a soundbite. */
export type Brace = { first: number; last: number; label: string; current: boolean };
/** A stretch of words that was kept as a quote. */
export type Bracket = { id: number; first: number; last: number; label: string; href?: string; current?: boolean };
