"""The caption styles that ship, as the limits they set and the look they have. To add one: a line in `STYLES`."""

from typing import Literal

from nimble_quote.core.model import Frozen
from nimble_quote.core.quote import Colour


class Limits(Frozen):
    """What a cue of a style may be."""

    line_characters: int
    lines: int
    shortest_ms: int
    longest_ms: int
    fastest_cps: float
    """Characters a second beyond which a cue can't be read in its time."""


class CaptionStyle(Frozen):
    """A look for captions. Sizes are fractions of the output's shorter side, so that one style serves every shape.

    Sizes and line lengths are such that a full line leaves a seventh of a tall picture free at either side.
    """

    id: str
    name: str
    said: str
    """What it is for, in a few words."""
    font: str
    """The exact name of a face that ships, as the browser's and ffmpeg's renderer both look it up."""
    size: float
    cell: float
    """Ascent and descent of the face in font sizes: subtitle scripts give sizes as the height of this cell."""
    colour: Colour
    spoken: Colour | None
    """The colour of the word being spoken, where the style marks it."""
    edge: Literal["outline", "box"]
    edge_colour: Colour
    edge_size: float
    limits: Limits


STYLES: dict[str, CaptionStyle] = {
    style.id: style
    for style in (
        CaptionStyle(
            id="lamplight",
            name="Lamplight",
            said="short, bold, the spoken word lit",
            font="Lexend Bold",
            size=0.072,
            cell=1.59,
            colour="#FFFFFF",
            spoken="#F0B429",
            edge="outline",
            edge_colour="#161A22",
            edge_size=0.0065,
            limits=Limits(line_characters=18, lines=2, shortest_ms=700, longest_ms=3000, fastest_cps=24),
        ),
        CaptionStyle(
            id="slate",
            name="Slate",
            said="two calm lines on a dark plate",
            font="Atkinson Hyperlegible Bold",
            size=0.058,
            cell=1.24,
            colour="#FAF7F0",
            spoken=None,
            edge="box",
            edge_colour="#161A22",
            edge_size=0.014,
            limits=Limits(line_characters=26, lines=2, shortest_ms=1000, longest_ms=6000, fastest_cps=20),
        ),
        CaptionStyle(
            id="print",
            name="Print",
            said="a reading face, for a quiet voice",
            font="Source Serif 4 SemiBold",
            size=0.062,
            cell=1.333,
            colour="#FAF7F0",
            spoken=None,
            edge="outline",
            edge_colour="#1C2330",
            edge_size=0.005,
            limits=Limits(line_characters=24, lines=2, shortest_ms=1000, longest_ms=6000, fastest_cps=20),
        ),
    )
}
