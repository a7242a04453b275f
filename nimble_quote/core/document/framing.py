"""How the picture is framed: cameras, the layouts they stand in, and which layout each shot has.

Times are the source's, in milliseconds; places are fractions (0..1) of the source's displayed picture.
To add a camera or a layout: a class with a new `kind`, listed in its union; the Assembly resolves it into panels.
"""

from typing import Annotated, Literal, Self

from pydantic import Field, StringConstraints, model_validator

from nimble_quote.core.model import Frozen
from nimble_quote.core.ranges import RANGES
from nimble_quote.core.timebase import Span

Colour = Annotated[str, StringConstraints(pattern=r"^#[0-9A-Fa-f]{6}$", to_upper=True)]
Fraction01 = Annotated[float, Field(ge=0, le=1)]
Zoom = Annotated[float, Field(ge=RANGES.zoom.least, le=RANGES.zoom.most)]
Backdrop = Literal["blur", "colour"]


class View(Frozen):
    """Where a camera looks: the middle of its window, and how close it is; zoom 1 is the widest window."""

    x: Fraction01 = 0.5
    y: Fraction01 = 0.5
    zoom: Zoom = 1.0


class Hold(Frozen):
    """A camera that stands still."""

    kind: Literal["hold"] = "hold"
    at: View = View()


class Rest(Frozen):
    """A stretch for which a moving camera stands still."""

    from_ms: int = Field(ge=0)
    to_ms: int = Field(ge=0)
    at: View


class Move(Frozen):
    """A camera that goes from rest to rest, at an even pace or slowly at both ends.

    Before the first rest and after the last it stands still.
    """

    kind: Literal["move"] = "move"
    rests: tuple[Rest, ...] = Field(min_length=1, max_length=500)
    ease: Literal["even", "gentle"] = "gentle"

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        at = 0
        for rest in self.rests:
            if rest.from_ms < at or rest.to_ms < rest.from_ms:
                raise ValueError("the rests of a moving camera must follow one another in time")
            at = rest.to_ms
        return self


Camera = Annotated[Hold | Move, Field(discriminator="kind")]


class Single(Frozen):
    """One camera fills the picture."""

    kind: Literal["single"] = "single"
    camera: Camera = Hold()


class Whole(Frozen):
    """The whole picture, or as much of it as the zoom leaves, with a backdrop where it does not reach."""

    kind: Literal["whole"] = "whole"
    at: View = View()


class Tile(Frozen):
    """A part of the picture, with a camera of its own; `share` is its part of the length, in proportion to the others'."""

    camera: Camera = Hold()
    share: float = Field(default=1.0, ge=0.2, le=5)


class Tiles(Frozen):
    """Several cameras at once, one above the other or side by side."""

    kind: Literal["tiles"] = "tiles"
    arrangement: Literal["stacked", "beside"] = "stacked"
    tiles: tuple[Tile, ...] = Field(min_length=2, max_length=4)


Layout = Annotated[Single | Whole | Tiles, Field(discriminator="kind")]


class ShotFraming(Frozen):
    """The layout of one shot, named by when it is in the source, so that it holds when shots are found anew."""

    span: Span
    layout: Layout
    by_hand: bool = True


class Framing(Frozen):
    """How the shots of a cut are framed, and what stands behind where they leave some of the picture free."""

    usual: Layout = Single()
    shots: tuple[ShotFraming, ...] = Field(default=(), max_length=2000)
    backdrop: Backdrop = "blur"
    colour: Colour = "#1C2330"
