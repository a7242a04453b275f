"""How loud music is at each moment of a clip: lowered ahead of each phrase that is spoken, so that its first word is heard, and back
up after it, with shorter pauses bridged.

        level  ----.                       .-------.
                    \\                     /         \\
        lowered      '-------------------'           '----
        speech           |=====| |=====|               |==
                    ahead      bridged  held, back up
"""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.cutting.mixing import SAMPLES_MS
from nimble_quote.core.timebase import Span

AHEAD_MS, HOLD_MS, BRIDGED_MS = 200, 250, 1200
BACK_UP = 2.3
"""Music comes back so many times slower than it goes down."""
_STEP_MS = 5


def phrases(voiced: Sequence[Span], bridged_ms: int = BRIDGED_MS) -> list[Span]:
    """What is spoken, in order, with shorter pauses between as one."""
    out: list[Span] = []
    for span in sorted(voiced, key=lambda one: one.start_ms):
        if out and span.start_ms - out[-1].end_ms < bridged_ms:
            out[-1] = Span(start_ms=out[-1].start_ms, end_ms=max(out[-1].end_ms, span.end_ms))
        elif span.end_ms > span.start_ms:
            out.append(span)
    return out


def lowered(voiced: Sequence[Span], length_ms: int, depth_db: float, fall_ms: int) -> NDArray[np.float64]:
    """By how many dB music is lowered (0, or less) each 5 ms of a clip, while some stretches of it are spoken."""
    times = np.arange(0, length_ms + _STEP_MS, _STEP_MS, dtype=np.float64)
    if not depth_db:
        return np.zeros(len(times))
    back_ms = round(fall_ms * BACK_UP)
    points: list[tuple[float, float]] = [(-1.0, 0.0)]
    for one in phrases(voiced):
        down = one.start_ms - AHEAD_MS
        points += [
            (down - fall_ms, 0.0),
            (down, 1.0),
            (one.end_ms + HOLD_MS, 1.0),
            (one.end_ms + HOLD_MS + back_ms, 0.0),
        ]
    depth = np.zeros(len(times))
    for number in range(1, len(points), 4):
        x, y = zip(*points[number : number + 4], strict=True)
        # Of a way up that the next way down begins in, the deeper counts.
        depth = np.maximum(depth, np.interp(times, x, y, left=0.0, right=0.0))
    lower: NDArray[np.float64] = -depth_db * depth
    return lower


def gains(
    voiced: Sequence[Span], length_ms: int, depth_db: float, fall_ms: int, fade_in_ms: int, fade_out_ms: int
) -> NDArray[np.float32]:
    """What each sample of music is multiplied by: lowered under speech, and faded at its ends."""
    lower = lowered(voiced, length_ms, depth_db, fall_ms)
    samples = length_ms * SAMPLES_MS
    at = np.arange(samples) / (SAMPLES_MS * _STEP_MS)
    gain = 10 ** (np.interp(at, np.arange(len(lower)), lower) / 20)
    for fade_ms, way in ((fade_in_ms, slice(None)), (fade_out_ms, slice(None, None, -1))):
        long = min(fade_ms * SAMPLES_MS, samples)
        if long:
            gain[way][:long] *= np.sin((np.arange(long) + 0.5) * np.pi / 2 / long)
    return gain.astype(np.float32)
