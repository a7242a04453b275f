"""Tone: luma by a curve, chroma by a factor and a shift, in the picture's own coding: to and from RGB would cost ten times as
much for each frame."""

from nimble_quote.core.framing.toning import Tone
from nimble_quote.media.render.graph import Filter, node, quoted

_BLACK, _LUMA, _MIDDLE, _CHROMA = 16, 219, 128, 224
"""Limited range, eight bits: black, white above it; no colour, and the reach of chroma."""


def tone_filters(tone: Tone) -> list[Filter]:
    """The filters that change colours so; none where nothing is changed."""
    if not tone.changes:
        return []
    light = f"clip((val-{_BLACK})/{_LUMA},0,1)"
    up = f"{tone.odds}*pow({light},{tone.power})"
    luma = f"clip({_BLACK}+{_LUMA}*({up})/({up}+pow(1-{light},{tone.power})),{_BLACK},{_BLACK + _LUMA})"
    return [
        node(
            "lutyuv",
            y=quoted(luma),
            u=quoted(_chroma(tone.chroma, tone.blue)),
            v=quoted(_chroma(tone.chroma, tone.red)),
        )
    ]


def _chroma(factor: float, shift: float) -> str:
    return f"clip((val-{_MIDDLE})*{factor}+{_MIDDLE + _CHROMA * shift:.3f},16,240)"
