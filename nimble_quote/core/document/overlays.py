"""What stands over the picture, and when.

To add a kind: a class with a new `kind` in the union of `Overlay.what`; `core/assembly/overlays/` resolves where it stands,
and a layer of each side draws it.
"""

from collections.abc import Iterable
from typing import Annotated, Literal, Self

from pydantic import Field, StringConstraints, model_validator

from nimble_quote.core.document.framing import Colour, Fraction01
from nimble_quote.core.document.looks import LookChanges, Shape
from nimble_quote.core.model import Frozen
from nimble_quote.core.transcript.words import WordRef

Text = Annotated[str, StringConstraints(strip_whitespace=True, max_length=160)]
Opacity = Annotated[float, Field(ge=0.05, le=1)]
Wish = Literal[
    "top", "middle", "bottom", "above-captions", "top-left", "top-right", "bottom-left", "bottom-right"
]  # fmt: skip
"""Where something should stand: there, or as near as is free."""
MOST_OVERLAYS = 100


class When(Frozen):
    """When an overlay shows: all the time, at the start or the end of the clip, or while some words are said.

    `offset_ms` puts it later (from the start, or from the first word) or earlier (before the end). Without a length it
    shows until the end of the clip, or of the words.
    """

    kind: Literal["whole", "start", "end", "words"]
    offset_ms: int = Field(default=0, ge=0, le=600_000)
    length_ms: int | None = Field(default=None, ge=100, le=600_000)
    first: WordRef | None = None
    last: WordRef | None = None

    @model_validator(mode="after")
    def _has_its_words(self) -> Self:
        if (self.kind == "words") != (self.first is not None and self.last is not None):
            raise ValueError("an overlay names its first and last word if, and only if, it stands at words")
        return self


class At(Frozen):
    """A point of the output, in fractions of it from its top left; of a mark, of the recording's picture."""

    x: Fraction01
    y: Fraction01


class Lines(Frozen):
    """Lines of text, broken so that they fit."""

    kind: Literal["lines"] = "lines"
    text: Annotated[str, StringConstraints(min_length=1, max_length=120)]
    look: LookChanges = Field(default_factory=dict)


class TitleLines(Frozen):
    """What the clip is called, with a second, smaller text where there is one."""

    kind: Literal["title"] = "title"
    text: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=160)]
    second: Text = ""
    look: LookChanges = Field(default_factory=dict)


class NameStrap(Frozen):
    """Who speaks; without a name it is the one whose words it stands at."""

    kind: Literal["name-strap"] = "name-strap"
    name: Text = ""
    role: Text = ""
    look: LookChanges = Field(default_factory=dict)


class TimeLeft(Frozen):
    """How long the clip still runs, by the second."""

    kind: Literal["time-left"] = "time-left"
    look: LookChanges = Field(default_factory=dict)


class Progress(Frozen):
    """A line that grows as the clip goes on, along an edge or around the picture. Without a colour it has the house's."""

    kind: Literal["progress"] = "progress"
    edge: Literal["top", "bottom", "around"] = "bottom"
    thickness: float = Field(default=0.012, ge=0.004, le=0.05)
    """In shorter sides of the output."""
    colour: Colour | None = None
    track: Colour | None = None
    """What it grows over; None shows the picture there."""


class SoundWave(Frozen):
    """The sound of the clip as it is heard: it moves with the voice, or grows as the clip goes on (`line`)."""

    kind: Literal["sound-wave"] = "sound-wave"
    form: Literal["bars", "dots", "ring", "line"] = "bars"
    colour: Colour | None = None
    width: float = Field(default=0.7, ge=0.1, le=1)
    """Of the output's width."""
    height: float = Field(default=0.14, ge=0.03, le=0.6)
    """In shorter sides of the output."""
    calm: float = Field(default=0.4, ge=0, le=1)
    """How much of what was before stays in what moves now."""


class Logo(Frozen):
    """A picture of the house's that stands in a corner."""

    kind: Literal["logo"] = "logo"
    picture: int = Field(ge=1)
    size: float = Field(default=0.18, ge=0.04, le=0.6)
    """Its longer side, in shorter sides of the output."""
    opacity: Opacity = 1.0
    margin: float = Field(default=0.04, ge=0, le=0.2)
    """From the edges, in shorter sides of the output."""


class Insert(Frozen):
    """A picture that is shown for a while: over all, over a half, or in a corner."""

    kind: Literal["insert"] = "insert"
    picture: int = Field(ge=1)
    covers: Literal["all", "half", "corner"] = "all"
    comes: Literal["cut", "fade"] = "cut"


class Mark(Frozen):
    """Something drawn on the recording's picture, by points of that: from one to the other, around both, or along all."""

    kind: Literal["mark"] = "mark"
    form: Literal["arrow", "ring", "box", "underline", "freehand"] = "arrow"
    points: Annotated[tuple[At, ...], Field(min_length=2, max_length=200)]
    colour: Colour | None = None
    width: float = Field(default=0.008, ge=0.002, le=0.04)
    """Of its line, in shorter sides of the output."""
    draws_ms: int = Field(default=500, ge=0, le=5000)
    """How long it takes to be drawn on."""


What = Annotated[
    Lines | TitleLines | NameStrap | TimeLeft | Progress | SoundWave | Logo | Insert | Mark, Field(discriminator="kind")
]


class Overlay(Frozen):
    """One thing that stands over the picture; `id` names it in its quote. Those that come later stand in front."""

    id: int = Field(ge=1)
    when: When
    what: What
    hidden: bool = False
    wish: Wish | None = None
    """Where it should stand; None is where things of its kind do."""
    placed: dict[Shape, At] = Field(default_factory=dict, max_length=20)
    """Where its middle was put by hand, in a shape."""


FROM_FINISH = 1000
"""What a finish of the house has is known in quotes by its number in it and this; what is a quote's own is numbered below."""


def free_number(overlays: Iterable[Overlay]) -> int:
    """The number of the next overlay of a quote's own."""
    return max((one.id for one in overlays if one.id < FROM_FINISH), default=0) + 1
