"""Timecode (SMPTE ST 12-1): frames as hours, minutes, seconds and frames. At 29.97 and 59.94 frames a second drop-frame leaves out the first two
(four) numbers of each minute but every tenth, so that it keeps with the clock."""

import re
from fractions import Fraction

_CODE = re.compile(r"(\d{2})[:;.](\d{2})[:;.](\d{2})([:;.])(\d{2})")


def drops(rate: Fraction) -> int:
    """How many numbers drop-frame leaves out each minute at a rate; 0 where it has none."""
    return {Fraction(30000, 1001): 2, Fraction(60000, 1001): 4}.get(rate, 0)


def timecode(frame: int, rate: Fraction, *, drop: bool) -> str:
    """A frame as timecode."""
    fps = _counted(rate)
    left_out = drops(rate) if drop else 0
    if left_out:
        ten, rest = divmod(frame, fps * 600 - 9 * left_out)
        frame += 9 * left_out * ten + left_out * max(0, (rest - left_out) // (fps * 60 - left_out))
    seconds, frames = divmod(frame, fps)
    mark = ";" if left_out else ":"
    return f"{seconds // 3600 % 24:02}:{seconds // 60 % 60:02}:{seconds % 60:02}{mark}{frames:02}"


def frame_of(text: str, rate: Fraction, *, drop: bool) -> int:
    """The frame that a timecode names. Raises `ValueError` where it is none at that rate."""
    found = _CODE.fullmatch(text.strip())
    if not found:
        raise ValueError(f"“{text.strip()[:40]}” is no timecode")
    hours, minutes, seconds, frames = (int(found[number]) for number in (1, 2, 3, 5))
    fps = _counted(rate)
    if minutes > 59 or seconds > 59 or frames >= fps:
        raise ValueError(f"“{text.strip()}” is no timecode at {float(rate):.2f} frames/s")
    whole = (hours * 3600 + minutes * 60 + seconds) * fps + frames
    left_out = drops(rate) if drop else 0
    if left_out and seconds == 0 and frames < left_out and minutes % 10:
        raise ValueError(f"“{text.strip()}” is a number that drop-frame leaves out")
    total = hours * 60 + minutes
    return whole - left_out * (total - total // 10)


def _counted(rate: Fraction) -> int:
    """How many frames are counted to a second."""
    return -(-rate.numerator // rate.denominator)
