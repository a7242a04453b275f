"""A passage that should not be cut, split in parts that each fit a limit, at its best turning points."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, inf

from nimble_quote.core.cutting.kept import struck_spans
from nimble_quote.core.cutting.ways import LANDING_LOSS, OPENING_LOSS, CutSentence
from nimble_quote.core.document import Lines, Overlay, Part, QuoteDocument, When
from nimble_quote.core.document.overlays import free_number
from nimble_quote.core.model import Frozen
from nimble_quote.core.refusal import Refused
from nimble_quote.core.timebase import Span, outside, without

MOST_PARTS = 12
_UNEVEN_LOSS = 0.4
"""The loss of a part that is empty, against one as long as all are on average; between them by the square."""

PART_LINES_MS = 2500
"""How long the lines of a part stand."""


class PlannedPart(Frozen):
    """One part: its stretch of the source, how long it runs, its first and last words, and what its beginning loses."""

    span: Span
    length_ms: int
    opens: str
    lands: str
    loss: float


class CannotSplit(Refused):
    """A passage can't be split as was asked; the message says why."""

    code = "cannot-split"


@dataclass(frozen=True, kw_only=True)
class _Reached:
    loss: float
    start: int


def split(
    sentences: Sequence[CutSentence], limit_ms: int, count: int | None = None, speed: float = 1.0
) -> tuple[PlannedPart, ...]:
    """The parts, as few as fit or `count` of them, with the least loss at the breaks between them.

    `limit_ms` is what each may run at `speed`. Raises `CannotSplit` where a sentence alone is over the limit, or so many
    parts can't be.
    """
    limit_ms = int(limit_ms * speed)
    longest = max(sentences, key=lambda one: one.whole_ms)
    if longest.whole_ms > limit_ms:
        raise CannotSplit(f"“{longest.text}” alone is longer than the limit. Strike some of it first.")
    counts = [count] if count else range(2, MOST_PARTS + 1)
    for number in counts:
        bounds = _bounds(sentences, limit_ms, number)
        if bounds:
            return tuple(_planned(sentences, a, b, speed) for a, b in bounds)
    if count:
        raise CannotSplit(f"It can't be split in {count} parts that each fit. Try another number.")
    raise CannotSplit(f"It would take more than {MOST_PARTS} parts. Make it shorter first.")


def _bounds(sentences: Sequence[CutSentence], limit_ms: int, count: int) -> list[tuple[int, int]]:
    """Half-open runs of sentences, by dynamic programming: the best way to end `k` parts before each sentence."""
    size = len(sentences)
    mean = sum(one.whole_ms + one.gap_ms for one in sentences) / count
    best: list[dict[int, _Reached]] = [{0: _Reached(loss=0.0, start=0)}]
    for _ in range(count):
        after: dict[int, _Reached] = {}
        for start, reached in best[-1].items():
            for end in range(start + 1, size + 1):
                length = _length(sentences, start, end)
                if length > limit_ms:
                    break
                loss = reached.loss + _break_loss(sentences, start) + _UNEVEN_LOSS * ((length - mean) / mean) ** 2
                if loss < after.get(end, _Reached(loss=inf, start=0)).loss:
                    after[end] = _Reached(loss=loss, start=start)
        best.append(after)
    if size not in best[count]:
        return []
    runs, end = [], size
    for number in range(count, 0, -1):
        start = best[number][end].start
        runs.append((start, end))
        end = start
    return runs[::-1]


def _length(sentences: Sequence[CutSentence], start: int, end: int) -> int:
    return sum(one.whole_ms for one in sentences[start:end]) + sum(one.gap_ms for one in sentences[start + 1 : end])


def _break_loss(sentences: Sequence[CutSentence], start: int) -> float:
    """The loss of beginning a part with a sentence: how that opens, how the one before it lands, what hangs on it."""
    if start == 0:
        return 0.0
    this, before = sentences[start], sentences[start - 1]
    return OPENING_LOSS * (1 - this.worth.opens) + LANDING_LOSS * (1 - before.worth.lands) + this.hangs


def _planned(sentences: Sequence[CutSentence], start: int, end: int, speed: float) -> PlannedPart:
    return PlannedPart(
        span=Span(start_ms=sentences[start].start_ms, end_ms=sentences[end - 1].end_ms),
        length_ms=ceil(_length(sentences, start, end) / speed), opens=sentences[start].text, lands=sentences[end - 1].text,
        loss=round(_break_loss(sentences, start), 4),
    )  # fmt: skip


def as_quotes(
    document: QuoteDocument, parts: Sequence[Span], destination: str, *, recap: str = "", end_line: str = ""
) -> list[QuoteDocument]:
    """A quote for each part of one version: titled "1 of 2", cut as that version was, the recap from the second on and
    the end line up to the last but one."""
    struck = struck_spans(document, destination)
    out = []
    for number, span in enumerate(parts, start=1):
        holes = outside((span,), without(span, struck))
        suffix = f" ({number} of {len(parts)})"
        part = Part(
            number=number,
            of=len(parts),
        )
        own = [one for one in document.overlays if not is_part_line(one)]
        lines = part_lines(recap if number > 1 else "", end_line if number < len(parts) else "", free_number(own))
        base = {"struck": (), "restored": ()}
        versions = tuple(one.model_copy(update=base) for one in document.versions if one.destination == destination)
        changed = {
            "title": document.title[: 200 - len(suffix)] + suffix,
            "span": span,
            "struck": holes,
            "versions": versions,
            "part": part,
            "overlays": (*own, *lines),
        }
        out.append(QuoteDocument.model_validate({**dict(document), **changed}))
    return out


def part_lines(recap: str, end_line: str, first_id: int = 1) -> tuple[Overlay, ...]:
    """The lines that a part begins and ends with, as overlays numbered from `first_id`; none for an empty text."""
    lines = (("start", recap.strip()), ("end", end_line.strip()))
    return tuple(
        Overlay(id=number, when=When(kind=kind, length_ms=PART_LINES_MS), what=Lines(text=text))
        for number, (kind, text) in enumerate(((kind, text) for kind, text in lines if text), start=first_id)
    )


def is_part_line(overlay: Overlay) -> bool:
    """Whether an overlay is one of the lines that a part begins or ends with."""
    when = overlay.when
    return overlay.what.kind == "lines" and when.kind in ("start", "end") and when.length_ms == PART_LINES_MS
