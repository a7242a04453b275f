"""Caption styles of the house, and the faces they are set in."""

from typing import Annotated

from pydantic import Field, StringConstraints

from nimble_quote.core.document import CaptionLook
from nimble_quote.core.model import Frozen

Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=40)]


class StyleWanted(Frozen):
    """What a house decides of a style of its own."""

    name: Name
    said: Annotated[str, StringConstraints(strip_whitespace=True, max_length=120)] = ""
    """What it is for, in a few words."""
    look: CaptionLook


class CaptionStyle(StyleWanted):
    """A style at one of its versions: there is a version for each change of its look."""

    id: str
    version: int = Field(default=1, ge=1)
    retired: bool = False


class Face(Frozen):
    """A face: its exact name, as both renderers look it up, and its file. `own` is one that the house brought."""

    name: str
    file: str
    own: bool = False
    offered: bool = True
    """Whether it is one to choose; others only stand in for scripts that a chosen one lacks."""
    licence: str = ""
    """What the house notes of its licence."""
    retired: bool = False


def block_height(look: CaptionLook, lines: int, output: tuple[int, int]) -> float:
    """How high so many lines are, plates and edges included, in heights of the output; its width and height in pixels."""
    return look.size * (look.line_spacing * lines + 2 * look.beyond[1]) * min(output) / output[1]
