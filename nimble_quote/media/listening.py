"""Listening to a recording: one pass over its sound gives the peaks of the waveform, where somebody speaks, how loud it
is, and the sound of the proxy."""

import asyncio
import json
import re
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.timebase import Span, merged
from nimble_quote.media.ffmpeg import GUARDS, Progress, blocks, run

SOUND_RATE = 16_000
"""Samples a second that recognisers, aligners and detectors of speech work at."""
ZOOMS_MS = (10, 100, 1000)
"""A byte of a peaks file stands for this much sound."""
_BLOCK_S = 30
_LEAST_PAUSE_MS = 150
_INTEGRATED = re.compile(rb"lavfi\.r128\.I=(-?[\d.]+|-?inf|nan)")

Samples = NDArray[np.float32]
"""Mono samples at `SOUND_RATE`, -1..1."""


@dataclass(frozen=True, kw_only=True)
class SoundAnalysis:
    """What listening found. `loudness_lufs` is the integrated loudness (EBU R 128), None for silence."""

    speech: tuple[Span, ...]
    loudness_lufs: float | None


def peaks_name(zoom_ms: int) -> str:
    """The file of the peaks at one zoom: a byte a step, the loudest sample of it, 0..255 on a square-root scale."""
    return f"peaks-{zoom_ms}.u8"


async def listen(source: Path, track: int, length_ms: int, folder: Path, progress: Progress) -> SoundAnalysis:
    """Writes the peaks and `sound.m4a` to a folder. Raises `MediaFailed` where the sound can't be decoded."""
    peaks = bytearray()
    speech: list[Span] = []
    step = SOUND_RATE * ZOOMS_MS[0] // 1000
    async with blocks(_command(source, track, folder), SOUND_RATE * _BLOCK_S * 2) as parts:
        async for block in parts:
            samples = np.frombuffer(block[: len(block) // 2 * 2], "<i2").astype(np.float32) / np.float32(32768)
            at_ms = len(peaks) * ZOOMS_MS[0]
            rows = np.pad(samples, (0, -len(samples) % step)).reshape(-1, step)
            peaks += (np.sqrt(np.abs(rows).max(axis=1)) * 255).astype(np.uint8).tobytes()
            speech += await asyncio.to_thread(speech_in, samples, at_ms)
            await progress(min(1.0, at_ms / max(1, length_ms)))
    finest = np.frombuffer(bytes(peaks), np.uint8)
    for zoom in ZOOMS_MS:
        each = zoom // ZOOMS_MS[0]
        coarse = np.pad(finest, (0, -len(finest) % each)).reshape(-1, each).max(axis=1, initial=0)
        (folder / peaks_name(zoom)).write_bytes(coarse.astype(np.uint8).tobytes())
    return SoundAnalysis(speech=_closed(speech), loudness_lufs=_loudness(folder / "loudness.txt"))


def _command(source: Path, track: int, folder: Path) -> list[str]:
    graph = (
        f"[0:a:{track}]aresample=48000:async=1:first_pts=0,aformat=channel_layouts=mono|stereo,asplit=3[keep][hear][weigh];"
        f"[hear]aresample={SOUND_RATE},aformat=sample_fmts=s16:channel_layouts=mono[heard];"
        # Weighed in stereo, as clips are made; one channel is coded as one, which takes half as long.
        "[weigh]aresample=48000,aformat=channel_layouts=stereo,asetnsamples=n=240000,ebur128=metadata=1,ametadata=mode=print:key=lavfi.r128.I:file=loudness.txt,anullsink"
    )
    return [
        "ffmpeg", "-v", "error", "-nostdin", "-y", *GUARDS, "-i", str(source), "-filter_complex",
        graph.replace("file=loudness.txt", f"file={_plain(folder / 'loudness.txt')}"),
        "-map", "[keep]", "-c:a", "aac", "-aac_coder", "fast", "-b:a", "96k", "-movflags", "+faststart", "-f", "mp4", str(folder / "sound.m4a"),
        "-map", "[heard]", "-f", "s16le", "pipe:1",
    ]  # fmt: skip


def _plain(path: Path) -> str:
    """A path as a filter option takes it: escaped for the option, and again for the graph."""
    return re.sub(r"([\\':;,\[\]=])", r"\\\\\\\1", str(path))


def speech_in(samples: Samples, at_ms: int) -> list[Span]:
    """Where somebody speaks in some samples that begin at a moment of the recording."""
    # Loaded here: it brings a speech recogniser's libraries with it, which only a worker needs.
    from faster_whisper.vad import VadOptions, get_speech_timestamps

    options = VadOptions(
        threshold=0.35, min_speech_duration_ms=80, min_silence_duration_ms=_LEAST_PAUSE_MS, speech_pad_ms=0
    )
    return [
        Span(start_ms=at_ms + one["start"] * 1000 // SOUND_RATE, end_ms=at_ms + one["end"] * 1000 // SOUND_RATE)
        for one in get_speech_timestamps(samples, options)
        if one["end"] * 1000 // SOUND_RATE > one["start"] * 1000 // SOUND_RATE
    ]


def _closed(speech: list[Span]) -> tuple[Span, ...]:
    """Speech that only the edge of a block parted is one again."""
    padded = [Span(start_ms=one.start_ms, end_ms=one.end_ms + _LEAST_PAUSE_MS) for one in speech]
    return tuple(Span(start_ms=one.start_ms, end_ms=one.end_ms - _LEAST_PAUSE_MS) for one in merged(padded))


def _loudness(file: Path) -> float | None:
    """The last of the running values, which is that of the whole."""
    with file.open("rb") as lines:
        lines.seek(max(0, file.stat().st_size - 4096))
        found = _INTEGRATED.findall(lines.read())
    value = float(found[-1]) if found else float("-inf")
    return round(value, 1) if value > -69 else None


async def samples_of(sound: Path, span: Span) -> Samples:
    """The samples of a stretch of a sound file of our own making."""
    command = [
        "ffmpeg", "-v", "error", "-nostdin", "-ss", f"{span.start_ms / 1000:.3f}", "-t", f"{span.length_ms / 1000:.3f}",
        *GUARDS, "-i", str(sound), "-map", "0:a:0", "-ac", "1", "-ar", str(SOUND_RATE), "-f", "s16le", "-",
    ]  # fmt: skip
    raw, _ = await run(command)
    return np.frombuffer(raw[: len(raw) // 2 * 2], "<i2").astype(np.float32) / np.float32(32768)


def write_speech(found: SoundAnalysis, target: Path) -> None:
    """Keeps what was heard as JSON: `[[start, end], …]` in milliseconds, and the loudness."""
    spans = [[span.start_ms, span.end_ms] for span in found.speech]
    target.write_text(json.dumps({"speech_ms": spans, "loudness_lufs": found.loudness_lufs}))


def read_speech(source: Path) -> SoundAnalysis:
    """What `write_speech` kept."""
    stored = json.loads(source.read_text())
    return SoundAnalysis(
        speech=tuple(Span(start_ms=a, end_ms=b) for a, b in stored["speech_ms"]), loudness_lufs=stored["loudness_lufs"]
    )
