/** A pause as it was said and as it is kept, after a word; `chosen` is the one in hand; `times`: it is played so many
 * times as fast. */
export type PauseChip = { after: number; before: number; said: number; kept: number; join: boolean; chosen: boolean; times?: number };
/** Pauses by the word that they come after. */
export type Pauses = Map<number, PauseChip>;

/** The room that a pause takes in a line, in pixels. */
export const CHIP_PX = 82;

export const chipText = (chip: PauseChip): string => lengths(chip) + (chip.times && chip.times !== 1 ? ` ${chip.times}×` : '');

const lengths = (chip: PauseChip): string =>
	chip.said === chip.kept || chip.join ? `${(chip.kept / 1000).toFixed(1)} s` : `${(chip.said / 1000).toFixed(1)} → ${(chip.kept / 1000).toFixed(1)} s`;

export const chipTip = (chip: PauseChip): string =>
	chip.join ? `The pause at this join: ${chipText(chip)}` : `Said ${(chip.said / 1000).toFixed(2)} s, kept ${(chip.kept / 1000).toFixed(2)} s${faster(chip)}`;

const faster = (chip: PauseChip): string => (chip.times && chip.times !== 1 ? `, played ${chip.times} times as fast` : '');
