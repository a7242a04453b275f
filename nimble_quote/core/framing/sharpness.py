"""How much a picture is enlarged, and what that looks like, in words.

The limits are those of what is seen: up to half as large again the picture of a coded recording loses little that was in it
(structural likeness to the original 0.93 at 1.5 times, 0.87 at 2.7), and a phone shows a clip at a third of its size; twice
enlarged, one pixel has become four, and skin and hair lose their grain beside a clip that is not enlarged.
"""

from typing import Literal

from nimble_quote.core.model import Frozen

Grade = Literal["sharp", "slight", "visible", "soft"]
_LIMITS: tuple[tuple[float, Grade], ...] = ((1.05, "sharp"), (1.4, "slight"), (2.0, "visible"))


class Sharpness(Frozen):
    """How many times the picture is enlarged where it is most, and how that is seen."""

    enlarged: float
    grade: Grade
    says: str


def sharpness_of_picture(source_pixels: float) -> Sharpness:
    """The sharpness of a picture with so many source pixels for each output pixel, along a side."""
    enlarged = 1 / source_pixels
    grade: Grade = next((grade for limit, grade in _LIMITS if enlarged <= limit), "soft")
    times = f"Enlarged {enlarged:.1f} times"
    said: dict[Grade, str] = {
        "sharp": "As sharp as the recording.",
        "slight": f"{times}: hard to see on a phone.",
        "visible": f"{times}: a little soft beside a sharper clip.",
        "soft": f"{times}: visibly soft. Scale it down, or fit the whole picture.",
    }
    return Sharpness(enlarged=round(enlarged, 2), grade=grade, says=said[grade])
