"""Where something stands that stands over the picture: as near as can be to where it should, clear of all that is in its way.

Wherever a box has a free place, it has one at which it touches something: an edge of the room, an edge of what is in the way,
or one of its wish's own two lines. So only those places are tried, and where any place is free, one is found:

        +----------------------+
        |  wish    +------+    |     tried: left and right of each obstacle, above and below it, the room's
        |   x      | face |    |     edges, and the wish itself, in all their combinations
        |          +------+    |
        +----------------------+
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.destinations import Area
from nimble_quote.core.document import Wish

AIR = 0.012
"""What is left free around what is in the way, in heights of the output."""
MARGIN = 0.04
"""And to the edges of the output, in its shorter sides."""
_ACROSS = 1.6
"""A way to the side counts for so much more than one up or down: what is read stays in its column."""
Values = NDArray[np.float64]


@dataclass(frozen=True, kw_only=True)
class Wanted:
    """A box to place, in fractions of the output, and where its middle should be."""

    width: float
    height: float
    x: float
    y: float
    margin: tuple[float, float] = (MARGIN, MARGIN)


@dataclass(frozen=True, kw_only=True)
class Obstacle:
    """What is in the way while the box shows; of two that can't both be kept clear the dearer is."""

    area: Area
    weight: float = 1.0


@dataclass(frozen=True, kw_only=True)
class Stands:
    """Where a box stands, and whether it is clear of all."""

    area: Area
    free: bool


def wished(
    wish: Wish, width: float, height: float, captions_top: float, margin: tuple[float, float]
) -> tuple[float, float]:
    """The middle of a box of a size that stands where it should."""
    left, right = margin[0] + width / 2, 1 - margin[0] - width / 2
    top, bottom = margin[1] + height / 2, 1 - margin[1] - height / 2
    row, _, column = wish.partition("-")
    if wish == "above-captions":
        return left, captions_top - AIR - height / 2
    x = {"left": left, "right": right}.get(column, 0.5)
    return x, {"top": top, "bottom": bottom}.get(row, 0.5)


def stands(wanted: Wanted, obstacles: Sequence[Obstacle]) -> Stands:
    """The free place nearest to where a box should be; where none is, the one where it covers least."""
    xs, ys = _tried(wanted, obstacles)
    left, top = (each.ravel() for each in np.meshgrid(xs, ys, indexing="ij"))
    covered = _covered(left, top, wanted, obstacles)
    away = np.abs(left + wanted.width / 2 - wanted.x) * _ACROSS + np.abs(top + wanted.height / 2 - wanted.y)
    best = int(np.lexsort((away, np.round(covered, 9)))[0])
    area = Area(
        x=_inside(left[best], wanted.width), y=_inside(top[best], wanted.height),
        width=min(1.0, wanted.width), height=min(1.0, wanted.height), name="overlay",
    )  # fmt: skip
    return Stands(area=area, free=bool(covered[best] < 1e-9))


def clear(area: Area, obstacles: Sequence[Obstacle]) -> bool:
    """Whether an area that was placed by hand covers nothing."""
    return not any(one.area.meets(area) for one in obstacles)


def _tried(wanted: Wanted, obstacles: Sequence[Obstacle]) -> tuple[Values, Values]:
    """The lefts and the tops that are tried, all inside the room."""
    across = [(one.area.x, one.area.width) for one in obstacles]
    down = [(one.area.y, one.area.height) for one in obstacles]
    return (
        _edges(wanted.x - wanted.width / 2, wanted.width, wanted.margin[0], across),
        _edges(wanted.y - wanted.height / 2, wanted.height, wanted.margin[1], down),
    )


def _edges(wish: float, length: float, margin: float, taken: Sequence[tuple[float, float]]) -> Values:
    low, high = margin, 1 - margin - length
    if high <= low:
        return np.array([(1 - length) / 2])
    found = [wish, low, high]
    for start, long in taken:
        found += [start - AIR - length, start + long + AIR]
    return np.unique(
        np.round(np.clip([one for one in found if low - 1e-9 <= one <= high + 1e-9] or [low], low, high), 6)
    )


def _covered(left: Values, top: Values, wanted: Wanted, obstacles: Sequence[Obstacle]) -> Values:
    """How much of what is in the way each place covers, in parts of the box."""
    total = np.zeros(len(left))
    for one in obstacles:
        area = one.area
        x = np.minimum(left + wanted.width, area.x + area.width) - np.maximum(left, area.x)
        y = np.minimum(top + wanted.height, area.y + area.height) - np.maximum(top, area.y)
        over = np.maximum(0, x) * np.maximum(0, y)
        total += one.weight * np.where(over > 1e-9, over, 0) / (wanted.width * wanted.height)
    return total


def _inside(start: float, length: float) -> float:
    return float(min(max(0.0, start), max(0.0, 1 - length)))
