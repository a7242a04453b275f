"""The places a clip is posted to, as shape, limit and covered areas, and how a length stands against them.

Sizes are even, since the codec halves the colour planes.
"""

from collections.abc import Sequence
from typing import Literal

from pydantic import Field

from nimble_quote.core.document import Shape
from nimble_quote.core.model import Frozen

Fit = Literal["fits", "over"]


class Area(Frozen):
    """A rectangle in fractions (0..1) of the output picture, measured from its top left."""

    x: float
    y: float
    width: float
    height: float
    name: str

    def meets(self, other: "Area") -> bool:
        """Whether the two share any of the picture."""
        return (
            self.x < other.x + other.width
            and other.x < self.x + self.width
            and self.y < other.y + other.height
            and other.y < self.y + self.height
        )


class Destination(Frozen):
    """One place: its picture in pixels, its longest length, its largest file, and what its own buttons cover.

    Destinations of one `shape` are framed alike. One that is `retired` is offered no more.
    """

    id: str
    name: str
    shape: Shape
    width: int = Field(gt=0, multiple_of=2)
    height: int = Field(gt=0, multiple_of=2)
    limit_ms: int = Field(gt=0)
    largest_mb: int = Field(gt=0)
    covered: tuple[Area, ...] = ()
    retired: bool = False


class Gauge(Frozen):
    """How a length stands against one destination's limit."""

    destination: str
    name: str
    length_ms: int
    limit_ms: int
    over_ms: int
    fit: Fit
    text: str


def seconds(ms: float) -> str:
    """A length the way people say it: '41.2 s'."""
    return f"{ms / 1000:.1f} s"


def gauge(length_ms: int, destination: Destination) -> Gauge:
    """How a clip of this length stands against a destination, in numbers and in words."""
    over = length_ms - destination.limit_ms
    if over > 0:
        # Rounded up: 40 ms over must never read as "0.0 s over".
        said = f"{seconds((over + 99) // 100 * 100)} over {destination.name}"
    else:
        said = f"{seconds(-over // 100 * 100)} to spare"
    return Gauge(
        destination=destination.id,
        name=destination.name,
        length_ms=length_ms,
        limit_ms=destination.limit_ms,
        over_ms=over,
        fit="over" if over > 0 else "fits",
        text=said,
    )


def fits_said(length_ms: int, destinations: Sequence[Destination]) -> str:
    """What limits a length would fit, in words: 'Fits Tall 30 and longer'."""
    by_limit = sorted(destinations, key=lambda one: one.limit_ms)
    fitting = [one for one in by_limit if one.limit_ms >= length_ms]
    if not fitting:
        over = gauge(length_ms, by_limit[-1]).text
        return f"Fits nothing: {over}"
    return f"Fits {fitting[0].name}" + (" and longer" if len(fitting) > 1 else "")
