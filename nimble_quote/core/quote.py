"""The quote document: all that a person decided about one soundbite, stored whole as one revision.

The source is never touched; a quote is an in point, an out point, and what is struck between them. Each version is
the same quote for one destination. New fields need a default, so that stored revisions still load.
"""

from typing import Annotated, Literal, Self

from pydantic import Field, StringConstraints, model_validator

from nimble_quote.core.model import Frozen
from nimble_quote.core.timebase import Span

Title = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200)]
Colour = Annotated[str, StringConstraints(pattern=r"^#[0-9A-Fa-f]{6}$", to_upper=True)]
Fraction01 = Annotated[float, Field(ge=0, le=1)]
Zoom = Annotated[float, Field(ge=1, le=8)]
Layout = Literal["fill", "fit"]
Backdrop = Literal["blur", "colour"]

Speed = Annotated[float, Field(ge=0.95, le=1.15)]
Softening = Literal["none", "scale"]
"""How the picture's jumps at joins are eased: `scale` shows every other segment a little larger."""

SPEECH_HEIGHT = 0.70
"""Where the middle of the captions stands by default, from the top: in the lower third, above what apps cover."""


class Framing(Frozen):
    """Where the picture stands in one version.

    `fill` takes a window of the destination's shape out of the source; `fit` shows the whole picture with a backdrop
    around it. `x`, `y` are the middle of the window in fractions of the source; `zoom` 1 is the widest window.
    """

    layout: Layout = "fill"
    x: Fraction01 = 0.5
    y: Fraction01 = 0.5
    zoom: Zoom = 1.0
    backdrop: Backdrop = "blur"
    colour: Colour = "#1C2330"


class FramingChange(Frozen):
    """What of a framing is to change; what is not told stays as it is."""

    layout: Layout | None = None
    x: Fraction01 | None = None
    y: Fraction01 | None = None
    zoom: Zoom | None = None
    backdrop: Backdrop | None = None
    colour: Colour | None = None


class Version(Frozen):
    """The quote for one destination."""

    destination: str
    framing: Framing = Framing()
    caption_height: Fraction01 = SPEECH_HEIGHT
    struck: tuple[Span, ...] = ()
    """What this version leaves out besides; what of it lies outside the quote counts for nothing."""
    restored: tuple[Span, ...] = ()
    """What this version keeps although the base strikes it."""
    speed: Speed = 1.0
    """How much faster it plays than it was said; the pitch is kept."""
    soften: Softening = "none"


class WordCorrection(Frozen):
    """What the captions say for the word that starts at `at_ms`: one word, several, or none."""

    at_ms: int
    text: str = Field(max_length=200)


class Captions(Frozen):
    """The captions of the quote, the same in every version but for their place."""

    shown: bool = True
    style: str = "lamplight"
    corrections: tuple[WordCorrection, ...] = ()


class AcceptedNote(Frozen):
    """Something that the check of fairness found, and why it stands all the same: `what` is the finding's name."""

    what: str = Field(min_length=1, max_length=120)
    reason: str = Field(min_length=1, max_length=500)


class Part(Frozen):
    """Which part of a longer passage a quote is, and the lines it begins and ends with (empty for none)."""

    number: int = Field(ge=1)
    of: int = Field(ge=2, le=12)
    recap: str = Field(default="", max_length=120)
    end_line: str = Field(default="", max_length=120)


class QuoteDocument(Frozen):
    """One revision of a quote."""

    title: Title
    span: Span
    """From the in point to the out point."""
    struck: tuple[Span, ...] = ()
    """What is left out between them: in order, apart from each other, inside `span`, leaving something."""
    hushed: tuple[Span, ...] = ()
    """Where room tone is heard instead of the sound, so that a pause at a join can be longer than it was."""
    accepted: tuple[AcceptedNote, ...] = ()
    part: Part | None = None
    captions: Captions = Captions()
    versions: tuple[Version, ...] = ()

    @model_validator(mode="after")
    def _struck_inside(self) -> Self:
        at = self.span.start_ms
        for hole in self.struck:
            if hole.start_ms < at or hole.end_ms > self.span.end_ms:
                raise ValueError("what is struck must lie in order inside the quote")
            at = hole.end_ms + 1
        if sum(hole.length_ms for hole in self.struck) >= self.span.length_ms:
            raise ValueError("a quote must keep something")
        if len({v.destination for v in self.versions}) < len(self.versions):
            raise ValueError("a quote has one version for each destination")
        return self

    def version(self, destination: str) -> Version | None:
        """The version for a destination, where there is one."""
        return next((v for v in self.versions if v.destination == destination), None)
