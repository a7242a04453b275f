"""Colour and light of a shot: what a person chose, as the few numbers that the preview and the renderer work with.

A picture is coded as how light each pixel is (luma, 0 black to 1 white) and its colour (two chroma values about 0). Light is
changed by one curve, which is straight in log odds, so that black stays black and white stays white, nothing is clipped, and
both ends roll off:

        odds(after) = odds · (before / (1 - before)) ^ power

Exposure multiplies the odds, contrast is the power about a middle tone; colours go along with the light, are made more or
less, and moved between blue and orange.
"""

from math import log2

from nimble_quote.core.document import Choice
from nimble_quote.core.model import Frozen
from nimble_quote.core.ranges import RANGES

_CODED = 2.2
"""Luma is coded so that a stop of light is `2 ** (1 / 2.2)` of it in the darker tones."""
_MIDDLE = 0.45 / 0.55
"""The odds of the tone that contrast leaves: about that of a face in good light."""
_WITH_LIGHT = 0.5
"""Colours follow this power of what the curve does to the tones, or a lighter picture would look washed out."""
_BLUE, _RED = -0.05, 0.035
"""What full warmth moves the two chroma values by: about 1200 K of a lamp's colour."""
_WELL = 0.32, 0.75
"""Between these lumas a face is well exposed, whatever the skin: darker and lighter faces than that look it."""
_MOST_STOPS = 1.5


class Tone(Frozen):
    """How colours are changed: luma by its odds, to a power and times a factor; chroma by a factor, and moved."""

    power: float = 1.0
    odds: float = 1.0
    chroma: float = 1.0
    blue: float = 0.0
    red: float = 0.0

    @property
    def changes(self) -> bool:
        """Whether it changes anything."""
        return self != Tone()

    def luma(self, before: float) -> float:
        """What becomes of a luma, 0..1."""
        light, dark = self.odds * float(before**self.power), float((1 - before) ** self.power)
        return light / (light + dark)


def tone_of(choice: Choice) -> Tone:
    """The tone that a choice makes."""
    gain: float = 2 ** ((choice.exposure or 0.0) / _CODED)
    power: float = 2 ** (choice.contrast or 0.0)
    saturation = 1.0 if choice.saturation is None else choice.saturation
    warmth = choice.warmth or 0.0
    return Tone(
        power=round(power, 5),
        odds=round(gain**power * _MIDDLE ** (1 - power), 5),
        chroma=round(saturation * (gain * power) ** _WITH_LIGHT, 5),
        blue=round(_BLUE * warmth, 5),
        red=round(_RED * warmth, 5),
    )


def exposure_for(face: float) -> float:
    """The exposure, in stops, that brings a face of this luma (0..1) to where it is well exposed; 0 where it is already.

    It is only brought to the nearer end of what is good: a dark face is not to become a light one.
    """
    low, high = _WELL
    good = min(high, max(low, face))
    if good == face:
        return 0.0
    luma = min(0.98, max(0.02, face))
    stops = _CODED * log2((good / (1 - good)) / (luma / (1 - luma)))
    most = min(_MOST_STOPS, RANGES.exposure.most)
    return round(min(most, max(-most, stops)), 2)
