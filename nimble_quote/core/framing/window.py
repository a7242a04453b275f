"""The part of the source that a box of the output shows; never distorted.

Coordinates of the source are fractions (0..1) of its displayed frame, so that proxies and originals agree.
"""

from nimble_quote.core.document import View
from nimble_quote.core.model import Frozen

Rectangle = tuple[int, int, int, int]
"""Left, top, width and height in even pixels of the output."""


class Window(Frozen):
    """A rectangle of the source, in fractions of its width and height."""

    x: float
    y: float
    width: float
    height: float

    def closer(self, scale: float) -> "Window":
        """The window about the same middle that shows everything `scale` times as large."""
        width, height = self.width / scale, self.height / scale
        return Window(
            x=self.x + (self.width - width) / 2, y=self.y + (self.height - height) / 2, width=width, height=height
        )

    def holds(self, x: float, y: float, width: float, height: float) -> bool:
        """Whether a rectangle lies in it."""
        return x >= self.x and y >= self.y and x + width <= self.x + self.width and y + height <= self.y + self.height


def filling(view: View, source: tuple[int, int], box: tuple[int, int]) -> Window:
    """The window that fills a box (width, height): it has the box's shape and stays inside the source.

    A 9:16 window of a 1920x1080 picture is 607.5 source pixels wide, and stays that: the renderer takes a wider even
    crop and finishes in output pixels.
    """
    across, down = box[0] / source[0], box[1] / source[1]
    scale = max(across, down) * view.zoom
    return _about(view, across / scale, down / scale)


def fitting(
    view: View, source: tuple[int, int], output: tuple[int, int], size: float = 1.0, middle: float = 0.5
) -> tuple[Window, Rectangle]:
    """As much of the source as there is room for at a size (1 fits), and the box of the output that it covers: its middle at a
    height from the top (0..1), as far as it then lies inside."""
    across, down = output[0] / source[0], output[1] / source[1]
    scale = min(across, down) * size
    window = _about(view, min(1.0, across / scale), min(1.0, down / scale))
    width = min(output[0], even(window.width * source[0] * scale))
    height = min(output[1], even(window.height * source[1] * scale))
    top = min(output[1] - height, max(0, even(output[1] * middle - height / 2)))
    return window, (even((output[0] - width) / 2), top, width, height)


def between(one: Window, other: Window, part: float) -> Window:
    """The window a part of the way (0..1) from one to another."""

    def mixed(a: float, b: float) -> float:
        return a + (b - a) * part

    return Window(
        x=mixed(one.x, other.x),
        y=mixed(one.y, other.y),
        width=mixed(one.width, other.width),
        height=mixed(one.height, other.height),
    )


def source_pixels_per_output(window: Window, width_px: int, source_width: int) -> float:
    """How many source pixels there are for one output pixel, along a side: 1 is exact, under 1 is enlarged."""
    return window.width * source_width / width_px


def even(value: float) -> int:
    """The nearest even number of pixels."""
    return round(value / 2) * 2


def _about(view: View, width: float, height: float) -> Window:
    return Window(x=_held_inside(view.x, width), y=_held_inside(view.y, height), width=width, height=height)


def _held_inside(middle: float, length: float) -> float:
    return min(max(middle - length / 2, 0.0), 1.0 - length)
