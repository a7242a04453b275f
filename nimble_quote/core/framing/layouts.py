"""Layouts as they are drawn: each box of the output with a camera of its own."""

from itertools import accumulate, pairwise
from typing import Annotated, Literal

from pydantic import Field

from nimble_quote.core.document import Backdrop, Colour, Rest, View
from nimble_quote.core.framing.window import Rectangle, even
from nimble_quote.core.model import Frozen


class Hold(Frozen):
    """A camera that stands still."""

    kind: Literal["hold"] = "hold"
    at: View = View()


class Move(Frozen):
    """A camera that goes from rest to rest, which follow one another in time.

    Before the first and after the last it stands still.
    """

    kind: Literal["move"] = "move"
    rests: tuple[Rest, ...] = Field(min_length=1)
    ease: Literal["even", "gentle"] = "gentle"


Camera = Annotated[Hold | Move, Field(discriminator="kind")]


class Single(Frozen):
    """One camera fills the picture."""

    kind: Literal["single"] = "single"
    camera: Camera = Hold()


class Whole(Frozen):
    """The whole picture, or as much of it as there is room for at its size (1 fits), its middle at a height from the top
    (0..1)."""

    kind: Literal["whole"] = "whole"
    at: View = View()
    size: float = 1.0
    height: float = 0.5


class Tile(Frozen):
    """A part of the picture, with a camera of its own; `share` is its part of the length, in proportion to the others'."""

    camera: Camera = Hold()
    share: float = 1.0


class Tiles(Frozen):
    """Several cameras at once, one above the other or side by side."""

    kind: Literal["tiles"] = "tiles"
    arrangement: Literal["stacked", "beside"] = "stacked"
    tiles: tuple[Tile, ...] = Field(min_length=2, max_length=4)


class Box(Frozen):
    """A box in fractions (0..1) of the output, with a camera of its own."""

    x: float
    y: float
    width: float
    height: float
    camera: Camera = Hold()


class Boxes(Frozen):
    """Cameras in boxes that leave some of the output free: a slide, and a smaller picture of who speaks."""

    kind: Literal["boxes"] = "boxes"
    boxes: tuple[Box, ...] = Field(min_length=1, max_length=4)


Layout = Annotated[Single | Whole | Tiles | Boxes, Field(discriminator="kind")]


class Behind(Frozen):
    """What stands where panels leave some of the output free."""

    kind: Backdrop = "blur"
    colour: Colour = "#1C2330"
    picture: int | None = None
    """The number of the house's picture that covers it, where it is one."""
    blur: float = 5.0
    """How blurred a copy of the picture is: the spread, in 136ths of the short side."""


def cameras_of(layout: Layout) -> tuple[Camera, ...]:
    """The cameras of a layout, in the order of its panels."""
    if layout.kind == "whole":
        return (Hold(at=layout.at),)
    if layout.kind == "single":
        return (layout.camera,)
    return tuple(one.camera for one in (layout.tiles if layout.kind == "tiles" else layout.boxes))


def tile_boxes(layout: Tiles, output: tuple[int, int]) -> list[Rectangle]:
    """The boxes of tiles, in even pixels, without gap or overlap."""
    width, height = output
    length = height if layout.arrangement == "stacked" else width
    whole = sum(tile.share for tile in layout.tiles)
    edges = [0, *(even(length * part / whole) for part in accumulate(tile.share for tile in layout.tiles))]
    if layout.arrangement == "stacked":
        return [(0, a, width, b - a) for a, b in pairwise(edges)]
    return [(a, 0, b - a, height) for a, b in pairwise(edges)]


def pixels_of(box: Box, output: tuple[int, int]) -> Rectangle:
    """A box in even pixels of the output."""
    left, top = even(box.x * output[0]), even(box.y * output[1])
    return left, top, even((box.x + box.width) * output[0]) - left, even((box.y + box.height) * output[1]) - top
