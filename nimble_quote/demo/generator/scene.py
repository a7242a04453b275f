"""A frame of a scene and the truth about it, and what is shown from when on."""

from dataclasses import dataclass, field

from nimble_quote.demo.generator.people import Face


@dataclass(frozen=True, kw_only=True)
class Drawn:
    """One frame (BGRA) and the faces drawn in it; where heads are that may be turned away or hidden, and what else matters,
    where a scene has any."""

    pixels: memoryview
    faces: list[Face]
    heads: list[Face] = field(default_factory=list)
    things: list[Face] = field(default_factory=list)


@dataclass(frozen=True, kw_only=True)
class Shown:
    """The camera or slide that is seen from a second on."""

    from_s: float
    picture: str
