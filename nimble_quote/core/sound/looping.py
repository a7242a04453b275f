"""Where a piece of music can go back and go on without anybody hearing it: two moments around which it sounds the same.

        |--------a=========================b------|      after b it goes on after a
                 \\_________ lag __________/

Of all lags the longest is taken of those that are nearly as good as the best: what repeats often is noticed least where a
repetition is long. Moments are compared by how much sound there is in bands of pitch, and then to the sample.
"""

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.cutting.mixing import SAMPLE_RATE, Samples
from nimble_quote.core.model import Frozen

HOP = SAMPLE_RATE // 100
"""Moments are 10 ms apart."""
CROSSFADE = SAMPLE_RATE * 80 // 1000
_WINDOW_S, _SHORTEST_S = 3.0, 4.0
_BANDS = 24
_AS_GOOD = 1.06
_UNLIKE = 0.35
"""Where even the best two moments differ by more than this part of what any two do, a piece has no place to be looped."""
_LOUD_ENOUGH = 0.4
"""A piece that fades, or begins out of silence, is no more than this part as loud at its ends as on the whole."""
_GOES_ON = 2.5
"""The step from the last sample to the first is one like others, where it is no more than so many of them."""
_ALIKE = 0.5
"""What is less alike than this only has the same pitches: going from its end to its start is better, where that can be."""
_MOST_MOMENTS, _TOGETHER = 3000, 5
_SEARCH = SAMPLE_RATE * 3 // 100
_MOST_S = 150
"""What comes later in a piece is not looked at."""
Values = NDArray[np.float64]


class Loop(Frozen):
    """From which sample a piece goes back to which: what is between is heard over and over. `alike` is how much the sound around
    one is that around the other (their correlation, 0 to 1)."""

    start: int
    end: int
    alike: float = 0.0


def find_loop(piece: Samples) -> Loop | None:
    """Where a piece (n x channels, at `SAMPLE_RATE`) can be looped: where it sounds as before, or else from its end to its start,
    if it is as loud there as all along; None where neither is so."""
    repeats = _where_it_repeats(piece)
    if repeats is not None and repeats.alike >= _ALIKE:
        return repeats
    return _end_to_start(piece) or repeats


