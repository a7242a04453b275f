"""Values that go straight from key to key, as expressions in the number of a branch's frame."""

from collections.abc import Sequence
from itertools import pairwise

from nimble_quote.media.render.graph import Leaf, by_moment

_SAME = 1e-9
Points = Sequence[tuple[int, float]]
"""Frames of the output, in order, and the value at each."""


def straight(variable: str, points: Sequence[Points], starts: Sequence[int]) -> str:
    """A value over frames that `variable` counts from the first of some starts: from each of them on straight from point to point,
    still before the first and after the last."""
    first = starts[0]
    leaves: list[Leaf] = []
    for keys, start in zip(points, starts, strict=True):
        leaves.append(Leaf(start=start - first, value=_number(keys[0][1])))
        for (one, a), (other, b) in pairwise(keys):
            at = one - first
            moving = (
                _number(a)
                if abs(a - b) < _SAME
                else f"({_number(a)}+{_number((b - a) / (other - one))}*({variable}-{at}))"
            )
            leaves.append(Leaf(start=at, value=moving))
        if len(keys) > 1:
            leaves.append(Leaf(start=keys[-1][0] - first, value=_number(keys[-1][1])))
    return by_moment(variable, leaves)


def _number(value: float) -> str:
    return f"{value:.6f}" if value >= 0 else f"({value:.6f})"
