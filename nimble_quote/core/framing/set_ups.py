"""Set-ups: shots of the same camera, from the same place, that show the same people: "the wide", "Ivo's close".

Two shots are of one set-up where their pictures are alike but for how light or how warm they are, and where whoever is in
both stands at about the same place, about as large.
"""

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass
from typing import cast

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.context import Shot, Sight
from nimble_quote.core.framing.following import Track
from nimble_quote.core.framing.saying import called, listed
from nimble_quote.core.framing.scenes import scene_of
from nimble_quote.core.framing.shots import LOOK

ALIKE = 0.9
"""The least correlation of two looks of one set-up, each colour measured against its own mean."""
_APART, _LARGER = 0.12, 1.35
"""Somebody who is further from where they were, in fractions of the picture, or so much larger, is seen by another camera."""
_FLAT = 2.0
_CLOSE_UP, _MEDIUM_SHOT = 0.22, 0.12
"""A face of so much of the picture's height is that of a close-up, or a medium shot, to whoever filmed it."""


@dataclass(frozen=True, kw_only=True)
class SetUp:
    """A set-up: what it is called, and the numbers of its shots."""

    name: str
    shots: tuple[int, ...]


@dataclass(frozen=True, kw_only=True)
class _Seen:
    look: NDArray[np.float64] | None
    places: dict[int, tuple[float, float, float]]
    """Where each person is, and how tall their face."""


def find_set_ups(sight: Sight) -> list[SetUp]:
    """The set-ups of the shots that are seen, in the order in which they first come."""
    if _KEPT not in sight.solved:
        sight.solved[_KEPT] = _found(sight)
    return cast(list[SetUp], sight.solved[_KEPT])


_KEPT = "set-ups"


def _found(sight: Sight) -> list[SetUp]:
    seen = [_seen(shot, sight) for shot in sight.shots]
    groups: list[list[int]] = []
    for number, one in enumerate(seen):
        home = next((group for group in groups if any(_alike(one, seen[other]) for other in group[-4:])), None)
        if home is None:
            groups.append([number])
        else:
            home.append(number)
    names = [_name(seen[group[0]], sight) for group in groups]
    often = Counter(names)
    told: Counter[str] = Counter()
    out = []
    for name, group in zip(names, groups, strict=True):
        told[name] += 1
        out.append(SetUp(name=f"{name} {told[name]}" if often[name] > 1 else name, shots=tuple(group)))
    return out


def _seen(shot: Shot, sight: Sight) -> _Seen:
    scene = scene_of(shot.span, (shot.span,), sight, ())
    people = {who: _place(scene.tracks[who]) for who in scene.people}
    return _Seen(look=_normal(shot.look), places=people)


def _place(track: Track) -> tuple[float, float, float]:
    x, y = track.x + track.width / 2, track.y + track.height / 2
    return float(np.median(x)), float(np.median(y)), float(np.median(track.height))


def looks_alike(one: bytes, other: bytes) -> bool:
    """Whether two looks are of pictures that are alike but for how light or how warm they are."""
    a, b = _normal(one), _normal(other)
    return a is not None and b is not None and _same(a, b)


def _same(one: NDArray[np.float64], other: NDArray[np.float64]) -> bool:
    size = float(np.sqrt((one**2).mean() * (other**2).mean()))
    return (float((one * other).mean()) / size if size > 0 else 1.0) >= ALIKE


def _normal(look: bytes) -> NDArray[np.float64] | None:
    """A look with each colour measured against its own mean and spread: another exposure or white balance is no other look."""
    if len(look) != int(np.prod(LOOK)):
        return None
    cells = np.frombuffer(look, np.uint8).reshape(-1, LOOK[2]).astype(np.float64)
    spread = np.maximum(cells.std(axis=0), _FLAT)
    normal: NDArray[np.float64] = (cells - cells.mean(axis=0)) / spread
    return normal.reshape(-1)


def _alike(one: _Seen, other: _Seen) -> bool:
    if one.look is None or other.look is None or set(one.places) != set(other.places):
        return False
    return _same(one.look, other.look) and all(_near(one.places[who], other.places[who]) for who in one.places)


def _near(one: tuple[float, float, float], other: tuple[float, float, float]) -> bool:
    larger = max(one[2], other[2]) / max(1e-6, min(one[2], other[2]))
    return abs(one[0] - other[0]) < _APART and abs(one[1] - other[1]) < _APART and larger < _LARGER


def _name(seen: _Seen, sight: Sight) -> str:
    if not seen.places:
        return "without a face"
    if len(seen.places) > 1:
        who = [called(one, sight.names, thing=False, others=sight.several) for one in sorted(seen.places)]
        tallest = max(height for _, _, height in seen.places.values())
        return "the wide" if tallest < _CLOSE_UP else listed(who)
    ((who_is, (_, _, height)),) = seen.places.items()
    size = "close-up" if height >= _CLOSE_UP else "medium shot" if height >= _MEDIUM_SHOT else "wide shot"
    return f"{called(who_is, sight.names, thing=False, others=sight.several)}’s {size}"


def set_up_at(sight: Sight) -> Callable[[int], int | None]:
    """Which set-up the shot at a moment (ms) is of, by its number; None where it is not in sight."""
    of = {shot: place for place, one in enumerate(find_set_ups(sight)) for shot in one.shots}

    def at(ms: int) -> int | None:
        number = next((number for number, shot in enumerate(sight.shots) if shot.span.holds(ms)), None)
        return None if number is None else of.get(number)

    return at
