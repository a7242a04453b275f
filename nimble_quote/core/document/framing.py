"""What a person chose about how the picture is framed. What they did not choose is the program's, and computed anew.

A choice holds for every shape, or for one; for the whole quote, or for one stretch of its source. The nearer one wins,
field by field:

        first answer  <  all shapes, usual  <  this shape, usual  <  all shapes, this stretch  <  this shape, this stretch

so that a decision serves every shape, and a shape that wants its own has only what differs.
"""

from typing import Annotated, Literal, Self

from pydantic import Field, StringConstraints, model_validator

from nimble_quote.core.model import Frozen
from nimble_quote.core.ranges import RANGES
from nimble_quote.core.timebase import Span

Colour = Annotated[str, StringConstraints(pattern=r"^#[0-9A-Fa-f]{6}$", to_upper=True)]
Fraction01 = Annotated[float, Field(ge=0, le=1)]
Zoom = Annotated[float, Field(ge=RANGES.zoom.least, le=RANGES.zoom.most)]
Closeness = Annotated[float, Field(ge=RANGES.closeness.least, le=RANGES.closeness.most)]
Share = Annotated[float, Field(ge=RANGES.share.least, le=RANGES.share.most)]
Subject = Annotated[int, Field(ge=0, le=10_000)]
"""The number of somebody, or something, that is followed through a recording."""
Blur = Annotated[float, Field(ge=RANGES.blur.least, le=RANGES.blur.most)]
Size = Annotated[float, Field(ge=RANGES.size.least, le=RANGES.size.most)]
Backdrop = Literal["blur", "colour", "picture", "soft-picture"]
LayoutName = Literal["one", "together", "stacked", "beside", "slide", "whole"]
"""One subject; several in one window; tiles, one above the other or side by side; a slide above who speaks; the whole picture."""
Moves = Literal["still", "steady", "usual", "lively"]
"""How readily a camera moves."""
DoubtCode = Literal["outside", "who-speaks", "enlarged", "fast", "nothing", "graphic"]
MOST_PANELS = 4


TONE = ("exposure", "contrast", "warmth", "saturation", "lift")
"""The fields that are about colour and light, and not about what is shown."""
PLACED_FOR = ("layout", "subjects", "closeness", "moves")


class View(Frozen):
    """Where a camera looks: the middle of its window, and how close it is; zoom 1 is the widest window."""

    x: Fraction01 = 0.5
    y: Fraction01 = 0.5
    zoom: Zoom = 1.0


class Rest(Frozen):
    """A stretch of the source for which a camera stands still."""

    from_ms: int = Field(ge=0)
    to_ms: int = Field(ge=0)
    at: View


class Placed(Frozen):
    """The rests of one camera of a layout, as a person placed them. Between them it goes at an even pace or slowly at
    both ends; before the first and after the last it stands still."""

    panel: int = Field(default=0, ge=0, lt=MOST_PANELS)
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


class Look(Frozen):
    """What can be chosen of how something is framed, but for places; None is not chosen."""

    layout: LayoutName | None = None
    subjects: tuple[Subject, ...] | None = Field(default=None, min_length=1, max_length=MOST_PANELS)
    """Who is shown: the first is whom one window follows, and stands on top or at the left where there are tiles."""
    closeness: Closeness | None = None
    """How large a face is, against a medium shot of the shape."""
    moves: Moves | None = None
    share: Share | None = None
    """The part of the length that the first of two tiles has."""
    size: Size | None = None
    """How large the whole picture is, against fitting the frame."""
    height: Fraction01 | None = None
    """Where the middle of the whole picture stands, from the top."""
    backdrop: Backdrop | None = None
    colour: Colour | None = None
    blur: Blur | None = None
    picture: int | None = Field(default=None, ge=1, le=1 << 30)
    """The number of a picture of the house's that stands behind."""
    exposure: float | None = Field(default=None, ge=RANGES.exposure.least, le=RANGES.exposure.most)
    contrast: float | None = Field(default=None, ge=RANGES.contrast.least, le=RANGES.contrast.most)
    warmth: float | None = Field(default=None, ge=RANGES.warmth.least, le=RANGES.warmth.most)
    saturation: float | None = Field(default=None, ge=RANGES.saturation.least, le=RANGES.saturation.most)
    lift: float | None = Field(default=None, ge=RANGES.lift.least, le=RANGES.lift.most)


class Choice(Look):
    """What a person chose."""

    placed: tuple[Placed, ...] | None = None
    fine: tuple[DoubtCode, ...] | None = None
    """What was doubtful, looked at and found good."""

    @model_validator(mode="after")
    def _one_camera_a_panel(self) -> Self:
        panels = [one.panel for one in self.placed or ()]
        if len(set(panels)) < len(panels):
            raise ValueError("each camera of a layout is placed once")
        return self

    @property
    def chosen(self) -> dict[str, object]:
        """The fields that were chosen."""
        return {name: value for name, value in self if value is not None}

    def over(self, other: "Choice") -> "Choice":
        """This choice, and another's where it says nothing. Places belong to what they were placed for: they do not outlive
        another choice of who is shown, or how."""
        chosen = self.chosen
        if not chosen:
            return other
        anew = any(getattr(self, name) is not None for name in PLACED_FOR)
        below = other.without("placed") if anew else other
        return Choice.model_construct(**{**dict(below), **chosen})

    @property
    def tone(self) -> "Choice":
        """What was chosen of colour and light alone."""
        return Choice.model_construct(**{name: getattr(self, name) for name in TONE})

    def without(self, *fields: str) -> "Choice":
        """The choice with some fields not chosen."""
        return self.model_copy(update=dict.fromkeys(fields))


class ShotChoice(Frozen):
    """The choice for one shot, or a stretch of one, named by when it is in the source: so it holds when the cut changes or
    shots are found anew."""

    span: Span
    choice: Choice
    alone: bool = False
    """Nothing that was chosen more widely of how it is framed reaches it: that is the program's again, but for its own choice."""


class Framing(Frozen):
    """How the shots of a cut are framed."""

    usual: Choice = Choice()
    shots: tuple[ShotChoice, ...] = Field(default=(), max_length=2000)
