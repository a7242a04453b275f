"""A cut as other programs tell it: stretches of a recording one after another, by frames; and the quote that such a cut is here."""

from collections.abc import Sequence
from fractions import Fraction
from itertools import pairwise
from math import ceil

from pydantic import Field

from nimble_quote.core.assembly import Assembly
from nimble_quote.core.assembly.runs import lay_out
from nimble_quote.core.document import Fast, QuoteDocument, Version
from nimble_quote.core.model import Frozen
from nimble_quote.core.ranges import RANGES
from nimble_quote.core.refusal import Refused
from nimble_quote.core.timebase import Span, ms_at

_LEAST_MS = 200


class Event(Frozen):
    """Frames `[source_first, source_end)` of a recording, at `first` of the output on, `step` of them for each of it; all at the rate of
    the output."""

    source_first: int
    source_end: int
    first: int
    frames: int
    step: Fraction = Fraction(1)


class Stretch(Frozen):
    """Frames `[first, end)` of a recording at a rate, as a file of another program tells them, in the order of its cut."""

    media: str
    first: int = Field(ge=0)
    end: int
    rate: Fraction
    times: float = 1.0

    @property
    def start_ms(self) -> float:
        return ms_at(self.first, self.rate)

    @property
    def end_ms(self) -> float:
        return ms_at(self.end, self.rate)


class NotACut(Refused):
    """A cut from another program can't be a quote here; the message says why."""

    code = "not-a-cut"


def events_of(assembly: Assembly) -> tuple[Event, ...]:
    """The cut of a version, without its cover and its end card."""
    return tuple(
        Event(
            source_first=one.source_frame, source_end=one.source_frame + max(1, round(one.frames * one.step)),
            first=one.first_frame, frames=one.frames, step=one.step,
        )
        for one in lay_out(assembly.sound.played, assembly.rate)
    )  # fmt: skip


def quotes_of(title: str, stretches: Sequence[Stretch], duration_ms: int, destination: str) -> list[QuoteDocument]:
    """The quotes that some stretches of one recording are: one, or, where the cut steps back in it, one for each way forwards. Raises
    `NotACut` where there is none, or one reaches beyond the recording."""
    ways: list[list[Stretch]] = []
    for one in stretches:
        if one.end_ms > duration_ms + _LEAST_MS:
            raise NotACut(
                f"“{title}” reaches beyond the end of this recording. It was cut from another one, or a longer one."
            )
        if ways and one.start_ms >= ways[-1][-1].end_ms:
            ways[-1].append(one)
        else:
            ways.append([one])
    if not ways:
        raise NotACut(f"“{title}” has nothing of this recording in it.")
    many = len(ways) > 1
    return [
        _quote(f"{title} {number}" if many else title, way, duration_ms, destination)
        for number, way in enumerate(ways, 1)
    ]


def _quote(title: str, way: Sequence[Stretch], duration_ms: int, destination: str) -> QuoteDocument:
    kept = _spans(way, duration_ms)
    struck = tuple(
        Span(start_ms=one.end_ms, end_ms=other.start_ms) for one, other in pairwise(kept) if other.start_ms > one.end_ms
    )
    fast = tuple(
        Fast(span=span, times=one.times)
        for one, span in zip(way, kept, strict=True)
        if RANGES.fast.least <= one.times <= RANGES.fast.most
    )
    speeds = {one.times for one in way}
    slow, quick = RANGES.speed.least, RANGES.speed.most
    speed = next(iter(speeds)) if len(speeds) == 1 and slow <= min(speeds) <= quick else 1.0
    return QuoteDocument(
        title=title[:200], span=Span(start_ms=kept[0].start_ms, end_ms=kept[-1].end_ms), struck=struck, fast=fast,
        versions=(Version(destination=destination, speed=speed),),
    )  # fmt: skip


def _spans(way: Sequence[Stretch], duration_ms: int) -> list[Span]:
    """The stretches in milliseconds: each begins at the nearest, and is as much longer as lets the same frames come out again, less
    what those before it are longer already, so that a cut of many is no frame too long."""
    spans: list[Span] = []
    over = 0.0
    for one in way:
        start = max(round(one.start_ms), spans[-1].end_ms if spans else 0)
        length = one.end_ms - one.start_ms
        whole = max(1, ceil(length - over - 1e-6))
        over += whole - length
        end = min(start + whole, duration_ms)
        if end <= start:
            raise NotACut("A stretch of this cut lies beyond the end of the recording.")
        spans.append(Span(start_ms=start, end_ms=end))
    return spans
