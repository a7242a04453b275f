"""Cues that a person made, found again among the words of a cut."""

from collections.abc import Sequence
from dataclasses import dataclass

from nimble_quote.core.captions.words import CaptionWord
from nimble_quote.core.document import CuePin
from nimble_quote.core.talk import Talk


@dataclass(frozen=True, kw_only=True)
class PinnedCue:
    """A pin whose words are in the cut: words `first` up to before `end` of the captions, a new line before each of
    `line_starts`."""

    first: int
    end: int
    line_starts: tuple[int, ...]
    shift_in_ms: int
    shift_out_ms: int
    hidden: bool
    height: float | None


def placed_pins(pins: Sequence[CuePin], words: Sequence[CaptionWord], talk: Talk) -> tuple[PinnedCue, ...]:
    """The pins that hold in a cut, in order. One of which the first or the last word is not kept sleeps, and so does one
    that would share words with an earlier one."""
    indexes = {word.index: index for index, word in enumerate(words)}
    found = sorted(
        (placed for pin in pins if (placed := _placed(pin, indexes, talk)) is not None), key=lambda one: one.first
    )
    held: list[PinnedCue] = []
    for one in found:
        if not held or one.first >= held[-1].end:
            held.append(one)
    return tuple(held)


def _placed(pin: CuePin, indexes: dict[int, int], talk: Talk) -> PinnedCue | None:
    first, last = (_place(ref, indexes, talk) for ref in (pin.first, pin.last))
    if first is None or last is None or last < first:
        return None
    starts = (_place(ref, indexes, talk) for ref in pin.line_starts)
    return PinnedCue(
        first=first, end=last + 1, line_starts=tuple(sorted({at for at in starts if at is not None and first < at <= last})),
        shift_in_ms=pin.shift_in_ms, shift_out_ms=pin.shift_out_ms, hidden=pin.hidden, height=pin.height,
    )  # fmt: skip


def _place(ref: int, indexes: dict[int, int], talk: Talk) -> int | None:
    word = talk.lasting(ref)
    return None if word is None else indexes.get(word.index)
