"""How captions look, and what a cue may be: what a style decides, and a quote or a cue may decide otherwise.

Lengths are in font sizes, and the font size is a fraction of the output's shorter side, so that one look serves every
shape.
"""

from typing import Annotated, Any, Literal, Self

from pydantic import Field, StringConstraints, ValidationError, model_validator

from nimble_quote.core.document.framing import Colour, Fraction01
from nimble_quote.core.model import Frozen

Shape = Annotated[str, StringConstraints(pattern=r"^[a-z][a-z0-9-]{0,39}$")]
"""What destinations of one shape share: `tall`, `square` …"""
LanguageCode = Annotated[str, StringConstraints(pattern=r"^[a-z]{2,3}(-[A-Za-z]{2,4})?$")]
Sizes = Annotated[float, Field(ge=0, le=2)]
"""A length in font sizes."""
Case = Literal["as-said", "upper", "lower"]
SpokenMark = Literal["none", "colour", "bar", "plate", "grow", "appear"]
Entrance = Literal["none", "fade", "rise", "slide", "type", "pop"]
Exit = Literal["none", "fade", "rise", "type"]


class Limits(Frozen):
    """What a cue of a style may be."""

    line_characters: int = Field(ge=6, le=60)
    lines: int = Field(ge=1, le=4)
    shortest_ms: int = Field(ge=200, le=5000)
    longest_ms: int = Field(ge=500, le=15000)
    fastest_cps: float = Field(ge=8, le=60)
    """Characters a second beyond which a cue can't be read in its time."""

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if self.longest_ms <= self.shortest_ms:
            raise ValueError("the longest time is longer than the shortest")
        return self


class LimitsIn(Frozen):
    """The limits of cues in a shape, in a language, or in a language in one shape."""

    shape: Shape | None = None
    language: LanguageCode | None = None
    limits: Limits

    @model_validator(mode="after")
    def _is_somewhere(self) -> Self:
        if self.shape is None and self.language is None:
            raise ValueError("limits of their own are those of a shape or of a language")
        return self


class Spoken(Frozen):
    """How the word being spoken is marked: `colour` gives it another, `bar` runs under it, `plate` stands behind it, `grow`
    makes it larger, `appear` shows each word from when it is said."""

    mark: SpokenMark = "none"
    colour: Colour | None = None
    """Of the word, the bar or the plate; None is that of the letters."""


class Plate(Frozen):
    """What stands behind the letters: behind each line by itself, or behind all of them."""

    behind: Literal["line", "block"] = "line"
    colour: Colour = "#161A22"
    opacity: float = Field(default=1.0, ge=0.05, le=1)
    across: Sizes = 0.3
    """How far it reaches beyond the letters at either side."""
    down: Sizes = 0.12
    """And above and below the line."""
    radius: Sizes = 0.12


class Outline(Frozen):
    """A line around the letters."""

    colour: Colour = "#161A22"
    width: float = Field(default=0.08, gt=0, le=0.3)


class Shadow(Frozen):
    """A shadow of the letters."""

    colour: Colour = "#000000"
    opacity: float = Field(default=0.6, ge=0.05, le=1)
    across: float = Field(default=0.0, ge=-0.5, le=0.5)
    down: float = Field(default=0.06, ge=-0.5, le=0.5)
    blur: float = Field(default=0.06, ge=0, le=0.5)


class Speakers(Frozen):
    """How it is told that another person speaks."""

    mark: Literal["none", "dash", "name", "colour"] = "none"
    colours: tuple[Colour, ...] = Field(default=(), max_length=8)
    """Of the second speaker on: the first has that of the letters."""


