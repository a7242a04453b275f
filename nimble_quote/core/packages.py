"""Quotes as they are taken from one house to another: with all that they name of the house, and the words that they hang on."""

from collections.abc import Mapping, Sequence
from typing import Any

from pydantic import Field

from nimble_quote.core.catalogue import Catalogue
from nimble_quote.core.document import Captions, Overlay, QuoteDocument
from nimble_quote.core.document.overlays import Insert
from nimble_quote.core.finishes import overlays_with
from nimble_quote.core.model import Frozen
from nimble_quote.core.talk import Talk
from nimble_quote.core.transcript.words import WordRef

_APART_MS = 400
"""The same word is at most so far apart in two transcripts of one recording."""


class TakenWord(Frozen):
    """A word that a quote was made on: by which number it was known, what it says, and when, in the recording."""

    ref: WordRef
    text: str = Field(max_length=300)
    start_ms: int = Field(ge=0)
    end_ms: int


class TakenRecording(Frozen):
    """The recording of a quote: the sum of its file (SHA-256), what that is called, and what is told of it."""

    content: str = Field(pattern=r"^[0-9a-f]{64}$")
    file_name: str = Field(max_length=500)
    title: str = Field(max_length=500)
    series: str | None = Field(default=None, max_length=500)
    duration_ms: int = Field(gt=0)


class TakenQuote(Frozen):
    """A quote on its way: its document, as it is stored, and the words of its stretch of the recording."""

    recording: TakenRecording
    document: dict[str, Any]
    words: tuple[TakenWord, ...] = Field(max_length=100_000)


def standing_alone(document: QuoteDocument, catalogue: Catalogue) -> QuoteDocument:
    """A document that names no finish of its house: what that puts over the picture is its own."""
    finish = catalogue.finish(document.finish, document.finish_held) if document.finish else None
    whole = overlays_with(finish, document.overlays)
    own = tuple(one.model_copy(update={"id": number}) for number, one in enumerate(whole, start=1))
    return document.model_copy(update={"overlays": own, "finish": None, "finish_held": None})


def words_of(document: QuoteDocument, talk: Talk) -> tuple[TakenWord, ...]:
    """The words that a document may hang on."""
    words = talk.between(document.span.start_ms, document.span.end_ms)
    return tuple(TakenWord(ref=one.ref, text=one.text, start_ms=one.start_ms, end_ms=one.end_ms) for one in words)


def words_apart(words: Sequence[TakenWord], talk: Talk) -> int:
    """How many words are otherwise here: known by another number, saying something else, or at another time."""
    apart = 0
    for one in words:
        here = talk.lasting(one.ref)
        apart += here is None or here.text != one.text or abs(here.start_ms - one.start_ms) > _APART_MS
    return apart


def without_words(document: QuoteDocument) -> QuoteDocument:
    """A document with nothing that hangs on single words: its cut, framing and looks stay."""
    overlays = tuple(one for one in document.overlays if one.when.kind != "words")
    told = document.captions
    kept = Captions(shown=told.shown, style=told.style, held=told.held, look=told.look)
    return document.model_copy(update={"overlays": overlays, "captions": kept})


def without_footage(document: QuoteDocument) -> tuple[QuoteDocument, int]:
    """A document that shows no other recording, and how many pieces of others it showed."""
    kept = tuple(one for one in document.overlays if not _is_footage(one))
    return document.model_copy(update={"overlays": kept}), len(document.overlays) - len(kept)


def _is_footage(one: Overlay) -> bool:
    return isinstance(one.what, Insert) and one.what.footage is not None


def named(told: Any, field: str) -> set[int]:
    """The numbers that stored JSON names by a field, wherever."""
    if isinstance(told, list):
        return {number for one in told for number in named(one, field)}
    if not isinstance(told, dict):
        return set()
    own = {told[field]} if isinstance(told.get(field), int) else set()
    return own | {number for one in told.values() for number in named(one, field)}


def renumbered(told: Any, here: Mapping[str, Mapping[int, int]]) -> Any:
    """Stored JSON with the numbers that pictures and sounds have here in place of those they had, wherever something names one
    by a field called as `here` has it. Raises `KeyError` where one is named that did not come along."""
    if isinstance(told, list):
        return [renumbered(one, here) for one in told]
    if not isinstance(told, dict):
        return told
    return {
        field: here[field][value] if field in here and isinstance(value, int) else renumbered(value, here)
        for field, value in told.items()
    }
