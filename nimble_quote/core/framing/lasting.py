"""Subjects keep their numbers when a recording is looked at again: what a person chose names them by these.

Each new subject is the old one that it shares the most looks with, at the same place at the same time; who was not there
before gets a number that nobody ever had.
"""

from collections import Counter, defaultdict
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from nimble_quote.core.framing.following import Track as Followed
from nimble_quote.core.framing.subjects import Track

NEAR_MS = 220
_SAME = 0.6
"""Middles that are less than so many heights of the face apart are of one face."""


def renumbered(found: Sequence[Track], before: Sequence[Followed]) -> list[Track]:
    """Tracks found anew, their subjects numbered as they were before."""
    shared = _shared(found, before)
    if not shared:
        return list(found)
    new, old = sorted({one.subject for one in found}), sorted({one.subject for one in before})
    weights = np.array([[shared[one, other] for other in old] for one in new], np.float64)
    # Loaded here: it takes as long to load as half of the server.
    from scipy.optimize import linear_sum_assignment

    rows, columns = linear_sum_assignment(weights, maximize=True)
    number = {new[row]: old[column] for row, column in zip(rows, columns, strict=True) if weights[row, column]}
    free = max([*old, *number.values()], default=-1) + 1
    for one in new:
        if one not in number:
            number[one] = free
            free += 1
    return [replace(one, subject=number[one.subject]) for one in found]


def _shared(found: Sequence[Track], before: Sequence[Followed]) -> Counter[tuple[int, int]]:
    """How many looks each new subject shares with each old one."""
    shared: Counter[tuple[int, int]] = Counter()
    by_second: dict[int, list[Followed]] = defaultdict(list)
    for track in before:
        for second in range(track.start_ms // 1000, track.end_ms // 1000 + 1):
            by_second[second].append(track)
    for one in found:
        for face in one.faces:
            at, (x, y) = face.sample.at_ms, face.sample.middle
            for track in by_second.get(at // 1000, ()):
                if _is_at(track, at, x, y):
                    shared[one.subject, track.subject] += 1
    return shared


def _is_at(track: Followed, at_ms: int, x: float, y: float) -> bool:
    place = min(int(np.searchsorted(track.at_ms, at_ms)), len(track.at_ms) - 1)
    near = min((place, max(0, place - 1)), key=lambda one: abs(track.at_ms[one] - at_ms))
    if abs(track.at_ms[near] - at_ms) > NEAR_MS:
        return False
    across = abs(track.x[near] + track.width[near] / 2 - x)
    down = abs(track.y[near] + track.height[near] / 2 - y)
    return bool(max(across, down) < _SAME * track.height[near])