class CaptionLook(Frozen):
    """All that a style decides."""

    face: str = Field(min_length=1, max_length=120)
    """The exact name of a face, as the browser's and ffmpeg's renderer both look it up."""
    size: float = Field(ge=0.02, le=0.2)
    case: Case = "as-said"
    colour: Colour
    emphasis: Colour | None = None
    """Of words that were emphasised; None underlines them."""
    spoken: Spoken = Spoken()
    plate: Plate | None = None
    outline: Outline | None = None
    shadow: Shadow | None = None
    letter_spacing: float = Field(default=0.0, ge=-0.1, le=0.5)
    line_spacing: float = Field(default=1.28, ge=0.9, le=2.5)
    """From line to line."""
    alignment: Literal["left", "centre", "right"] = "centre"
    width: float = Field(default=0.86, ge=0.3, le=0.96)
    """How much of the output's width lines may take."""
    height: Fraction01 = 0.70
    """Where the middle of the captions stands, from the top: below the face, above what apps cover."""
    heights: dict[Shape, Fraction01] = Field(default_factory=dict, max_length=20)
    """Where it stands otherwise in a shape."""
    entrance: Entrance = "none"
    exit: Exit = "none"
    speakers: Speakers = Speakers()
    limits: Limits
    limits_in: tuple[LimitsIn, ...] = Field(default=(), max_length=40)
    """Where cues have other limits."""

    def limits_for(self, shape: Shape, language: str) -> LimitsIn | None:
        """The limits of their own that cues have in a shape and a language (its code): the most particular there are."""
        there = [
            one
            for one in self.limits_in
            if one.shape in (None, shape) and one.language in (None, language, language.partition("-")[0])
        ]
        return max(there, key=lambda one: (one.language is not None, one.shape is not None), default=None)

    def height_in(self, shape: Shape) -> float:
        """Where the middle of captions stands in a shape, where nobody placed them."""
        return self.heights.get(shape, self.height)

    def left_of(self, width: float) -> float:
        """Where a line of a width begins, both in widths of the output."""
        return {"left": (1 - self.width) / 2, "centre": 0.5 - width / 2, "right": (1 + self.width) / 2 - width}[
            self.alignment
        ]

    @property
    def beyond(self) -> tuple[float, float]:
        """How far the look reaches beyond its letters across and down, in font sizes: plate, or outline and shadow."""
        if self.plate is not None:
            return self.plate.across, self.plate.down
        edge = self.outline.width if self.outline else 0.0
        shade = self.shadow
        far = max(abs(shade.across), abs(shade.down)) + shade.blur if shade else 0.0
        return max(edge, far), max(edge, far)

    def letters_of(self, speaker: int) -> Colour:
        """The colour of the letters of a speaker (from 1; 0 where it is not told)."""
        colours = self.speakers.colours
        if self.speakers.mark != "colour" or not speaker or not colours:
            return self.colour
        return colours[(speaker - 1) % len(colours)]

    def cased(self, text: str) -> str:
        """A text as the style writes it."""
        if self.case == "upper":
            return text.upper()
        return text.lower() if self.case == "lower" else text

    def with_changes(self, changes: "LookChanges") -> "CaptionLook":
        """The look with some of it otherwise; what is no more possible of that stays as it is."""
        if not changes:
            return self
        try:
            return CaptionLook.model_validate({**self.model_dump(), **changes})
        except ValidationError:
            return self


LookChanges = dict[str, Any]
"""Fields of a look, each with what it is instead."""

_PARTS = ("spoken", "plate", "outline", "shadow", "speakers")


def with_change(own: LookChanges, change: LookChanges, look: CaptionLook) -> LookChanges:
    """Changes of a look with one more on top of them. What it says nothing of stays as it is, also within a part of the look: a
    plate of another colour is as wide as before."""
    before = look.model_dump(mode="json") | own
    return own | {
        field: {**(before.get(field) or {}), **value} if field in _PARTS and isinstance(value, dict) else value
        for field, value in change.items()
    }


def checked_changes(changes: LookChanges, look: CaptionLook) -> LookChanges:
    """Changes of a look, as they are stored: those that change nothing are left out. Raises `ValidationError` where a look can't
    be like that, and `ValueError` where it has no such field."""
    unknown = set(changes) - set(CaptionLook.model_fields)
    if unknown:
        raise ValueError(f"a caption look has no “{min(unknown)}”")
    before = look.model_dump(mode="json")
    after = CaptionLook.model_validate({**before, **changes}).model_dump(mode="json")
    return {field: after[field] for field in changes if after[field] != before[field]}
