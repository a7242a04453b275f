"""The pauses of a cut: how long each was said and is kept, and giving one another length.

        said     |  word  |------------- pause -------------|  next  |
        kept     |  word  |---- a ----|  left out  |-- b ---|  next  |

A pause in which words were struck may be made longer than the gaps beside them: what is added shows the picture that
was there, and is heard as room tone.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from nimble_quote.core.cutting.edges import cut_before
from nimble_quote.core.cutting.kept import kept_spans, kept_words
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.model import Frozen
from nimble_quote.core.ranges import RANGES
from nimble_quote.core.talk import LEVEL_MS, Talk
from nimble_quote.core.timebase import Span

SHOWN_FROM_MS = 500
"""A pause as long as this is worth being shown."""
LONGEST_MS = round(RANGES.pause_to_ms.most)


class Pause(Frozen):
    """The pause between two words that follow one another in a cut; `join`: words are struck in between."""

    after: int
    before: int
    said_ms: int
    kept_ms: int
    join: bool


@dataclass(frozen=True, kw_only=True)
class Relaid:
    """What is to be left out between two words for a pause of a certain length, and what of the rest is hushed."""

    between: Span
    struck: tuple[Span, ...]
    hushed: tuple[Span, ...]


def pauses(document: QuoteDocument, talk: Talk, destination: str | None = None, least_ms: int = 1) -> tuple[Pause, ...]:
    """The pauses between the words of a cut, in order, that were said or are kept for `least_ms` or more."""
    spans = kept_spans(document, destination)
    found, at = [], 0
    for left, right in pairwise(kept_words(document, talk, destination)):
        if right.start_ms - left.end_ms < least_ms:
            continue
        while at < len(spans) and spans[at].end_ms <= left.end_ms:
            at += 1
        kept, index = 0, at
        while index < len(spans) and spans[index].start_ms < right.start_ms:
            kept += max(0, min(spans[index].end_ms, right.start_ms) - max(spans[index].start_ms, left.end_ms))
            index += 1
        found.append(
            Pause(after=left.index, before=right.index, said_ms=right.start_ms - left.end_ms, kept_ms=kept,
                  join=right.index > left.index + 1)
        )  # fmt: skip
    return tuple(found)


def relaid(pause: Pause, to_ms: int, talk: Talk) -> Relaid:
    """The pause made `to_ms` long, to the nearest level's step, or as near to that as what was said there allows."""
    left, right = talk.word(pause.after), talk.word(pause.before)
    between = Span(start_ms=left.end_ms, end_ms=right.start_ms)
    left_room, right_room = _rooms(pause, talk, between)
    to_ms = min(to_ms, between.length_ms)
    before = min(to_ms, right.start_ms - cut_before(talk, pause.before))
    before = min(right_room, max(before, to_ms - left_room))
    start, end = _on_grid(left.end_ms + to_ms - before), _on_grid(right.start_ms - before)
    start, end = max(start, left.end_ms), min(end, right.start_ms)
    struck = (Span(start_ms=start, end_ms=end),) if end > start else ()
    heard_until = start if struck else between.end_ms - right_room
    quiet_until = left.end_ms + left_room
    hushed = (Span(start_ms=quiet_until, end_ms=heard_until),) if pause.join and heard_until > quiet_until else ()
    return Relaid(between=between, struck=struck, hushed=hushed)


def tightened(found: Sequence[Pause], over_ms: int, to_ms: int, talk: Talk) -> list[tuple[Pause, Relaid]]:
    """Every pause that is kept longer than `over_ms`, brought down to `to_ms`."""
    return [(one, relaid(one, to_ms, talk)) for one in found if one.kept_ms > over_ms and one.kept_ms > to_ms]


def _rooms(pause: Pause, talk: Talk, between: Span) -> tuple[int, int]:
    """How much of a pause was quiet after the word before it, and before the word after it."""
    if not pause.join:
        return between.length_ms, between.length_ms
    first, last = talk.word(pause.after + 1), talk.word(pause.before - 1)
    return max(0, first.start_ms - between.start_ms), max(0, between.end_ms - last.end_ms)


def _on_grid(at_ms: int) -> int:
    return round(at_ms / LEVEL_MS) * LEVEL_MS
