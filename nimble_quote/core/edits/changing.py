"""What edits have in common: how a document is changed so that it stays one that can be kept."""

from collections.abc import Sequence
from typing import Annotated, Literal

from pydantic import Field

from nimble_quote.core.context import Context
from nimble_quote.core.cutting.kept import hears_anything, kept_spans, text_of
from nimble_quote.core.document import QuoteDocument, Shape, Treatment, Version
from nimble_quote.core.refusal import Refused
from nimble_quote.core.timebase import Span, merged, outside, without

SHORTEST_MS = 200
"""The shortest a quote may be: below this there is no word left in it."""


Edge = Literal["in", "out"]
Index = Annotated[int, Field(ge=0)]


class EditRefused(Refused):
    """A change that makes no sense on this document; the message says why, for the person who asked for it."""

    code = "edit-refused"


def changed(document: QuoteDocument, **fields: object) -> QuoteDocument:
    """A validated copy: `model_copy` alone would let a broken document through."""
    return QuoteDocument.model_validate({**dict(document), **fields})


def recut(
    document: QuoteDocument,
    destination: str | None,
    *,
    strike: Sequence[Span] = (),
    restore: Sequence[Span] = (),
    context: Context,
) -> QuoteDocument:
    """The cut of the base, or of one version, with stretches put back and then others left out.

    Raises `EditRefused` where a version would keep no word.
    """
    if destination is None:
        struck = merged((*outside(document.struck, restore), *strike))
        if not without(document.span, struck):
            raise EditRefused("That would strike every word. Keep at least one.")
        made = changed(document, struck=struck)
    else:
        version = version_of(document, destination)
        back = merged((*outside(version.restored, strike), *_shared(restore, document.struck)))
        own = merged((*outside(version.struck, restore), *strike))
        made = with_version(document, destination, struck=own, restored=outside(back, strike))
    for one in (None, *(version.destination for version in made.versions)):
        if not hears_anything(made, context.talk, one):
            where = f" of {named(one, context)}" if one and destination is None else ""
            raise EditRefused(f"That would strike every word{where}. Keep at least one.")
    return made


def _shared(spans: Sequence[Span], others: Sequence[Span]) -> tuple[Span, ...]:
    """What some spans have in common with others."""
    return tuple(piece for span in merged(spans) for piece in without(span, without(span, others)))


def with_edge(document: QuoteDocument, edge: Edge, to_ms: int, context: Context) -> QuoteDocument:
    start, end = document.span.start_ms, document.span.end_ms
    start, end = (to_ms, end) if edge == "in" else (start, to_ms)
    start, end = max(0, start), min(end, context.talk.duration_ms)
    if end - start < SHORTEST_MS:
        raise EditRefused("The in point must stay before the out point.")
    span = Span(start_ms=start, end_ms=end)
    left = without(span, document.struck)
    if not left:
        raise EditRefused("Nothing would be left of the quote: all of it there is struck.")
    made = changed(document, span=span, struck=without(span, left))
    for version in made.versions:
        if not kept_spans(made, version.destination):
            raise EditRefused(
                f"Nothing would be left of {named(version.destination, context)}, which is cut differently."
            )
    return made


def with_own_edge(document: QuoteDocument, edge: Edge, to_ms: int, destination: str, context: Context) -> QuoteDocument:
    """One version that begins or ends inside the quote."""
    span = document.span
    if not span.start_ms <= to_ms <= span.end_ms:
        raise EditRefused("One version can only be shorter than the others. Move the in or out point of all of them.")
    beyond = (span.start_ms, to_ms) if edge == "in" else (to_ms, span.end_ms)
    strike = (Span(start_ms=beyond[0], end_ms=beyond[1]),) if beyond[0] < beyond[1] else ()
    inside = (to_ms, span.end_ms) if edge == "in" else (span.start_ms, to_ms)
    # What the version left out at that end before is its own again.
    own_end = [
        hole
        for hole in version_of(document, destination).struck
        if (hole.start_ms <= span.start_ms if edge == "in" else hole.end_ms >= span.end_ms)
    ]
    back = _shared(own_end, (Span(start_ms=inside[0], end_ms=inside[1]),)) if inside[0] < inside[1] else ()
    return recut(document, destination, strike=strike, restore=back, context=context)


def with_version(document: QuoteDocument, destination: str, **fields: object) -> QuoteDocument:
    """One version changed. Raises `EditRefused` where there is none."""
    version = version_of(document, destination).model_copy(update=fields)
    versions = tuple(version if v.destination == destination else v for v in document.versions)
    return changed(document, versions=versions)


def version_of(document: QuoteDocument, destination: str) -> Version:
    version = document.version(destination)
    if version is None:
        raise EditRefused("This quote has no version for that destination.")
    return version


def shape_of(destination: str, context: Context) -> Shape:
    """The shape that a destination shares its treatment with. Raises `NotInCatalogue`."""
    return context.catalogue.destination(destination).shape


def treatment_of(document: QuoteDocument, destination: str, context: Context) -> Treatment:
    """How a version is treated: by itself, or as its shape. Raises `EditRefused` where there is none."""
    version_of(document, destination)
    return document.treatment(destination, shape_of(destination, context))


def with_treatment(document: QuoteDocument, destination: str, context: Context, **fields: object) -> QuoteDocument:
    """The treatment of a shape changed, or that of one version which is treated by itself."""
    made = treatment_of(document, destination, context).model_copy(update=fields)
    if version_of(document, destination).treatment is not None:
        return with_version(document, destination, treatment=made)
    return changed(document, treatments={**document.treatments, shape_of(destination, context): made})


def inside(document: QuoteDocument, hole: Span) -> Span:
    start = max(hole.start_ms, document.span.start_ms)
    end = min(hole.end_ms, document.span.end_ms)
    if end <= start:
        raise EditRefused("Those words are outside the quote. Move the in or out point to take them in first.")
    return Span(start_ms=start, end_ms=end)


def ordered(first: int, last: int, context: Context) -> tuple[int, int]:
    low, high = min(first, last), max(first, last)
    context.talk.word(low), context.talk.word(high)
    return low, high


def words_said(context: Context, first: int, last: int) -> str:
    low, high = ordered(first, last, context)
    return text_of([context.talk.word(i) for i in range(low, high + 1)])


def named(destination: str, context: Context) -> str:
    """What a destination is called. Raises `NotInCatalogue`."""
    return context.catalogue.destination(destination).name


def in_version(destination: str | None, context: Context) -> str:
    return f" in {named(destination, context)}" if destination else ""
