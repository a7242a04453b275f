"""The quote document: all that a person decided about one soundbite, stored whole as one revision.

The source is never touched; a quote is an in point, an out point, and what is struck between them. Each version is the
same quote for one destination. What frames the picture is kept by shape, so that one decision serves every destination
of that shape.

What is stored of it carries the number of its schema. A change of its shape raises `upgrades.SCHEMA` and comes with an
entry in `upgrades.UPGRADES`; a new field with a default needs neither.
"""

from itertools import pairwise
from typing import Annotated, Literal, Self

from pydantic import Field, StringConstraints, model_validator

from nimble_quote.core.document.captions import Captions
from nimble_quote.core.document.framing import Fraction01, Framing
from nimble_quote.core.document.looks import Shape
from nimble_quote.core.document.overlays import Overlay
from nimble_quote.core.document.posting import Posting
from nimble_quote.core.model import Frozen
from nimble_quote.core.ranges import RANGES
from nimble_quote.core.timebase import Span

Title = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200)]
Speed = Annotated[float, Field(ge=RANGES.speed.least, le=RANGES.speed.most)]
Times = Annotated[float, Field(ge=RANGES.fast.least, le=RANGES.fast.most)]
Softening = Literal["none", "scale"]
"""How the picture's jumps at joins are eased: `scale` shows every other segment a little larger."""


class Treatment(Frozen):
    """How the picture is treated in a shape: what of its framing is chosen otherwise than for all shapes, and the height of
    the middle of the captions from the top; None where the style says it."""

    framing: Framing = Framing()
    caption_height: Fraction01 | None = None


class Version(Frozen):
    """The quote for one destination."""

    destination: str
    treatment: Treatment | None = None
    """Where it is treated otherwise than its shape."""
    struck: tuple[Span, ...] = ()
    """What this version leaves out besides; what of it lies outside the quote counts for nothing."""
    restored: tuple[Span, ...] = ()
    """What this version keeps although the base strikes it."""
    speed: Speed = 1.0
    """How much faster it plays than it was said; the pitch is kept."""
    soften: Softening = "none"


class AcceptedNote(Frozen):
    """Something that the check of fairness found, and why it stands all the same: `what` is the finding's name."""

    what: str = Field(min_length=1, max_length=120)
    reason: str = Field(min_length=1, max_length=500)


class Fast(Frozen):
    """A stretch in which something is shown and nothing is said, played so many times as fast; the pitch of what is heard is
    kept, or nothing is heard."""

    span: Span
    times: Times
    silent: bool = False


class Part(Frozen):
    """Which part of a longer passage a quote is."""

    number: int = Field(ge=1)
    of: int = Field(ge=2, le=12)


class QuoteDocument(Frozen):
    """One revision of a quote."""

    title: Title
    span: Span
    """From the in point to the out point."""
    struck: tuple[Span, ...] = ()
    """What is left out between them: in order, apart from each other, inside `span`, leaving something."""
    hushed: tuple[Span, ...] = ()
    """Where room tone is heard instead of the sound, so that a pause at a join can be longer than it was."""
    fast: tuple[Fast, ...] = Field(default=(), max_length=100)
    """What is played faster: in order, apart from each other."""
    accepted: tuple[AcceptedNote, ...] = ()
    part: Part | None = None
    captions: Captions = Captions()
    framing: Framing = Framing()
    """What was chosen of the framing for all shapes."""
    treatments: dict[Shape, Treatment] = Field(default_factory=dict)
    """By shape: what is otherwise there. One that is not named has the treatment that a new one begins with."""
    overlays: tuple[Overlay, ...] = Field(default=(), max_length=100)
    """What stands over the picture in this quote, and what it has otherwise than its finish, by the number of that."""
    finish: str | None = None
    """The finish of the house that it follows."""
    finish_held: int | None = Field(default=None, ge=1)
    """The version of the finish that the quote holds; None follows the newest."""
    versions: tuple[Version, ...] = ()
    posting: Posting = Posting()

    @model_validator(mode="after")
    def _struck_inside(self) -> Self:
        at = self.span.start_ms
        for hole in self.struck:
            if hole.start_ms < at or hole.end_ms > self.span.end_ms:
                raise ValueError("what is struck must lie in order inside the quote")
            at = hole.end_ms + 1
        if sum(hole.length_ms for hole in self.struck) >= self.span.length_ms:
            raise ValueError("a quote must keep something")
        if any(one.span.end_ms > other.span.start_ms for one, other in pairwise(self.fast)):
            raise ValueError("what is played fast must lie in order, apart from each other")
        if len({v.destination for v in self.versions}) < len(self.versions):
            raise ValueError("a quote has one version for each destination")
        if len({one.id for one in self.overlays}) < len(self.overlays):
            raise ValueError("each overlay of a quote has a number of its own")
        return self

    def treatment(self, destination: str, shape: Shape) -> Treatment:
        """How the version for a destination is treated: by itself, as its shape is, or as a new one would be."""
        version = self.version(destination)
        own = version.treatment if version else None
        return own or self.treatments.get(shape) or Treatment()

    def version(self, destination: str) -> Version | None:
        """The version for a destination, where there is one."""
        return next((v for v in self.versions if v.destination == destination), None)
