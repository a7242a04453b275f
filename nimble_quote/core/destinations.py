"""The places a clip is posted to, as shape, limit and covered areas, and the built-in set.

To add one: a line in `BUILT_IN`. Sizes are even, since the codec halves the colour planes.
"""

from typing import Literal

from pydantic import Field

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
    """One place: its picture in pixels, its longest length, its largest file, and what its own buttons cover."""

    id: str
    name: str
    width: int = Field(gt=0, multiple_of=2)
    height: int = Field(gt=0, multiple_of=2)
    limit_ms: int = Field(gt=0)
    largest_mb: int = Field(gt=0)
    covered: tuple[Area, ...] = ()


class Gauge(Frozen):
    """How a length stands against one destination's limit."""

    destination: str
    name: str
    length_ms: int
    limit_ms: int
    over_ms: int
    fit: Fit
    said: str


_TALL_COVERED = (
    Area(x=0, y=0, width=1, height=0.09, name="title bar"),
    Area(x=0, y=0.82, width=1, height=0.18, name="caption and account line"),
    Area(x=0.86, y=0.46, width=0.14, height=0.36, name="button column"),
)
_LOW_STRIP = (Area(x=0, y=0.91, width=1, height=0.09, name="player bar"),)


def _tall(id_: str, name: str, seconds: int) -> Destination:
    return Destination(
        id=id_, name=name, width=1080, height=1920, limit_ms=seconds * 1000, largest_mb=100, covered=_TALL_COVERED
    )


BUILT_IN: dict[str, Destination] = {
    one.id: one
    for one in (
        _tall("story-15", "Tall 15", 15),
        _tall("tall-30", "Tall 30", 30),
        _tall("tall-60", "Tall 60", 60),
        _tall("tall-90", "Tall 90", 90),
        Destination(
            id="square-60",
            name="Square 60",
            width=1080,
            height=1080,
            limit_ms=60_000,
            largest_mb=100,
            covered=_LOW_STRIP,
        ),
        Destination(
            id="portrait-60",
            name="Portrait 60",
            width=1080,
            height=1350,
            limit_ms=60_000,
            largest_mb=100,
            covered=_LOW_STRIP,
        ),
        Destination(
            id="wide-140",
            name="Wide 140",
            width=1920,
            height=1080,
            limit_ms=140_000,
            largest_mb=500,
            covered=_LOW_STRIP,
        ),
    )
}


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
        said=said,
    )


def fits_said(length_ms: int) -> str:
    """What limits a length would fit, in words: 'Fits Tall 30 and longer'."""
    by_limit = sorted(BUILT_IN.values(), key=lambda one: one.limit_ms)
    fitting = [one for one in by_limit if one.limit_ms >= length_ms]
    if not fitting:
        over = gauge(length_ms, by_limit[-1]).said
        return f"Fits nothing: {over}"
    return f"Fits {fitting[0].name}" + (" and longer" if len(fitting) > 1 else "")
