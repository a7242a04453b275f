"""The bands above and below a picture that does not fill its shape: room for captions, and for whatever else stands over it."""

from collections.abc import Sequence
from typing import Literal

from nimble_quote.core.assembly.model import PictureRun
from nimble_quote.core.captions.styles import block_height
from nimble_quote.core.destinations import Destination
from nimble_quote.core.document import CaptionLook
from nimble_quote.core.model import Frozen

_LEAST = 0.02
_ACROSS = 0.5
"""An area that covers less of the width leaves room beside it."""
_AIR = 0.01
"""Between captions and the picture, or what is covered, at least so much of the height."""


class Band(Frozen):
    """A part of the height (0..1 from the top) that no panel stands in for as long as the version lasts; and the height of the
    middle of captions that stand in it, clear of what the app covers: None where they don't fit."""

    place: Literal["above", "below"]
    top: float
    bottom: float
    captions: float | None


def bands_of(picture: Sequence[PictureRun], destination: Destination, look: CaptionLook) -> tuple[Band, ...]:
    """The bands of a version; none where its picture fills the shape at any time, or where it has none."""
    panels = [panel for run in picture for panel in run.panels]
    if not panels or any(not run.panels for run in picture):
        return ()
    high = destination.height
    top = min(panel.y_px for panel in panels) / high
    bottom = max(panel.y_px + panel.height_px for panel in panels) / high
    bands = (("above", 0.0, top), ("below", bottom, 1.0))
    return tuple(
        Band(place=place, top=a, bottom=b, captions=_captions_in(a, b, destination, look))
        for place, a, b in bands
        if b - a >= _LEAST
    )


def _captions_in(top: float, bottom: float, destination: Destination, look: CaptionLook) -> float | None:
    """The height at which captions stand in the middle of what is free of a band."""
    for area in destination.covered:
        if area.width < _ACROSS:
            continue
        if area.y <= top < area.y + area.height:
            top = area.y + area.height
        if area.y < bottom <= area.y + area.height:
            bottom = area.y
    room = block_height(look, look.limits.lines, destination.size) + 2 * _AIR
    return round((top + bottom) / 2, 4) if bottom - top >= room else None
