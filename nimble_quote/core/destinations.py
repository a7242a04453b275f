"""The places a clip is posted to, as shape, limit and covered areas, and how a length stands against them.

Sizes are even, since the codec halves the colour planes.
"""

import math
import re
from collections.abc import Iterable, Sequence
from fractions import Fraction
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from nimble_quote.core.document import Fraction01, Shape
from nimble_quote.core.model import Frozen
from nimble_quote.core.posting.counting import TextLimits
from nimble_quote.core.refusal import Refused
from nimble_quote.core.timebase import STANDARD_RATES

Fit = Literal["fits", "over"]


class Area(Frozen):
    """A rectangle in fractions (0..1) of the output picture, measured from its top left."""

    x: Fraction01
    y: Fraction01
    width: Fraction01
    height: Fraction01
    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)]

    def meets(self, other: "Area") -> bool:
        """Whether the two share any of the picture."""
        return (
            self.x < other.x + other.width
            and other.x < self.x + self.width
            and self.y < other.y + other.height
            and other.y < self.y + self.height
        )


FILE_NAME = "{recording} - {quote} - {destination}"
NAMEABLE = ("recording", "quote", "destination", "shape", "date", "number")
"""What can stand in braces in the name of a file."""
_FILE_NAMES = re.compile(rf"(?:[^{{}}]|\{{(?:{'|'.join(NAMEABLE)})\}})+")
RATES = {str(rate): rate for rate in STANDARD_RATES}
"""The rates that clips can be made at, by how they are written."""
SMALLEST_PX, LARGEST_PX = 160, 4096
_LONGEST_MS = 6 * 3_600_000
_STEEPEST = 4
"""A picture is at most so many times as high as it is wide, or as wide as it is high."""


class Unfit(Refused):
    """A destination that no clip could be made for; the message says what about it, and what would do."""

    code = "unfit-destination"


class Wanted(Frozen):
    """A destination as a house sets it."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)]
    width: int
    height: int
    limit_ms: int
    largest_mb: int
    covered: tuple[Area, ...] = Field(default=(), max_length=12)
    rate: Annotated[str, StringConstraints(max_length=12)] | None = None
    """In frames a second: one of `RATES`; that of the recording where none is told."""
    file_name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)] = FILE_NAME
    texts: TextLimits = TextLimits()

    def checked(self, others: Iterable["Destination"]) -> None:
        """Raises `Unfit` where no clip could be made so, or where another is called the same."""
        for one in others:
            if one.name.casefold() == self.name.casefold():
                raise Unfit(f"{one.name} is the name of another destination. Choose a name of its own.")
        _check_size(self.width, self.height)
        if not 1000 <= self.limit_ms <= _LONGEST_MS:
            raise Unfit("The longest clip must be between 1 second and 6 hours.")
        if not 1 <= self.largest_mb <= 100_000:
            raise Unfit("The largest file must be between 1 and 100,000 MB.")
        if self.rate is not None and self.rate not in RATES:
            raise Unfit(f"“{self.rate}” frames/s is no standard rate. Choose one from the list.")
        if any(area.x + area.width > 1.0001 or area.y + area.height > 1.0001 for area in self.covered):
            raise Unfit("A covered area must lie inside the picture.")
        if not _FILE_NAMES.fullmatch(self.file_name):
            known = ", ".join(f"{{{name}}}" for name in NAMEABLE)
            raise Unfit(f"A file name can have these in braces, and no others: {known}.")


def _check_size(width: int, height: int) -> None:
    if width % 2 or height % 2:
        nearest = f"{_even(width)} × {_even(height)}"
        raise Unfit(f"A picture of {width} × {height} can't be coded: both must be even. The nearest is {nearest}.")
    if not all(SMALLEST_PX <= one <= LARGEST_PX for one in (width, height)):
        raise Unfit(f"A picture must be {SMALLEST_PX} to {LARGEST_PX} pixels wide, and as high.")
    if max(width, height) > _STEEPEST * min(width, height):
        raise Unfit(f"A picture can be at most {_STEEPEST} times as long as it is wide.")


def _even(length: int) -> int:
    return max(SMALLEST_PX, 2 * ((length + 1) // 2))


def shape_for(width: int, height: int, known: Iterable["Destination"]) -> Shape:
    """The shape of a size: that of a destination with the same proportions, or one of its own."""
    for one in known:
        if one.width * height == one.height * width:
            return one.shape
    part = math.gcd(width, height)
    return f"r{width // part}x{height // part}"


class Destination(Frozen):
    """One place: its picture in pixels, its longest length, its largest file, and what its own buttons cover.

    Destinations of one `shape` are framed alike. Clips are made at its `rate`, in frames a second, or where it has none at
    the recording's. `file_name` says what a file is called, with what `NAMEABLE` lists in braces; `texts` how long what is posted
    with it may be. One that is
    `retired` is offered no more.
    """

    id: str
    name: str
    shape: Shape
    width: int = Field(gt=0, multiple_of=2)
    height: int = Field(gt=0, multiple_of=2)
    limit_ms: int = Field(gt=0)
    largest_mb: int = Field(gt=0)
    covered: tuple[Area, ...] = ()
    rate: Fraction | None = None
    file_name: str = FILE_NAME
    texts: TextLimits = TextLimits()
    retired: bool = False

    @property
    def size(self) -> tuple[int, int]:
        """The width and height of its picture, in pixels."""
        return self.width, self.height


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
