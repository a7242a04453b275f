"""A few short stretches of a version, which stand for all of it where its size is to be told before it is made."""

from nimble_quote.core.catalogue import Catalogue
from nimble_quote.core.cutting.kept import kept_spans
from nimble_quote.core.document import Cover, EndCard, QuoteDocument
from nimble_quote.core.timebase import Span, total_ms, without

_PLACES = (1 / 6, 1 / 2, 5 / 6)
_EACH_MS = 1200


def sample_of(document: QuoteDocument, destination: str, catalogue: Catalogue) -> QuoteDocument:
    """A quote of three stretches of a version, or of all of it where that is short; without its cover and its end card, which
    take next to nothing."""
    kept = kept_spans(document, destination)
    length = total_ms(kept)
    overlays = tuple(one for one in catalogue.overlays(document) if not isinstance(one.what, Cover | EndCard))
    plain = document.model_copy(update={"overlays": overlays, "finish": None, "finish_held": None})
    if length < 2 * _EACH_MS * len(_PLACES):
        return plain
    shown = [piece for part in _PLACES for piece in _around(kept, round(length * part))]
    versions = tuple(one.model_copy(update={"struck": (), "restored": ()}) for one in document.versions)
    return plain.model_copy(update={"struck": without(document.span, shown), "versions": versions})


def _around(kept: tuple[Span, ...], at_ms: int) -> list[Span]:
    """The stretches of source that are heard around a moment of the cut."""
    start, end, at = at_ms - _EACH_MS // 2, at_ms + _EACH_MS // 2, 0
    out = []
    for span in kept:
        a, b = max(start, at), min(end, at + span.length_ms)
        if b > a:
            out.append(Span(start_ms=span.start_ms + a - at, end_ms=span.start_ms + b - at))
        at += span.length_ms
    return out
