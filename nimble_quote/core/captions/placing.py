"""The look of a quote's captions, and where they stand."""

from nimble_quote.core.captions.styles import block_height
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


_NARROW = 0.5
"""An area that covers less of the width leaves room beside it."""


def clear_width(look: CaptionLook, destination: Destination, height: float) -> float:
    """How much of the output's width lines may take about a height: what the look says, or less where the app covers a side of the
    picture there."""
    half = block_height(look, look.limits.lines, destination.size) / 2
    sides = [
        area.x + area.width if area.x + area.width / 2 < 0.5 else 1 - area.x
        for area in destination.covered
        if area.width < _NARROW and area.y < height + half and height - half < area.y + area.height
    ]
    beyond = 2 * look.beyond[0] * look.size * min(destination.size) / destination.width
    return max(0.3, min([look.width, *(1 - 2 * (side + _AIR) - beyond for side in sides)]))


_AIR = 0.004
