"""The look of a quote's captions, and where they stand."""

from nimble_quote.core.catalogue import Catalogue
from nimble_quote.core.destinations import Destination
from nimble_quote.core.document import CaptionLook, QuoteDocument


def look_of(document: QuoteDocument, catalogue: Catalogue) -> CaptionLook:
    """The look of a quote's captions: that of its style, with what is otherwise."""
    captions = document.captions
    return catalogue.style(captions.style, captions.held).look.with_changes(captions.look)


def caption_height(document: QuoteDocument, destination: Destination, look: CaptionLook) -> float:
    """The height of the middle of captions in a version: where it was put, or where the style has it in that shape."""
    placed = document.treatment(destination.id, destination.shape).caption_height
    return placed if placed is not None else look.height_in(destination.shape)
