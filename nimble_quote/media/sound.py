"""The sound of a clip: its segments cut to the sample and laid end to end, with short fades at each join."""

import wave
from collections.abc import Sequence
from fractions import Fraction
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.assembly import Assembly, Segment
from nimble_quote.media.cutting import Reach
from nimble_quote.media.ffmpeg import GUARDS, blocks

SAMPLE_RATE = 48_000
FADE_MS = 6
"""A fade this long at both sides of a join can't be heard as a dip, and leaves no step to click."""

Stereo = NDArray[np.float32]
"""n x 2 samples, -1..1."""


async def lay_sound(assembly: Assembly, source: Path, track: int | None, target: Path) -> None:
    """Writes the sound of an Assembly as a WAV file, exactly as long as its picture, before any change of level.

    `track` is the sound track of the source to take; None leaves silence.
    """
    bed = np.zeros((_samples(assembly.frames, assembly.rate), 2), np.float32)
    if track is not None:
        await _fill(bed, assembly, source, track)
        fade_joins(bed, [_samples(s.out_frame, assembly.rate) for s in assembly.segments])
    _write_wav(bed, target)


async def _fill(bed: Stereo, assembly: Assembly, source: Path, track: int) -> None:
    reach = Reach.of(assembly)
    command = ["ffmpeg", "-v", "error", "-nostdin", *reach.seek, *GUARDS, "-i", str(source), "-map", f"0:a:{track}",
               "-af", "aresample=async=1:first_pts=0", "-ac", "2", "-ar", str(SAMPLE_RATE), "-f", "f32le", "-"]  # fmt: skip
    at = 0
    async for block in blocks(command, SAMPLE_RATE * 8):
        piece = np.frombuffer(block[: len(block) // 8 * 8], "<f4").reshape(-1, 2)
        _copy_in(bed, piece, at, assembly, reach)
        at += len(piece)


def fade_joins(bed: Stereo, starts: Sequence[int]) -> None:
    """Fades each segment in and out, in place; `starts` are the samples at which segments begin."""
    ends = [*starts[1:], len(bed)]
    for start, end in zip(starts, ends, strict=True):
        length = min(SAMPLE_RATE * FADE_MS // 1000, (end - start) // 2)
        ramp = np.sin(np.linspace(0, np.pi / 2, length, endpoint=False, dtype=np.float32))[:, None]
        bed[start : start + length] *= ramp
        bed[end - length : end] *= ramp[::-1]


def _copy_in(bed: Stereo, piece: Stereo, at: int, assembly: Assembly, reach: Reach) -> None:
    """Copies what the segments need of a piece of decoded source that begins at sample `at` of it."""
    for segment in assembly.segments:
        first = _source_sample(segment, assembly.rate, reach)
        out = _samples(segment.out_frame, assembly.rate)
        length = _samples(segment.out_frame + segment.frames, assembly.rate) - out
        low, high = max(first, at), min(first + length, at + len(piece))
        if low < high:
            bed[out + low - first : out + high - first] = piece[low - at : high - at]


def _source_sample(segment: Segment, rate: Fraction, reach: Reach) -> int:
    return round((segment.source_frame - reach.first_frame) / rate * SAMPLE_RATE + reach.early_s * SAMPLE_RATE)


def _samples(frames: int, rate: Fraction) -> int:
    return round(frames / rate * SAMPLE_RATE)


def _write_wav(bed: Stereo, target: Path) -> None:
    with wave.open(str(target), "wb") as out:
        out.setnchannels(2)
        out.setsampwidth(2)
        out.setframerate(SAMPLE_RATE)
        out.writeframes((np.clip(bed, -1, 1) * 32767).astype("<i2").tobytes())
