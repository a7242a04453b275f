"""How fast a cut is played: the one way from a moment of the source to a moment of the output, and back.

kept     |== as said ==|======= shown, 4 x =======|== as said ==|     |=====|
played   |== as said ==|=======|== as said ==|=====|
"""

from bisect import bisect_right
from collections.abc import Sequence
from itertools import groupby, pairwise

from nimble_quote.core.cutting.kept import kept_spans
from nimble_quote.core.document import Fast, QuoteDocument
from nimble_quote.core.model import Frozen
from nimble_quote.core.timebase import Span


class Played(Frozen):
    """A stretch of source as it is played: `times` as fast as it was, in the milliseconds `[out_ms, out_end_ms)` of the output.

    `silent`: nothing of it is heard. `goes_on`: the source goes on here where the stretch before has left it.
    """

    source_ms: int
    length_ms: int
    out_ms: float
    out_end_ms: float
    times: float = 1.0
    silent: bool = False
    goes_on: bool = False

    @property
    def source_end_ms(self) -> int:
        return self.source_ms + self.length_ms

    def out_at(self, source_ms: float) -> float:
        """The moment of the output at which a moment of the source is heard that lies in it, or would if it were longer."""
        return self.out_ms + (source_ms - self.source_ms) / self.times


def played(kept: Sequence[Span], fast: Sequence[Fast] = (), speed: float = 1.0) -> tuple[Played, ...]:
    """Kept spans played end to end at a speed, stretches of them faster by so many times on top of it."""
    out: list[Played] = []
    # Summed at the speed it was said, which is whole milliseconds where nothing is played fast.
    at = 0.0
    for span in kept:
        for part, times, silent in _parted(span, fast):
            until = at + part.length_ms / times
            out.append(
                Played(
                    source_ms=part.start_ms, length_ms=part.length_ms, out_ms=at / speed, out_end_ms=until / speed,
                    times=speed * times, silent=silent, goes_on=part.start_ms > span.start_ms,
                )
            )  # fmt: skip
            at = until
    return tuple(out)


def played_in(document: QuoteDocument, destination: str | None = None) -> tuple[Played, ...]:
    """A version, or the base, as it is played."""
    version = document.version(destination) if destination else None
    return played(kept_spans(document, destination), document.fast, version.speed if version else 1.0)


def same_pace(stretches: Sequence[Played]) -> list[tuple[Played, ...]]:
    """Stretches that follow one another and are played alike, together."""
    return [tuple(group) for _, group in groupby(stretches, key=lambda one: (one.times, one.silent))]


def length_of(stretches: Sequence[Played]) -> float:
    """How long all of it is played, in milliseconds."""
    return stretches[-1].out_end_ms if stretches else 0.0


def stretch_at(stretches: Sequence[Played], out_ms: float) -> Played:
    """The stretch that is played at a moment of the output; the first, or the last, beyond them."""
    return stretches[max(0, bisect_right(stretches, out_ms, key=lambda one: one.out_ms) - 1)]


def source_at(stretches: Sequence[Played], out_ms: float) -> int | None:
    """The moment of the source that is heard at a moment of the output; None where all is over by then."""
    if out_ms >= length_of(stretches):
        return None
    one = stretch_at(stretches, out_ms)
    return round(one.source_ms + (out_ms - one.out_ms) * one.times)


def _parted(span: Span, fast: Sequence[Fast]) -> list[tuple[Span, float, bool]]:
    """A span in stretches of one speed each."""
    inside = [one for one in fast if one.span.start_ms < span.end_ms and one.span.end_ms > span.start_ms]
    edges = {edge for one in inside for edge in (one.span.start_ms, one.span.end_ms) if span.holds(edge)}
    parts: list[tuple[Span, float, bool]] = []
    for start, end in pairwise(sorted({span.start_ms, *edges, span.end_ms})):
        of = next((one for one in inside if one.span.holds(start)), None)
        parts.append((Span(start_ms=start, end_ms=end), of.times if of else 1.0, bool(of and of.silent)))
    return parts
