"""A cut to be read: what was said beside what is kept, and where things fall in it."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from nimble_quote.core.captions.words import shown_text
from nimble_quote.core.cutting.kept import kept_spans, kept_words
from nimble_quote.core.cutting.playing import Played
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.model import Frozen
from nimble_quote.core.talk import Talk
from nimble_quote.core.transcript.words import Word


@dataclass(frozen=True, kw_only=True)
class SaidLine:
    """A sentence of the talk: each word, and whether it is kept."""

    speaker: str | None
    words: tuple[tuple[str, bool], ...]
    captions: str | None = None
    """What the captions say of it; None where none are shown."""

    @property
    def kept(self) -> str:
        return " ".join(word for word, kept in self.words if kept)


class Join(Frozen):
    """Where a cut leaps: from `before_ms` of the source to `after_ms`, at `out_ms` of the output."""

    before_ms: int
    after_ms: int
    out_ms: int


def as_said(document: QuoteDocument, talk: Talk, destination: str | None = None) -> tuple[SaidLine, ...]:
    """Every sentence that a quote reaches into, in order."""
    kept = {word.index for word in kept_words(document, talk, destination)}
    inside = talk.between(document.span.start_ms, document.span.end_ms)
    if not inside:
        return ()
    first, last = inside[0].index, inside[-1].index
    corrections = {one.word: one.text for one in document.captions.corrections}

    def captions(words: Sequence[Word]) -> str:
        return " ".join(" ".join(shown_text(word, corrections) for word in words if word.index in kept).split())

    return tuple(
        SaidLine(
            speaker=one.speaker,
            words=tuple((word.text, word.index in kept) for word in talk.words_of(one)),
            captions=captions(talk.words_of(one)) if document.captions.shown else None,
        )
        for one in talk.sentences
        if one.first <= last and one.end > first
    )


def only_kept(mine: Sequence[Word], theirs: Sequence[Word]) -> list[str]:
    """What only the first of two cuts keeps, words that follow one another in the talk together."""
    others = {word.index for word in theirs}
    runs: list[list[Word]] = []
    for word in mine:
        if word.index in others:
            continue
        if not runs or runs[-1][-1].index != word.index - 1:
            runs.append([])
        runs[-1].append(word)
    return [" ".join(word.text for word in run) for run in runs]


def joins(stretches: Sequence[Played]) -> tuple[Join, ...]:
    """The joins of a cut, in order."""
    return tuple(
        Join(before_ms=before.source_end_ms, after_ms=after.source_ms, out_ms=round(after.out_ms))
        for before, after in pairwise(stretches)
        if not after.goes_on
    )


def same_cut(document: QuoteDocument, destination: str) -> bool:
    """Whether a version is cut as all versions are."""
    return kept_spans(document, destination) == kept_spans(document)
