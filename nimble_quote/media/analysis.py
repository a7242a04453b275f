"""What is made from a recording when it comes in: a proxy to play, the peaks of its sound, the faces in its picture."""

import asyncio
from collections.abc import AsyncIterator
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.media.faces import INPUT_SIZE, FaceFinder
from nimble_quote.media.ffmpeg import GUARDS, MediaFailed, Progress, run_with_progress, running
from nimble_quote.media.probe import SourceFacts

PROXY_LINES = 540
PEAKS_A_SECOND = 100
_SOUND_RATE = 16_000
FACE_EVERY_MS = 1000


async def make_proxy(source: Path, target: Path, facts: SourceFacts, progress: Progress) -> None:
    """A small copy that any browser plays and scrubs: H.264 with a key frame each second, AAC."""
    if facts.width:
        lines = min(PROXY_LINES, facts.height // 2 * 2)
        picture = [
            "-map",
            "0:V:0",
            "-vf",
            f"scale=-2:{lines},setsar=1,format=yuv420p",
            "-c:v",
            "libx264",
            "-preset",
            "veryfast",
            "-crf",
            "26",
            "-force_key_frames",
            "expr:gte(t,n_forced)",
        ]
    else:
        picture = ["-vn"]
    await run_with_progress(
        [
            "ffmpeg",
            "-v",
            "error",
            "-nostdin",
            "-y",
            *GUARDS,
            "-i",
            str(source),
            *picture,
            "-map",
            "0:a:0",
            "-c:a",
            "aac",
            "-b:a",
            "128k",
            "-ac",
            "2",
            "-ar",
            "48000",
            "-af",
            "aresample=async=1:first_pts=0",
            "-movflags",
            "+faststart",
            "-progress",
            "pipe:1",
            "-f",
            "mp4",
            str(target),
        ],
        facts.duration_ms,
        progress,
    )


async def make_peaks(source: Path, target: Path) -> None:
    """One byte for each 10 ms of sound: the loudest sample of it, 0..255 on a square-root scale."""
    step = _SOUND_RATE // PEAKS_A_SECOND
    command = [
        "ffmpeg",
        "-v",
        "error",
        "-nostdin",
        *GUARDS,
        "-i",
        str(source),
        "-map",
        "0:a:0",
        "-af",
        "aresample=async=1:first_pts=0",
        "-ac",
        "1",
        "-ar",
        str(_SOUND_RATE),
        "-f",
        "s16le",
        "-",
    ]
    with target.open("wb") as out:
        async for block in blocks(command, step * 2 * 1000):
            samples = np.frombuffer(block[: len(block) // 2 * 2], "<i2").astype(np.float32)
            rows = np.pad(samples, (0, -len(samples) % step)).reshape(-1, step)
            out.write((np.sqrt(np.abs(rows).max(axis=1) / 32768) * 255).astype(np.uint8).tobytes())


async def find_faces(proxy: Path, model: Path, facts: SourceFacts, progress: Progress) -> list[FaceSample]:
    """The faces in one frame of each second; `proxy` has a key frame there, so that nothing else is decoded."""
    finder = FaceFinder(model, facts.width, facts.height)
    command = [
        "ffmpeg",
        "-v",
        "error",
        "-nostdin",
        "-skip_frame",
        "nokey",
        *GUARDS,
        "-i",
        str(proxy),
        "-vf",
        f"fps={1000 // FACE_EVERY_MS}:start_time=0,{finder.filter}",
        "-pix_fmt",
        "rgb24",
        "-f",
        "rawvideo",
        "-",
    ]
    samples: list[FaceSample] = []
    at_ms = 0
    async for block in blocks(command, INPUT_SIZE * INPUT_SIZE * 3):
        if len(block) == INPUT_SIZE * INPUT_SIZE * 3:
            pixels: NDArray[np.uint8] = np.frombuffer(block, np.uint8).reshape(INPUT_SIZE, INPUT_SIZE, 3)
            samples += await asyncio.to_thread(finder.find, pixels, at_ms)
        at_ms += FACE_EVERY_MS
        if at_ms % 10_000 == 0:
            await progress(min(1.0, at_ms / facts.duration_ms))
    return samples


async def blocks(command: list[str], size: int) -> AsyncIterator[bytes]:
    """What a command writes, in blocks of `size` bytes (the last may be shorter). Raises where it fails."""
    pipe = asyncio.subprocess.PIPE
    async with running(command, stdout=pipe, stderr=pipe, limit=max(size, 1 << 16)) as process:
        assert process.stdout is not None
        assert process.stderr is not None
        said = asyncio.ensure_future(process.stderr.read())
        while True:
            try:
                yield await process.stdout.readexactly(size)
            except asyncio.IncompleteReadError as last:
                if last.partial:
                    yield last.partial
                break
        await process.wait()
        text = (await said).decode(errors="replace")
    if process.returncode:
        raise MediaFailed(command, text)
