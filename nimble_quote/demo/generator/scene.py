"""A frame of a scene and the truth about it, and what is shown from when on."""

from dataclasses import dataclass

from nimble_quote.demo.generator.people import Face


@dataclass(frozen=True, kw_only=True)
class Drawn:
    """One frame (BGRA) and the faces drawn in it."""

    pixels: memoryview
    faces: list[Face]


@dataclass(frozen=True, kw_only=True)
class Shown:
    """The camera or slide that is seen from a second on."""

    from_s: float
    picture: str
