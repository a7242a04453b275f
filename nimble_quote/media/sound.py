"""The sound of a clip: the pieces of its cut heard from the source, mixed, brought to its speed and its length."""

import wave
from collections.abc import Sequence
from pathlib import Path

import numpy as np

from nimble_quote.core.assembly import Assembly
from nimble_quote.core.cutting.joins import SoundPiece
from nimble_quote.core.cutting.mixing import SAMPLE_RATE, SAMPLES_MS, Samples, mix, reach_ms, with_faded_ends
from nimble_quote.core.timebase import Span
from nimble_quote.media.ffmpeg import GUARDS, blocks, run

_CHANNELS = 2
_BLOCK = SAMPLE_RATE * _CHANNELS * 4
_EARLY_MS = 1000
"""Decoding begins this much before what is wanted: a decoder needs a moment to come right after a seek."""


async def lay_sound(assembly: Assembly, source: Path, track: int | None, target: Path) -> None:
    """Writes the sound of an Assembly as a WAV file, exactly as long as its picture, before any change of level.

    `track` is the sound track of the source to take; None leaves silence.
    """
    if track is None:
        _write_wav(np.zeros((_length(assembly), _CHANNELS), np.float32), target)
        return
    sources = await _read_sources(assembly.sound.speech, source, track)
    await write_sound(assembly, sources, target)


async def write_sound(assembly: Assembly, sources: Sequence[Samples], target: Path) -> None:
    """Writes the sound of an Assembly whose pieces were heard already; each as `reach_ms` says."""
    bed = mix(assembly.sound.speech, sources)
    if assembly.sound.speed != 1:
        _write_wav(bed, target)
        bed = await _at_speed(target, assembly.sound.speed)
    length = _length(assembly)
    _write_wav(with_faded_ends(np.pad(bed[:length], ((0, max(0, length - len(bed))), (0, 0)))), target)


async def hear_stretch(source: Path, track: int, span: Span) -> Samples:
    """The samples of a stretch of source; shorter where the source ends before."""
    early_ms = min(span.start_ms, _EARLY_MS)
    command = _decoding(source, track, span.start_ms - early_ms, span.end_ms)
    samples = _samples((await run(command))[0])
    return samples[early_ms * SAMPLES_MS : (early_ms + span.length_ms) * SAMPLES_MS]


async def closely(source: Path, track: int, span: Span, step_ms: int) -> list[int]:
    """The loudest sample of each step of a stretch, 0..255 on a square-root scale."""
    samples = np.abs(await hear_stretch(source, track, span)).max(axis=1, initial=0)
    rows = samples[: len(samples) // (step_ms * SAMPLES_MS) * step_ms * SAMPLES_MS].reshape(-1, step_ms * SAMPLES_MS)
    return [int(level) for level in np.minimum(255, np.sqrt(rows.max(axis=1, initial=0)) * 255)]


def slices(pieces: Sequence[SoundPiece], samples: Samples, from_ms: int) -> list[Samples]:
    """What mixing needs of each piece out of samples that begin at a moment of the source; silence beyond them."""
    out = []
    for piece in pieces:
        start, end = ((at - from_ms) * SAMPLES_MS for at in reach_ms(piece))
        part = samples[max(0, start) : max(0, end)]
        before = min(max(0, -start), end - start)
        out.append(np.pad(part, ((before, end - start - before - len(part)), (0, 0))))
    return out


async def _read_sources(pieces: Sequence[SoundPiece], source: Path, track: int) -> list[Samples]:
    """The samples of each piece, from one pass over the source that holds no more than a block and the pieces."""
    reaches = [reach_ms(piece) for piece in pieces]
    from_ms = max(0, min(start for start, _ in reaches) - _EARLY_MS)
    until_ms = max(end for _, end in reaches)
    sources: list[Samples] = [np.zeros(((end - start) * SAMPLES_MS, _CHANNELS), np.float32) for start, end in reaches]
    at = from_ms * SAMPLES_MS
    async with blocks(_decoding(source, track, from_ms, until_ms), _BLOCK) as parts:
        async for block in parts:
            samples = _samples(block)
            for (start_ms, _), into in zip(reaches, sources, strict=True):
                start = start_ms * SAMPLES_MS
                low, high = max(start, at), min(start + len(into), at + len(samples))
                if low < high:
                    into[low - start : high - start] = samples[low - at : high - at]
            at += len(samples)
    return sources


async def _at_speed(wav: Path, speed: float) -> Samples:
    command = [
        "ffmpeg", "-v", "error", "-nostdin", *GUARDS, "-i", str(wav), "-af", f"atempo={speed:.4f}", "-f", "f32le", "-",
    ]  # fmt: skip
    return _samples((await run(command))[0])


def _decoding(source: Path, track: int, from_ms: int, until_ms: int) -> list[str]:
    return [
        "ffmpeg", "-v", "error", "-nostdin", "-ss", f"{from_ms / 1000:.3f}", "-t", f"{(until_ms - from_ms) / 1000:.3f}",
        *GUARDS, "-i", str(source), "-map", f"0:a:{track}", "-af", "aresample=async=1:first_pts=0",
        "-ac", str(_CHANNELS), "-ar", str(SAMPLE_RATE), "-f", "f32le", "-",
    ]  # fmt: skip


def _samples(raw: bytes) -> Samples:
    return np.frombuffer(raw[: len(raw) // 8 * 8], "<f4").reshape(-1, _CHANNELS)


def _length(assembly: Assembly) -> int:
    return round(assembly.frames / assembly.rate * SAMPLE_RATE)


def _write_wav(bed: Samples, target: Path) -> None:
    with wave.open(str(target), "wb") as out:
        out.setnchannels(_CHANNELS)
        out.setsampwidth(2)
        out.setframerate(SAMPLE_RATE)
        out.writeframes((np.clip(bed, -1, 1) * 32767).astype("<i2").tobytes())
