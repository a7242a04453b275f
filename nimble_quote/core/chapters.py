"""Chapters of a clip's sound: a beginning at a sentence, and its first words as a title."""

from collections.abc import Sequence

from nimble_quote.core.captions.words import CaptionWord
from nimble_quote.core.model import Frozen
from nimble_quote.core.talk import Talk

_LEAST_MS = 8000
_TITLE = 48


class Chapter(Frozen):
    """A stretch of a clip, in milliseconds of it, by its name."""

    start_ms: int
    end_ms: int
    title: str


def chapters_of(words: Sequence[CaptionWord], talk: Talk, length_ms: float) -> tuple[Chapter, ...]:
    """The chapters of a clip whose words are heard so: none is shorter than 8 s but where all of it is."""
    starts: list[tuple[int, list[str]]] = []
    sentence = -1
    for word in words:
        of = talk.sentence_of(word.index)
        first = of.first if of else 0
        if first != sentence and (not starts or word.start_ms - starts[-1][0] >= _LEAST_MS):
            starts.append((round(word.start_ms) if starts else 0, []))
        sentence = first
        if starts and word.text:
            starts[-1][1].append(word.text)
    if len(starts) > 1 and length_ms - starts[-1][0] < _LEAST_MS:
        starts.pop()
    if not starts:
        return ()
    ends = [*(at for at, _ in starts[1:]), round(length_ms)]
    return tuple(
        Chapter(start_ms=at, end_ms=max(at + 1, end), title=_short(" ".join(said)))
        for (at, said), end in zip(starts, ends, strict=True)
    )


def _short(text: str) -> str:
    return text if len(text) <= _TITLE else text[:_TITLE].rsplit(" ", 1)[0].rstrip(",.;:") + "…"
