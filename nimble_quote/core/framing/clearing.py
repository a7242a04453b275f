"""What stands over the picture and must not stand over a face: captions, and what the posting app covers."""

from nimble_quote.core.captions.placing import caption_height, look_of
from nimble_quote.core.captions.styles import block_height
from nimble_quote.core.catalogue import Catalogue
from nimble_quote.core.destinations import Destination
from nimble_quote.core.document import QuoteDocument

_ACROSS = 0.5
"""An area that covers less of the width leaves room beside it."""
_LEAST_FREE = 0.35
"""With less of the height free than this there is no room to keep clear."""
Free = tuple[float, float]


def free_height(document: QuoteDocument, destination: Destination, catalogue: Catalogue) -> Free:
    """The part of the output's height that nothing stands over: its top and its bottom, 0..1 from the top."""
    top, bottom = 0.0, 1.0
    for area in destination.covered:
        if area.width >= _ACROSS:
            if area.y + area.height / 2 < 0.5:
                top = max(top, area.y + area.height)
            else:
                bottom = min(bottom, area.y)
    if document.captions.shown:
        look = look_of(document, catalogue)
        middle = caption_height(document, destination, look)
        half = block_height(look, look.limits.lines, destination.size) / 2
        if middle >= 0.5:
            bottom = min(bottom, middle - half)
        else:
            top = max(top, middle + half)
    return (round(top, 4), round(bottom, 4)) if bottom - top >= _LEAST_FREE else (0.0, 1.0)
