"""How ASS writes colours, times and shapes, and text that it can't read as markup."""

from collections.abc import Sequence
from fractions import Fraction

from nimble_quote.core.document import Colour
from nimble_quote.core.timebase import ms_at

# Characters that libass would read as markup, each as the nearest that it shows as itself.
_HARMLESS = str.maketrans(
    {"\\": "\uff3c", "{": "\uff5b", "}": "\uff5d", "\n": " ", "\r": " ", "\u2028": " ", "\u2029": " "}
)
STEPS = 8
"""Shapes are written in eighths of a pixel (`\\p4`)."""
_ROUND = 0.5523
"""How far the handles of a curve reach that is a quarter of a circle."""


def plain(text: str) -> str:
    """Text that no ASS renderer can read as markup; characters that stand for no letter are left out."""
    return "".join(one for one in text.translate(_HARMLESS) if one.isprintable() or one in "\u200c\u200d\u200e\u200f ")


def colour(code: Colour) -> str:
    """`#RRGGBB` as a tag of ASS writes it: blue, green, red."""
    return f"&H{code[5:7]}{code[3:5]}{code[1:3]}&"


def style_colour(code: Colour) -> str:
    """The same as a style writes it, with no transparency."""
    return f"&H00{code[5:7]}{code[3:5]}{code[1:3]}"


def alpha(opacity: float) -> str:
    """An opacity (0..1) as ASS writes it: what is missing of it."""
    return f"&H{round(255 * (1 - opacity)):02X}&"


def time(frame: int, rate: Fraction) -> str:
    """A frame's time in hundredths, half a frame early: then no rounding can shift an event to the next frame."""
    hundredths = max(0, round((ms_at(frame, rate) - ms_at(1, rate) / 2) / 10))
    seconds = hundredths // 100
    return f"{seconds // 3600}:{seconds // 60 % 60:02}:{seconds % 60:02}.{hundredths % 100:02}"


def rounded(boxes: Sequence[tuple[float, float, float, float]], radius: float) -> str:
    """One shape of boxes (left, top, width, height, in pixels) with round corners: where they overlap it is no denser."""
    return " ".join(_box(*box, radius) for box in boxes)


def _box(left: float, top: float, width: float, height: float, radius: float) -> str:
    r = max(0.0, min(radius, width / 2, height / 2))
    k = r * (1 - _ROUND)
    right, bottom = left + width, top + height

    def at(*points: tuple[float, float]) -> str:
        return " ".join(f"{round(x * STEPS)} {round(y * STEPS)}" for x, y in points)

    if r < 0.5:
        return f"m {at((left, top))} l {at((right, top), (right, bottom), (left, bottom))}"
    return (
        f"m {at((left + r, top))} l {at((right - r, top))} b {at((right - k, top), (right, top + k), (right, top + r))} "
        f"l {at((right, bottom - r))} b {at((right, bottom - k), (right - k, bottom), (right - r, bottom))} "
        f"l {at((left + r, bottom))} b {at((left + k, bottom), (left, bottom - k), (left, bottom - r))} "
        f"l {at((left, top + r))} b {at((left, top + k), (left + k, top), (left + r, top))}"
    )
