"""Who speaks, by the mouths: one that opens and shuts with the sound is that of who speaks.

Whether a mouth talks is how much it moves (the standard deviation of its opening over 1.2 s) times how well that goes with the
loudness (the best correlation at lags up to 0.16 s): listeners chew, smile and hum, but not in time with somebody else.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.lib.stride_tricks import sliding_window_view
from numpy.typing import NDArray

from nimble_quote.core.framing.subjects import Track
from nimble_quote.core.timebase import Span

Floats = NDArray[np.float64]
STEP_MS = 80
"""From one look at a mouth to the next: syllables come four to six a second."""
UNSEEN = -1.0
"""Stands where nobody looked at a mouth."""
_HALF = 7
"""Looks to either side of a moment by which it is judged."""
_LAGS = range(-2, 3)
_FULLY = 0.03
"""A mouth that moves so much (of the face's height, in time with the sound) surely talks."""
_SURE = 0.2
"""A mouth that talks more than all others by so much, against theirs and its own, is that of who speaks."""
_OVER_LABEL = 0.5
"""By so much it is surer than a transcript that says another: every seventh label may be wrong."""
_BIN_MS = 500


def talking(opening: Floats, loudness: Floats) -> Floats:
    """How much a mouth talks at each look, 0 to 1: from how open it is, and how loud it is then, each `STEP_MS`."""
    wide = 2 * _HALF + 1
    mouth = _windows(opening, wide)
    spread = mouth.std(axis=1)
    best = np.zeros(len(opening))
    for lag in _LAGS:
        sound = _windows(np.roll(loudness, lag), wide)
        together = ((mouth - mouth.mean(axis=1, keepdims=True)) * (sound - sound.mean(axis=1, keepdims=True))).mean(
            axis=1
        )
        best = np.maximum(best, together / np.maximum(spread * sound.std(axis=1), 1e-9))
    talks: Floats = np.clip(spread * best / _FULLY, 0.0, 1.0)
    return talks


def _windows(values: Floats, wide: int) -> Floats:
    """The values around each, as many as it is wide; beyond the ends they go on as they end."""
    return sliding_window_view(np.pad(values, wide // 2, mode="edge"), wide)


def stretches_to_watch(tracks: Sequence[Track], speech: Sequence[Span]) -> list[Span]:
    """Where mouths tell something: several faces are seen, and somebody speaks. In order of time."""
    end = max((track.end_ms for track in tracks), default=0)
    faces, spoken = np.zeros(end // _BIN_MS + 2, np.int64), np.zeros(end // _BIN_MS + 2, bool)
    for track in tracks:
        faces[track.start_ms // _BIN_MS : track.end_ms // _BIN_MS + 1] += 1
    for span in speech:
        spoken[max(0, span.start_ms // _BIN_MS - 1) : span.end_ms // _BIN_MS + 2] = True
    wanted = np.concatenate([[False], (faces > 1) & spoken, [False]]).astype(np.int8)
    begins, ends = np.nonzero(np.diff(wanted) == 1)[0], np.nonzero(np.diff(wanted) == -1)[0]
    return [Span(start_ms=int(a) * _BIN_MS, end_ms=int(b) * _BIN_MS) for a, b in zip(begins, ends, strict=True)]


@dataclass(frozen=True, kw_only=True)
class Spoke:
    """Who of those in the picture spoke; None where it is nobody of them, or not known. `sure` is whether that is known."""

    who: int | None
    sure: bool


def who_spoke(mouths: Mapping[int, float], named: int | None) -> Spoke:
    """Who spoke a sentence while some people were in the picture.

    `mouths` has how much the mouth of each talked on average, less than none where nobody looked; `named` is who of them is
    known to be whom the transcript names.
    """
    ranked = sorted((talks, who) for who, talks in mouths.items() if talks >= 0)
    if len(ranked) > 1:
        (second, _), (first, who) = ranked[-2:]
        lead = (first - second) / max(first + second, 0.05)
        if lead > (_OVER_LABEL if named is not None and named != who else _SURE) and first > 0.05:
            return Spoke(who=who, sure=True)
    if named is not None:
        return Spoke(who=named, sure=True)
    return Spoke(who=None, sure=False)
