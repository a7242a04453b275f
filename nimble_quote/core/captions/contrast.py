"""How well captions can be told from the picture behind them, and what would mend it.

Contrast is that of WCAG 2.2: (lighter + 0.05) / (darker + 0.05) of relative luminances, of the letters against the pixels
under their box over the frames that they show in: the worst twentieth counts. A line around the letters sets them apart
by itself, the wider the more; a plate is mixed in first.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.document import CaptionLook, Colour

READABLE, UNREADABLE = 4.5, 2.0
"""Text reads well from the first on, and below the second it is hardly seen."""
WORST = 0.05
_FULL_OUTLINE = 0.08
"""An outline so wide, in font sizes, sets letters apart as well as a plate of its colour would."""
_SHADOW_COUNTS = 0.5

Luminances = NDArray[np.float64]
"""Of pixels, or of bins of a histogram: 0 (black) to 1 (white)."""


@dataclass(frozen=True, kw_only=True)
class Mend:
    """A change of the look that makes a cue readable, in words, and the contrast it has then."""

    changes: dict[str, object]
    says: str
    contrast: float


@dataclass(frozen=True, kw_only=True)
class ContrastFound:
    """The contrast of a cue: at its worst, and the frame of the output where that is."""

    contrast: float
    worst_frame: int
    says: str = ""
    mend: Mend | None = None

    @property
    def doubtful(self) -> bool:
        return self.contrast < READABLE - 0.05

    @property
    def unreadable(self) -> bool:
        return self.contrast < UNREADABLE


def luminance(code: Colour) -> float:
    """The relative luminance of a colour."""
    linear = [_linear(int(code[place : place + 2], 16) / 255) for place in (1, 3, 5)]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def _linear(part: float) -> float:
    return part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4


def ratio(one: float, other: float) -> float:
    """The contrast of two luminances, 1 to 21."""
    return (max(one, other) + 0.05) / (min(one, other) + 0.05)


def worst_contrast(letters: float, behind: Luminances, counts: NDArray[np.float64]) -> float:
    """The contrast of letters of a luminance against what is behind them, so often each: that of the worst twentieth."""
    if counts.sum() <= 0:
        return 21.0
    contrasts = (np.maximum(letters, behind) + 0.05) / (np.minimum(letters, behind) + 0.05)
    order = np.argsort(contrasts)
    reached = np.cumsum(counts[order]) / counts.sum()
    return float(contrasts[order][np.searchsorted(reached, WORST)])


def score(look: CaptionLook, letters: Colour, behind: Luminances, counts: NDArray[np.float64]) -> float:
    """The contrast of letters of a look."""
    under = behind
    if look.plate is not None:
        # Mixed as the renderer mixes: as colours, not as light.
        plate, opacity = _grey(luminance(look.plate.colour)), look.plate.opacity
        mixed = _grey_of(behind) * (1 - opacity) + plate * opacity
        under = _light_of(mixed)
    found = worst_contrast(luminance(letters), under, counts)
    if look.outline is not None:
        apart = ratio(luminance(letters), luminance(look.outline.colour))
        found = max(found, 1 + (apart - 1) * min(1.0, look.outline.width / _FULL_OUTLINE))
    if look.shadow is not None:
        apart = ratio(luminance(letters), luminance(look.shadow.colour))
        wide = min(1.0, (look.shadow.blur + abs(look.shadow.down)) / _FULL_OUTLINE)
        found = max(found, 1 + (apart - 1) * wide * look.shadow.opacity * _SHADOW_COUNTS)
    return found


def _grey(light: float) -> float:
    return float(_grey_of(np.array([light]))[0])


def _grey_of(light: Luminances) -> Luminances:
    """Light as the value (0..1) that a picture has for it."""
    return np.where(light <= 0.0031308, light * 12.92, 1.055 * np.power(np.maximum(light, 1e-9), 1 / 2.4) - 0.055)


def _light_of(grey: Luminances) -> Luminances:
    return np.where(grey <= 0.04045, grey / 12.92, np.power((grey + 0.055) / 1.055, 2.4))


def mends(
    look: CaptionLook, letters: Colour, behind: Luminances, counts: NDArray[np.float64], palette: Sequence[Colour]
) -> list[Mend]:
    """Changes of a look that make letters readable, the least first: a plate, a wider line around them, another colour of the
    house's."""
    found = [*_plates(look, letters, behind, counts), *_outlines(look, letters, behind, counts)]
    for colour in palette:
        tried = look.model_copy(update={"colour": colour})
        at = score(tried, colour, behind, counts)
        if at >= READABLE:
            found.append(Mend(changes={"colour": colour}, says=f"Letters in {colour}", contrast=at))
            break
    return found


def _plates(look: CaptionLook, letters: Colour, behind: Luminances, counts: NDArray[np.float64]) -> list[Mend]:
    colour = look.plate.colour if look.plate else ("#161A22" if luminance(letters) > 0.3 else "#FAF7F0")
    least = look.plate.opacity if look.plate else 0.0
    for step in range(1, 21):
        opacity = round(step * 0.05, 2)
        if opacity <= least:
            continue
        plate = {"colour": colour, "opacity": opacity, **({"behind": look.plate.behind} if look.plate else {})}
        tried = look.with_changes({"plate": {**(look.plate.model_dump() if look.plate else {}), **plate}})
        at = score(tried, letters, behind, counts)
        if at >= READABLE:
            assert tried.plate is not None
            return [
                Mend(changes={"plate": tried.plate.model_dump()}, says=f"A plate of {opacity * 100:.0f} %", contrast=at)
            ]
    return []


def _outlines(look: CaptionLook, letters: Colour, behind: Luminances, counts: NDArray[np.float64]) -> list[Mend]:
    colour = look.outline.colour if look.outline else ("#161A22" if luminance(letters) > 0.3 else "#FAF7F0")
    for width in (0.04, 0.06, 0.08, 0.1):
        if look.outline and width <= look.outline.width:
            continue
        tried = look.with_changes({"outline": {"colour": colour, "width": width}})
        at = score(tried, letters, behind, counts)
        if at >= READABLE:
            return [
                Mend(
                    changes={"outline": {"colour": colour, "width": width}},
                    says="A line around the letters",
                    contrast=at,
                )
            ]
    return []
