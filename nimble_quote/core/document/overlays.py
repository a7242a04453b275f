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
    round: bool = False
    """Whether it is cut to a circle, as a speaker's picture."""


class Footage(Frozen):
    """A piece of another recording: from when in it, and what is known of that, as it was when it was chosen."""

    recording: int = Field(ge=1)
    from_ms: int = Field(default=0, ge=0)
    width: int = Field(ge=1)
    height: int = Field(ge=1)
    duration_ms: int = Field(ge=1)
    heard: Literal["not", "under", "instead"] = "not"
    """Whether its sound is heard: under the voice, or instead of it."""


class Insert(Frozen):
    """A picture, or the picture of another recording, that is shown for a while: over all, over a half, or in a corner."""

    kind: Literal["insert"] = "insert"
    picture: int | None = Field(default=None, ge=1)
    footage: Footage | None = None
    covers: Literal["all", "half", "corner"] = "all"
    comes: Literal["cut", "fade"] = "cut"
    push: float = Field(default=0.0, ge=0, le=0.3)
    """How much closer a picture is at the end than at the start."""

    @model_validator(mode="after")
    def _one_of_both(self) -> Self:
        if (self.picture is None) == (self.footage is None):
            raise ValueError("an insert shows a picture of the house's, or another recording")
        return self


class EndCard(Frozen):
    """What a clip ends on: texts, a logo, an address and its code, one under the other, on a colour. It lasts beyond the cut, and
    counts in the limit."""

    kind: Literal["end-card"] = "end-card"
    text: Text = ""
    second: Text = ""
    address: Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)] = ""
    """Where to find more; shown as it is."""
    code: bool = False
    """Whether the address is there as a QR code, too."""
    picture: int | None = Field(default=None, ge=1)
    colour: Colour | None = None
    """What it stands on; without one, the house's."""
    letters: Colour | None = None
    """Without one, what can be read on that."""
    look: LookChanges = Field(default_factory=dict)
    length_ms: int = Field(default=3000, ge=500, le=15_000)
    under_ms: int = Field(default=0, ge=0, le=5000)
    """How much of the end of the cut is still heard while it shows."""


class CoverPicture(Frozen):
    """What a cover shows: the recording at a moment, or a picture of the house's; where neither is told, a moment is found."""

    at_ms: int | None = Field(default=None, ge=0)
    picture: int | None = Field(default=None, ge=1)

    @model_validator(mode="after")
    def _one_of_both(self) -> Self:
        if self.at_ms is not None and self.picture is not None:
            raise ValueError("a cover shows a moment or a picture, not both")
        return self


class Cover(Frozen):
    """The first frame of the file, and the pictures beside it: what is seen before anybody plays the clip."""

    kind: Literal["cover"] = "cover"
    shows: CoverPicture = CoverPicture()
    in_shapes: dict[Shape, CoverPicture] = Field(default_factory=dict, max_length=20)
    """What it shows instead in a shape."""
    text: Text = "{title}"
    look: LookChanges = Field(default_factory=dict)

    def shown_in(self, shape: Shape) -> CoverPicture:
        """What it shows in a shape."""
        return self.in_shapes.get(shape, self.shows)


class Music(Frozen):
    """A piece of music, or a sound, of the house's: so many dB below the voice, and lowered further while somebody speaks."""

    kind: Literal["music"] = "music"
    sound: int = Field(ge=1)
    from_ms: int = Field(default=0, ge=0, le=3_600_000)
    """Where in the piece it begins."""
    repeats: bool = True
    """Whether it is looped for as long as it shows; otherwise it is silent where it has ended."""
    below_db: float = Field(default=6, ge=-12, le=40)
    """How much less loud than the voice it is where nobody speaks."""
    duck_db: float = Field(default=14, ge=0, le=40)
    """How much lower it is while somebody speaks."""
    fall_ms: int = Field(default=300, ge=50, le=3000)
    """How long it takes to be lowered, ahead of each phrase."""
    fade_in_ms: int = Field(default=300, ge=0, le=10_000)
    fade_out_ms: int = Field(default=1200, ge=0, le=10_000)


class SpeakingSound(Frozen):
    """What is done to the sound of those who speak: hum and hiss lowered, rumble taken off, levels evened."""

    kind: Literal["speaking-sound"] = "speaking-sound"
    strength: Literal["light", "firm"] = "light"


class Mark(Frozen):
    """Something drawn on the recording's picture, by points of that: from one to the other, around both, or along all."""

    kind: Literal["mark"] = "mark"
    form: Literal["arrow", "ring", "box", "underline", "freehand", "spotlight"] = "arrow"
    points: Annotated[tuple[At, ...], Field(min_length=2, max_length=200)]
    colour: Colour | None = None
    width: float = Field(default=0.008, ge=0.002, le=0.04)
    """Of its line, in shorter sides of the output."""
    draws_ms: int = Field(default=500, ge=0, le=5000)
    """How long it takes to be drawn on."""
    follows: int | None = Field(default=None, ge=0)
    """Whom, or what, it goes along with, by the number of the subject."""
    darkness: float = Field(default=0.6, ge=0.2, le=0.95)
    """How dark it is around a spotlight."""


What = Annotated[
    Lines
    | TitleLines
    | NameStrap
    | TimeLeft
    | Progress
    | SoundWave
    | Logo
    | Insert
    | Mark
    | EndCard
    | Cover
    | Music
    | SpeakingSound,
    Field(discriminator="kind"),
]
ALONE = ("end-card", "cover", "speaking-sound")
"""Kinds of which a clip has one, wherever it is in the list; when they show is not asked."""


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
