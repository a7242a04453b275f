"""A soft light on the face that is followed: how strong, how large, and where the face goes."""

from collections.abc import Sequence

import numpy as np

from nimble_quote.core.framing.following import Floats, Track, boxes_at
from nimble_quote.core.model import Frozen
from nimble_quote.core.timebase import Span

STRONGEST = 0.16
"""The part of white that there is over the middle of a face at the most: more looks like mist."""
_WIDE, _HIGH = 2.8, 3.0
"""How large the light is, in widths and heights of the face: it ends on the shoulders, where nobody sees it end."""
_EVERY_MS = 400
_STRAIGHT = 0.08
"""A face may be off the straight line by this part of its width: the light has no edge that would show it."""


class LitAt(Frozen):
    """The middle of a face at a moment of the source, in fractions of the picture."""

    at_ms: int
    x: float
    y: float


class Light(Frozen):
    """The light in one panel: its strength (the part of white in its middle), its size in fractions of the source, and its
    path, straight from one place to the next."""

    panel: int
    strength: float
    width: float
    height: float
    path: tuple[LitAt, ...]


def light_on(panel: int, lift: float, track: Track, pieces: Sequence[Span]) -> Light:
    """The light on a face through the pieces of a shot that are kept."""
    times = np.unique(
        np.concatenate([np.append(np.arange(one.start_ms, one.end_ms, _EVERY_MS), one.end_ms) for one in pieces])
    ).astype(np.float64)
    face = boxes_at(track, times)
    wide, high = float(np.median(face.width)), float(np.median(face.height))
    across, down = face.x + face.width / 2, face.y + face.height / 2
    kept = _turns(times, across / wide, down / wide)
    return Light(
        panel=panel,
        strength=round(STRONGEST * lift, 4),
        width=round(wide * _WIDE, 5),
        height=round(high * _HIGH, 5),
        path=tuple(LitAt(at_ms=int(times[i]), x=round(float(across[i]), 5), y=round(float(down[i]), 5)) for i in kept),
    )


def _turns(times: Floats, x: Floats, y: Floats) -> list[int]:
    """The places between which a path is straight, near enough: each stretch is halved where it is furthest from that
    (Douglas and Peucker)."""
    kept, open_ = {0, len(times) - 1}, [(0, len(times) - 1)]
    while open_:
        a, b = open_.pop()
        if b - a < 2:
            continue
        part = (times[a : b + 1] - times[a]) / (times[b] - times[a])
        off = np.hypot(x[a : b + 1] - x[a] - (x[b] - x[a]) * part, y[a : b + 1] - y[a] - (y[b] - y[a]) * part)
        furthest = a + int(np.argmax(off))
        if off[furthest - a] > _STRAIGHT:
            kept.add(furthest)
            open_ += [(a, furthest), (furthest, b)]
    return sorted(kept)
