"""Caption styles: the limits they set and the look they have, and the faces they are set in."""

from typing import Literal

from nimble_quote.core.document import Colour
from nimble_quote.core.model import Frozen

LINE_STEP = 1.28
"""The distance from line to line, in font sizes."""


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
    """The colour of the word being spoken, where the style marks it so."""
    spoken_bar: bool = False
    """Whether a bar goes along under the word being spoken."""
    edge: Literal["outline", "box"]
    edge_colour: Colour
    edge_size: float
    limits: Limits
    retired: bool = False

    @property
    def marks_spoken(self) -> bool:
        """Whether the word being spoken looks other than the rest."""
        return self.spoken is not None or self.spoken_bar


def block_height(style: CaptionStyle, lines: int, output: tuple[int, int]) -> float:
    """How high so many lines are, edges included, in heights of the output; its width and height in pixels."""
    return (style.size * LINE_STEP * lines + 2 * style.edge_size) * min(output) / output[1]


class Face(Frozen):
    """A face that ships: its exact name, as both renderers look it up, and its file."""

    name: str
    file: str
