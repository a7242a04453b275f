"""Spans of time, frame rates, and the one place where milliseconds become frames.

Stored source times are integer milliseconds; output positions are frames of the output rate; rates are fractions.
"""

from bisect import bisect_right
from collections.abc import Iterable, Iterator, Sequence
from fractions import Fraction
from typing import Self

from pydantic import Field, model_validator

from nimble_quote.core.model import Frozen

STANDARD_RATES = (
    Fraction(24000, 1001),
    Fraction(24),
    Fraction(25),
    Fraction(30000, 1001),
    Fraction(30),
    Fraction(48),
    Fraction(50),
    Fraction(60000, 1001),
    Fraction(60),
)
"""The rates in use for delivery between 24 and 60 frames a second (23.976 counts as film's 24)."""


class Span(Frozen):
    """A half-open stretch of the source, `[start_ms, end_ms)`, never empty."""

    start_ms: int = Field(ge=0)
    end_ms: int

    @model_validator(mode="after")
    def _runs_forward(self) -> Self:
        if self.end_ms <= self.start_ms:
            raise ValueError(f"a span must end after it starts: {self.start_ms} to {self.end_ms} ms")
        return self

    @property
    def length_ms(self) -> int:
        return self.end_ms - self.start_ms

    def holds(self, at_ms: float) -> bool:
        """Whether a moment lies in the span (the end does not)."""
        return self.start_ms <= at_ms < self.end_ms


def total_ms(spans: Iterable[Span]) -> int:
    """The summed length of spans, which are taken not to overlap."""
    return sum(span.length_ms for span in spans)


def merged(spans: Iterable[Span]) -> tuple[Span, ...]:
    """The same stretches in order, with touching and overlapping ones made one."""
    out: list[Span] = []
    for span in sorted(spans, key=lambda s: s.start_ms):
        if out and span.start_ms <= out[-1].end_ms:
            if span.end_ms > out[-1].end_ms:
                out[-1] = Span(start_ms=out[-1].start_ms, end_ms=span.end_ms)
        else:
            out.append(span)
    return tuple(out)


def without(whole: Span, holes: Iterable[Span]) -> tuple[Span, ...]:
    """What is left of a span when the holes are taken out.

    whole   |==================|
    holes      |--|     |---|
    left    |==|  |=====|   |==|
    """
    return tuple(_left_of(whole, merged(holes), 0))


def outside(spans: Iterable[Span], holes: Iterable[Span]) -> tuple[Span, ...]:
    """What is left of each of some spans when the same holes are taken out of all."""
    gone = merged(holes)
    ends = [hole.end_ms for hole in gone]
    return tuple(piece for span in spans for piece in _left_of(span, gone, bisect_right(ends, span.start_ms)))


def _left_of(whole: Span, holes: Sequence[Span], first: int) -> Iterator[Span]:
    """What merged holes, from a place of theirs on, leave of a span."""
    at = whole.start_ms
    for place in range(first, len(holes)):
        hole = holes[place]
        if hole.start_ms >= whole.end_ms:
            break
        if hole.end_ms <= at:
            continue
        if hole.start_ms > at:
            yield Span(start_ms=at, end_ms=hole.start_ms)
        at = hole.end_ms
    if at < whole.end_ms:
        yield whole if at == whole.start_ms else Span(start_ms=at, end_ms=whole.end_ms)


def output_rate(source: Fraction) -> Fraction:
    """The rate a clip is made at: the source's own where it is a standard one, else the nearest that is."""
    return min(STANDARD_RATES, key=lambda rate: abs(rate - source))


def frame_at(ms: int, rate: Fraction) -> int:
    """The frame boundary nearest to a moment (halves go up)."""
    return (2 * ms * rate.numerator + 1000 * rate.denominator) // (2000 * rate.denominator)


def ms_at(frame: int, rate: Fraction) -> float:
    """The moment, in milliseconds, at which a frame begins."""
    # In whole numbers to the last step: fractions would give the same, a hundred times slower.
    return frame * 1000 * rate.denominator / rate.numerator
