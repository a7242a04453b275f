"""What a quote keeps of the source, and which words that makes audible."""

from collections.abc import Sequence

from nimble_quote.core.quote import QuoteDocument
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span, without
from nimble_quote.core.transcript.words import Word


def kept_spans(document: QuoteDocument) -> tuple[Span, ...]:
    """The stretches of source that are heard, in order."""
    return without(document.span, document.struck)


def kept_words(document: QuoteDocument, talk: Talk) -> list[Word]:
    """The words that are heard: those whose middle lies in something kept."""
    return [word for span in kept_spans(document) for word in talk.between(span.start_ms, span.end_ms)]


def struck_words(document: QuoteDocument, talk: Talk) -> list[Word]:
    """The words between in and out point that are not heard."""
    return [word for span in document.struck for word in talk.between(span.start_ms, span.end_ms)]


def text_of(words: Sequence[Word], most: int = 60) -> str:
    """Words as running text, shortened in the middle of nothing: at a word, with an ellipsis."""
    text = " ".join(word.text for word in words)
    if len(text) <= most:
        return text
    return text[:most].rsplit(" ", 1)[0].rstrip(",.;:") + "…"
