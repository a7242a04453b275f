"""The sound of a clip: the pieces of its cut heard from the source, mixed, brought to its speed and its length."""

import tempfile
import wave
from collections.abc import Mapping, Sequence
from math import ceil, log2
from pathlib import Path

import numpy as np

from nimble_quote.core.assembly import RECORDING, Assembly
from nimble_quote.core.assembly.placed import PlacedFootage
from nimble_quote.core.cutting.joins import SoundPiece
from nimble_quote.core.cutting.mixing import SAMPLE_RATE, SAMPLES_MS, Samples, mix, reach_ms, with_faded_ends
from nimble_quote.core.cutting.playing import Played, same_pace
from nimble_quote.core.sound.cleaning import CLEANING
from nimble_quote.core.sound.laying import SILENT_LUFS, with_film, with_music
from nimble_quote.core.timebase import Span, ms_at
from nimble_quote.media.ffmpeg import GUARDS, blocks, run
from nimble_quote.media.loudness import loudness_of
from nimble_quote.media.source import Source

_CHANNELS = 2
_BLOCK = SAMPLE_RATE * _CHANNELS * 4
_TWICE = 2.0
_EARLY_MS = 1000
"""Decoding begins this much before what is wanted: a decoder needs a moment to come right after a seek."""


Sounds = Mapping[int, Samples]
"""The house's sounds, by their numbers."""


async def lay_sound(assembly: Assembly, sources: Mapping[str, Source], target: Path, sounds: Sounds) -> None:
    """Writes the sound of an Assembly as a WAV file, exactly as long as its picture, before any change of level; `sources` by the
    ids that it names."""
    recording = sources[RECORDING]
    track = recording.sound_track
    pieces = None if track is None else await _read_pieces(assembly.sound.speech, recording.path, track)
    await write_sound(assembly, pieces, target, sounds, sources)


async def write_sound(
    assembly: Assembly, pieces: Sequence[Samples] | None, target: Path, sounds: Sounds,
    sources: Mapping[str, Source], *, plain: bool = False,
) -> None:  # fmt: skip
    """Writes the sound of an Assembly whose pieces were heard already, each as `reach_ms` says; of the other recordings among its
    `sources` only what is shown of them is heard. `plain` is without anything that is done to the voice."""
    length = _length(assembly)
    bed = np.zeros((length, _CHANNELS), np.float32)
    if pieces is not None:
        bed = await _spoken(assembly, pieces, target, plain=plain)
        bed = with_faded_ends(bed[:length])
        bed = np.pad(bed, ((0, length - len(bed)), (0, 0)))
    footage = [one for one in assembly.footage if one.heard != "not" and one.source in sources]
    if assembly.sound.music or footage:
        voice = await _loudness(bed, target)
        for one in footage:
            bed = await _with_footage(bed, one, assembly, sources[one.source], voice, target)
        bed = with_music(bed, assembly.sound, sounds, voice)
    _write_wav(bed, target)


async def _with_footage(
    bed: Samples, one: PlacedFootage, assembly: Assembly, source: Source, voice: float, scratch: Path
) -> Samples:
    """A sound with that of some footage where it shows, at the loudness of the voice or under it."""
    if source.sound_track is None:
        return bed
    first, end = (round(ms_at(frame, assembly.rate)) for frame in (one.first_frame, one.end_frame))
    from_ms = round(ms_at(one.source_frame, assembly.rate))
    heard = await hear_stretch(source.path, source.sound_track, Span(start_ms=from_ms, end_ms=from_ms + end - first))
    louder = voice - await _loudness(heard, scratch)
    return with_film(bed, heard, first * SAMPLES_MS, louder, alone=one.heard == "instead")


async def _loudness(bed: Samples, scratch: Path) -> float:
    """How loud some samples are, in LUFS; as loud as a voice where they are silent. `scratch` is a file to write them to."""
    _write_wav(bed, scratch)
    found = await loudness_of(scratch)
    return SILENT_LUFS if found is None else found


async def _spoken(assembly: Assembly, pieces: Sequence[Samples], scratch: Path, *, plain: bool) -> Samples:
    """The pieces of a cut as one, at their speed, cleaned where that is wanted; `scratch` is a file to write meanwhile."""
    sound = assembly.sound
    bed = mix(sound.speech, pieces)
    if not plain and sound.cleaned is not None:
        bed = await _filtered(bed, CLEANING[sound.cleaned], scratch)
    return await _at_speed(bed, sound.played, scratch)


async def _at_speed(bed: Samples, stretches: Sequence[Played], scratch: Path) -> Samples:
    """A cut that was mixed as it was said, each part of it at the speed that it is played at, with its pitch kept."""
    parts, at_ms = [], 0
    for paced in same_pace(stretches):
        length = sum(one.length_ms for one in paced)
        part = bed[at_ms * SAMPLES_MS : (at_ms + length) * SAMPLES_MS]
        parts.append(await _faster(part, paced, scratch))
        at_ms += length
    return parts[0] if len(parts) == 1 else np.concatenate([with_faded_ends(part) for part in parts])


async def _faster(part: Samples, paced: Sequence[Played], scratch: Path) -> Samples:
    times, silent = paced[0].times, paced[0].silent
    if times == 1 and not silent:
        return part
    wanted = round(paced[-1].out_end_ms * SAMPLES_MS) - round(paced[0].out_ms * SAMPLES_MS)
    if silent:
        return np.zeros((wanted, _CHANNELS), np.float32)
    # Beyond twice the speed the filter leaves out samples, and is heard to; several of it in a row don't.
    rounds = ceil(log2(times)) if times > _TWICE else 1
    made = await _filtered(part, ",".join([f"atempo={times ** (1 / rounds):.6f}"] * rounds), scratch)
    return np.pad(made[:wanted], ((0, max(0, wanted - len(made))), (0, 0)))


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


async def _read_pieces(pieces: Sequence[SoundPiece], source: Path, track: int) -> list[Samples]:
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


async def _filtered(bed: Samples, filters: str, scratch: Path) -> Samples:
    """Samples after some filters; `scratch` is a file to write them to."""
    _write_wav(bed, scratch)
    command = [
        "ffmpeg", "-v", "error", "-nostdin", *GUARDS, "-i", str(scratch), "-af", filters, "-ar", str(SAMPLE_RATE), "-f", "f32le", "-",
    ]  # fmt: skip
    return _samples((await run(command))[0])


async def decoded(content: bytes) -> Samples:
    """The samples of a sound of the house's, as it is kept. Raises `MediaFailed`."""
    with tempfile.TemporaryDirectory() as folder:
        source = Path(folder) / "sound.opus"
        source.write_bytes(content)
        command = [
            "ffmpeg", "-v", "error", "-nostdin", *GUARDS, "-i", str(source), "-map", "0:a:0", "-ac", str(_CHANNELS),
            "-ar", str(SAMPLE_RATE), "-f", "f32le", "-",
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
    # A voice at its loudest with music over it may be over what a file can hold: all of it is a little less loud then.
    bed = bed / max(1.0, float(np.abs(bed).max(initial=0)))
    with wave.open(str(target), "wb") as out:
        out.setnchannels(_CHANNELS)
        out.setsampwidth(2)
        out.setframerate(SAMPLE_RATE)
        out.writeframes((np.clip(bed, -1, 1) * 32767).astype("<i2").tobytes())
