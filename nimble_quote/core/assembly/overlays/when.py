"""When an overlay shows."""

from collections.abc import Sequence
from fractions import Fraction

from nimble_quote.core.captions.words import CaptionWord
from nimble_quote.core.context import Context
from nimble_quote.core.document import When
from nimble_quote.core.timebase import frame_at


def frames_of_when(
    when: When, context: Context, words: Sequence[CaptionWord], rate: Fraction, frames: int
) -> tuple[int, int] | None:
    """The frames `[first, end)` in which an overlay shows; None where its words are not kept.

    One at the start or the end takes half of the clip at most, so that the two never stand over one another.
    """
    offset = frame_at(when.offset_ms, rate)
    long = frame_at(when.length_ms, rate) if when.length_ms is not None else frames
    if when.kind == "whole":
        return 0, frames
    if when.kind == "start":
        return _inside(offset, min(long, frames // 2) if when.length_ms is not None else frames, frames)
    if when.kind == "end":
        long = min(long, frames // 2) if when.length_ms is not None else frames
        return _inside(frames - long - offset, long, frames)
    ends = [context.talk.lasting(ref) for ref in (when.first, when.last) if ref is not None]
    said = [w for w in words if len(ends) == 2 and ends[0] and ends[1] and ends[0].index <= w.index <= ends[1].index]
    if not said:
        return None
    first = frame_at(round(said[0].start_ms), rate) + offset
    return _inside(
        first, long if when.length_ms is not None else frame_at(round(said[-1].end_ms), rate) - first, frames
    )


def _inside(first: int, long: int, frames: int) -> tuple[int, int] | None:
    first, end = max(0, first), min(frames, max(0, first) + long)
    return (first, end) if end > first else None
