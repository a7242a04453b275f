"""The pieces of a cut made one sound: each join crossfaded with equal power, at the moment where both sides are nearest
to nothing.

Samples are rows of channels (n x channels, -1..1), `SAMPLES_MS` of them a millisecond, so that every piece begins on one.
"""

from collections.abc import Sequence
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.cutting.joins import ENDS_FADE_MS, SoundPiece

SAMPLES_MS = 48
SAMPLE_RATE = SAMPLES_MS * 1000
_SEARCH_MS = 1
_TONE_MS = 120
_SILENT = 1e-7

Samples = NDArray[np.float32]


def reach_ms(piece: SoundPiece) -> tuple[int, int]:
    """The stretch of source, `[start, end)`, that mixing needs to hear of a piece: its fades, and room to place them.

    It may begin before the source does; what is not there is silence.
    """
    return piece.source_ms - piece.fade_in_ms // 2 - _SEARCH_MS, piece.end_ms + piece.fade_out_ms // 2 + _SEARCH_MS


def mix(pieces: Sequence[SoundPiece], sources: Sequence[Samples]) -> Samples:
    """The sound of a cut, exactly as long as its pieces; `heard` are the samples of what `reach_ms` says for each."""
    voiced = _with_tone(pieces, sources)
    shifts = [0, *(_shift(a, b, x, y) for (a, x), (b, y) in pairwise(zip(pieces, voiced, strict=True))), 0]
    last = pieces[-1]
    bed = np.zeros(((last.out_ms + last.length_ms) * SAMPLES_MS, sources[0].shape[1]), np.float32)
    for number, (piece, samples) in enumerate(zip(pieces, voiced, strict=True)):
        half_in = piece.fade_in_ms * SAMPLES_MS // 2 if number else 0
        half_out = piece.fade_out_ms * SAMPLES_MS // 2 if number < len(pieces) - 1 else 0
        start = piece.out_ms * SAMPLES_MS + shifts[number] - half_in
        end = (piece.out_ms + piece.length_ms) * SAMPLES_MS + shifts[number + 1] + half_out
        zero = (piece.out_ms - piece.source_ms + reach_ms(piece)[0]) * SAMPLES_MS
        part = samples[start - zero : end - zero].copy()
        part[: 2 * half_in] *= _rising(2 * half_in)
        part[len(part) - 2 * half_out :] *= _rising(2 * half_out)[::-1]
        bed[start:end] += part
    return bed


def with_faded_ends(bed: Samples) -> Samples:
    """The same sound, out of silence and into it."""
    out, length = bed.copy(), min(ENDS_FADE_MS * SAMPLES_MS, len(bed) // 2)
    out[:length] *= _rising(length)
    out[len(out) - length :] *= _rising(length)[::-1]
    return out


def _rising(length: int) -> Samples:
    steps = (np.arange(length, dtype=np.float32) + np.float32(0.5)) * np.float32(np.pi / 2 / max(1, length))
    rising: Samples = np.sin(steps)[:, None]
    return rising


def _shift(before: SoundPiece, after: SoundPiece, x: Samples, y: Samples) -> int:
    """How many samples later (or earlier) than planned both sides of a join are nearest to zero together."""
    search = _SEARCH_MS * SAMPLES_MS
    at_x = (before.end_ms - reach_ms(before)[0]) * SAMPLES_MS
    at_y = (after.source_ms - reach_ms(after)[0]) * SAMPLES_MS
    height = np.abs(x[at_x - search : at_x + search + 1]).max(axis=1, initial=0)
    height = height + np.abs(y[at_y - search : at_y + search + 1]).max(axis=1, initial=0)
    # The nearest of equals: in silence a join stays where it was planned.
    return int(np.lexsort((np.abs(np.arange(-search, search + 1)), height))[0]) - search


def _with_tone(pieces: Sequence[SoundPiece], sources: Sequence[Samples]) -> list[Samples]:
    """The samples of each piece, room tone in place of those that are hushed."""
    if not any(piece.hushed for piece in pieces):
        return list(sources)
    tone = _room_tone([samples for piece, samples in zip(pieces, sources, strict=True) if not piece.hushed] or sources)
    there_and_back = np.concatenate([tone, tone[::-1]])
    return [
        np.resize(there_and_back, samples.shape) if piece.hushed else samples
        for piece, samples in zip(pieces, sources, strict=True)
    ]


def _room_tone(sources: Sequence[Samples]) -> Samples:
    """The quietest short stretch that is not digital silence."""
    length = _TONE_MS * SAMPLES_MS
    windows = [one[at : at + length] for one in sources for at in range(0, len(one) - length + 1, length // 2)]
    if not windows:
        return sources[0][:1] * 0
    power = [float(np.square(one).mean()) for one in windows]
    audible = [index for index, value in enumerate(power) if value > _SILENT**2]
    return windows[min(audible, key=power.__getitem__)] if audible else windows[0] * 0