def _end_to_start(piece: Samples) -> Loop | None:
    at = SAMPLE_RATE // 5
    if len(piece) < _SHORTEST_S * SAMPLE_RATE:
        return None
    levels = [float(np.sqrt(np.square(part, dtype=np.float64).mean())) for part in (piece, piece[:at], piece[-at:])]
    whole, first, last = (max(level, 1e-9) for level in levels)
    if min(first, last) <= _LOUD_ENOUGH * whole:
        return None
    steps = float(np.sqrt(np.square(np.diff(piece, axis=0)).mean()))
    if float(np.abs(piece[0] - piece[-1]).max()) <= _GOES_ON * steps:
        # Made to be looped: its end goes on at its start, and needs no fade.
        return Loop(start=0, end=len(piece), alike=1.0)
    return Loop(start=CROSSFADE // 2, end=len(piece) - CROSSFADE // 2)


def _where_it_repeats(piece: Samples) -> Loop | None:
    mono = piece.mean(axis=1, dtype=np.float64)[: _MOST_S * SAMPLE_RATE]
    bands = _bands(mono)
    if not len(bands):
        return None
    # The work goes with the square of the moments: of a long piece some are looked at together.
    each = min(_TOGETHER, -(-len(bands) // _MOST_MOMENTS))
    bands = bands[: len(bands) // each * each].reshape(-1, each, _BANDS).mean(axis=1)
    hop = HOP * each
    window = round(_WINDOW_S * SAMPLE_RATE / hop)
    shortest = round(_SHORTEST_S * SAMPLE_RATE / hop)
    if len(bands) <= shortest + window:
        return None
    usual = _usual(bands)
    best: list[tuple[int, float, int]] = []
    for lag in range(shortest, len(bands) - window):
        apart = np.square(bands[lag:] - bands[:-lag]).mean(axis=1)
        over = np.concatenate([[0.0], np.cumsum(apart)])
        means = (over[window:] - over[:-window]) / window
        at = int(np.argmin(means))
        best.append((lag, float(means[at]), at))
    least = min(value for _, value, _ in best)
    if least > _UNLIKE * usual:
        return None
    lag, _, at = max(one for one in best if one[1] <= least * _AS_GOOD + 1e-9 * usual)
    return _to_the_sample(mono, (at + window // 2) * hop, lag * hop)


def _bands(mono: Values) -> Values:
    """How much sound there is in each band of pitch at each moment, on a scale of loudness."""
    size = 2048
    count = max(0, (len(mono) - size) // HOP + 1)
    window = np.hanning(size)
    edges = np.geomspace(60, 12_000, _BANDS + 1) * size / SAMPLE_RATE
    rows = []
    for first in range(0, count, 2000):
        starts = np.arange(first, min(count, first + 2000)) * HOP
        power = np.abs(np.fft.rfft(mono[starts[:, None] + np.arange(size)] * window, axis=1)) ** 2
        total = np.concatenate([np.zeros((len(starts), 1)), np.cumsum(power, axis=1)], axis=1)
        low, high = np.floor(edges[:-1]).astype(int), np.ceil(edges[1:]).astype(int)
        rows.append(np.log10(total[:, np.maximum(high, low + 1)] - total[:, low] + 1e-6))
    return np.concatenate(rows) if rows else np.zeros((0, _BANDS))


def _usual(bands: Values) -> float:
    """How unlike any two moments of a piece are."""
    spread = bands[:: max(1, len(bands) // 200)]
    return float(np.square(spread[:, None] - spread[None]).mean()) or 1e-9


def _to_the_sample(mono: Values, at: int, lag: int) -> Loop:
    """The loop whose two ends are most alike, sample by sample, near where the bands said."""
    # Loaded here: it takes as long to load as a quarter of the server.
    from scipy.signal import correlate

    long = SAMPLE_RATE
    before = mono[max(0, at - long // 2) : at + long // 2]
    start = max(0, at - long // 2) + lag
    after = mono[max(0, start - _SEARCH) : start + len(before) + _SEARCH]
    if len(after) < len(before):
        return Loop(start=at, end=at + lag)
    # By how strong both are: what is merely louder is no more alike.
    over = np.concatenate([[0.0], np.cumsum(np.square(after))])
    strength = np.sqrt(np.square(before).sum() * (over[len(before) :] - over[: -len(before)]))
    likeness = correlate(after, before, mode="valid", method="fft") / np.maximum(strength, 1e-9)
    best = int(np.argmax(likeness))
    end = at + lag + best - (start - max(0, start - _SEARCH))
    return Loop(start=at, end=end, alike=min(1.0, max(0.0, float(likeness[best]))))


def looped(piece: Samples, loop: Loop | None, first: int, length: int) -> Samples:
    """So many samples of a piece from one of them on, looped where it can be; without a loop silent where it has ended. Each
    turn goes over from the end to the start with equal power, which for what is alike is less than for what is not."""
    if loop is None or length <= loop.end - first:
        part = piece[first : first + length]
        return np.pad(part, ((0, length - len(part)), (0, 0)))
    half = CROSSFADE // 2
    turn_of = (np.arange(CROSSFADE, dtype=np.float32) + np.float32(0.5)) * np.float32(np.pi / 2 / CROSSFADE)
    rising = (np.sin(turn_of) / np.sqrt(1 + loop.alike * np.sin(2 * turn_of)))[:, None].astype(np.float32)
    out = np.zeros((length, piece.shape[1]), np.float32)
    at, begins, fades = 0, min(first, loop.end - CROSSFADE), False
    while at < length:
        # Beyond its end a piece goes on at its start, so that the whole of it can be a loop.
        turn = piece.take(np.arange(begins, loop.end + half), axis=0, mode="wrap")
        if fades:
            turn[:CROSSFADE] *= rising
        turn[-CROSSFADE:] *= rising[::-1]
        end = min(length, at + len(turn))
        out[at:end] += turn[: end - at]
        at += len(turn) - CROSSFADE
        begins, fades = loop.start - half, True
    return out
