"""The part of the source that an output shows, and where in the output it stands; never distorted.

Coordinates of the source are fractions (0..1) of its displayed frame, so that proxies and originals agree.
"""

from nimble_quote.core.model import Frozen
from nimble_quote.core.quote import Framing

SOFT_BELOW = 0.5
"""Source pixels for each output pixel, along a side, under which enlargement is plainly seen: twice enlarged."""


class Window(Frozen):
    """A rectangle of the source, in fractions of its width and height."""

    x: float
    y: float
    width: float
    height: float


class Placed(Frozen):
    """A window of the source and the even pixel box of the output it fills."""

    window: Window
    x_px: int
    y_px: int
    width_px: int
    height_px: int


def place(framing: Framing, source: tuple[int, int], output: tuple[int, int]) -> Placed:
    """Resolves a framing for a source and an output size (both width, height in square pixels).

    In `fill`, the window has the output's shape and stays inside the source: a 9:16 window of a 1920x1080 picture is
    607.5 source pixels wide, and stays that (the renderer takes a wider even crop and finishes in output pixels).
    In `fit`, the window may be as large as the whole source and the box is as much of the output as that covers.
    """
    source_width, source_height = source
    output_width, output_height = output
    across, down = output_width / source_width, output_height / source_height
    base = max(across, down) if framing.layout == "fill" else min(across, down)
    scale = base * framing.zoom
    width = min(1.0, across / scale)
    height = min(1.0, down / scale)
    window = Window(x=_held_inside(framing.x, width), y=_held_inside(framing.y, height), width=width, height=height)
    width_px = min(output_width, _even(width * source_width * scale))
    height_px = min(output_height, _even(height * source_height * scale))
    return Placed(
        window=window,
        x_px=_even((output_width - width_px) / 2),
        y_px=_even((output_height - height_px) / 2),
        width_px=width_px,
        height_px=height_px,
    )


def source_pixels_per_output(placed: Placed, source: tuple[int, int]) -> float:
    """How many source pixels there are for one output pixel, along a side: 1 is exact, under 1 is enlarged."""
    return placed.window.width * source[0] / placed.width_px


def _held_inside(middle: float, length: float) -> float:
    return min(max(middle - length / 2, 0.0), 1.0 - length)


def _even(value: float) -> int:
    return round(value / 2) * 2
