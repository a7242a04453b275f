"""What a quote keeps of the source, in all versions or in one, and which words that makes audible.

A version's own cut is a difference from the base: what it strikes besides, and what it puts back:

        base     |=======|      |===========|     |====|
        struck                    |--|
        restored          |----|
        version  |=============|=|  |=======|     |====|

so that what is changed in the base later reaches every version.
"""

from collections.abc import Sequence
from functools import lru_cache

from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span, merged, outside, without
from nimble_quote.core.transcript.words import Word


def struck_spans(document: QuoteDocument, destination: str | None = None) -> tuple[Span, ...]:
    """What is left out between in and out point: of the base, or of the version for a destination."""
    version = document.version(destination) if destination else None
    if version is None or not (version.struck or version.restored):
        return document.struck
    return merged((*outside(document.struck, version.restored), *version.struck))


def kept_spans(document: QuoteDocument, destination: str | None = None) -> tuple[Span, ...]:
    """The stretches of source that are heard, in order."""
    return _kept(document.span, struck_spans(document, destination))


@lru_cache(maxsize=64)
def _kept(span: Span, struck: tuple[Span, ...]) -> tuple[Span, ...]:
    # One look at a quote asks a dozen times for the same.
    return without(span, struck)


def voiced_spans(document: QuoteDocument, destination: str | None = None) -> tuple[Span, ...]:
    """The stretches of source that are heard as they were said: those kept, without what is hushed."""
    return outside(kept_spans(document, destination), document.hushed)


def kept_words(document: QuoteDocument, talk: Talk, destination: str | None = None) -> list[Word]:
    """The words that are heard: those whose middle lies in something that is."""
    return [word for span in voiced_spans(document, destination) for word in talk.between(span.start_ms, span.end_ms)]


def hears_anything(document: QuoteDocument, talk: Talk, destination: str | None = None) -> bool:
    """Whether a version, or the base, keeps a word."""
    return any(talk.between(span.start_ms, span.end_ms) for span in voiced_spans(document, destination))


def struck_words(document: QuoteDocument, talk: Talk, destination: str | None = None) -> list[Word]:
    """The words between in and out point that are not heard."""
    holes = outside((document.span,), voiced_spans(document, destination))
    return [word for span in holes for word in talk.between(span.start_ms, span.end_ms)]


def text_of(words: Sequence[Word], most: int = 60) -> str:
    """Words as running text, shortened in the middle of nothing: at a word, with an ellipsis."""
    text = " ".join(word.text for word in words)
    if len(text) <= most:
        return text
    return text[:most].rsplit(" ", 1)[0].rstrip(",.;:") + "…"
