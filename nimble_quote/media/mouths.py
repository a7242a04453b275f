"""How much mouths talk, by how far the lips are apart from look to look."""

import asyncio
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

import numpy as np

from nimble_quote.core.framing.subjects import Track
from nimble_quote.core.framing.talking import STEP_MS, UNSEEN, stretches_to_watch, talking
from nimble_quote.core.timebase import Span
from nimble_quote.media.ffmpeg import GUARDS, Progress, blocks
from nimble_quote.media.mesh import FaceMesh, Pixels, mouth_open

_LEAST_PX = 24
"""The lips of a smaller face are a pixel or two."""
_LEVEL_MS = 10


async def with_talking(
    tracks: Sequence[Track], speech: Sequence[Span], peaks: bytes, source: Path, size: tuple[int, int], packed: Path,
    progress: Progress,
) -> list[Track]:  # fmt: skip
    """Tracks with how much each mouth talks, where several faces are seen and somebody speaks. `peaks` has a byte for each 10 ms;
    `size` is that of the picture as it is read. Raises `MediaFailed`."""
    stretches = stretches_to_watch(tracks, speech)
    if not stretches:
        return list(tracks)
    mesh = FaceMesh(packed)
    whole = sum(span.length_ms for span in stretches)
    talks: dict[int, list[tuple[np.ndarray, np.ndarray]]] = {}
    done = 0
    for span in stretches:
        there = [n for n, track in enumerate(tracks) if track.start_ms < span.end_ms and track.end_ms > span.start_ms]
        times, opened = await _opened([tracks[n] for n in there], span, source, size, mesh)
        loud = _loudness(peaks, span.start_ms, len(times))
        for n, opening in zip(there, opened, strict=True):
            seen = opening != UNSEEN
            if seen.sum() > 8:
                talks.setdefault(n, []).append((times[seen], talking(opening[seen], loud[seen])))
        done += span.length_ms
        await progress(done / whole)
    return [_talked(track, talks.get(n, [])) for n, track in enumerate(tracks)]


async def _opened(
    tracks: Sequence[Track], span: Span, source: Path, size: tuple[int, int], mesh: FaceMesh
) -> tuple[np.ndarray, list[np.ndarray]]:
    """The moments of looks through a stretch, and how open each mouth is at them."""
    width, height = size
    rate = f"{1000 / STEP_MS:g}"
    command = [
        "nice", "-n", "10", "ffmpeg", "-v", "error", "-nostdin", "-ss", f"{span.start_ms / 1000:.3f}", *GUARDS, "-i", str(source),
        "-t", f"{span.length_ms / 1000:.3f}", "-vf", f"fps={rate}:start_time=0,scale={width}:{height},format=rgb24",
        "-f", "rawvideo", "pipe:1",
    ]  # fmt: skip
    opened: list[list[float]] = [[] for _ in tracks]
    times: list[int] = []
    boxes = [_boxes(track) for track in tracks]
    async with blocks(command, width * height * 3) as pictures:
        async for block in pictures:
            if len(block) < width * height * 3:
                break
            at_ms = span.start_ms + len(times) * STEP_MS
            picture = np.frombuffer(block, np.uint8).reshape(height, width, 3)
            now = await asyncio.to_thread(_openings, mesh, picture, tracks, boxes, at_ms)
            for values, value in zip(opened, now, strict=True):
                values.append(value)
            times.append(at_ms)
    return np.array(times), [np.array(values) for values in opened]


def _openings(
    mesh: FaceMesh, picture: Pixels, tracks: Sequence[Track], boxes: Sequence[np.ndarray], at_ms: int
) -> list[float]:
    height, width = picture.shape[:2]
    out = []
    for track, (times, *sides) in zip(tracks, boxes, strict=True):
        x, y, wide, high = (float(np.interp(at_ms, times, side)) for side in sides)
        there = track.start_ms <= at_ms <= track.end_ms and wide * width >= _LEAST_PX
        out.append(
            mouth_open(mesh.points(picture, (x * width, y * height, wide * width, high * height))) if there else UNSEEN
        )
    return out


def _boxes(track: Track) -> np.ndarray:
    samples = [face.sample for face in track.faces]
    return np.array(
        [[one.at_ms, one.x, one.y, one.width, one.height] for one in samples], np.float64
    ).T  # fmt: skip


def _loudness(peaks: bytes, start_ms: int, count: int) -> np.ndarray:
    """How loud it is around each look."""
    each = STEP_MS // _LEVEL_MS
    levels = np.frombuffer(peaks, np.uint8).astype(np.float64)
    first = start_ms // _LEVEL_MS - each // 2
    padded = np.pad(levels[max(0, first) : first + count * each], (max(0, -first), count * each))
    loud: np.ndarray = padded[: count * each].reshape(count, each).mean(axis=1)
    return loud


def _talked(track: Track, found: Sequence[tuple[np.ndarray, np.ndarray]]) -> Track:
    """A track with how much its mouth talks at each look at the face."""
    if not found:
        return track
    times, talks = (np.concatenate(parts) for parts in zip(*found, strict=True))
    at = np.array([face.sample.at_ms for face in track.faces])
    nearest = np.clip(np.searchsorted(times, at), 1, len(times) - 1)
    near = np.where(at - times[nearest - 1] < times[nearest] - at, nearest - 1, nearest)
    values = np.where(np.abs(times[near] - at) <= 2 * STEP_MS, talks[near], UNSEEN)
    faces = tuple(
        replace(face, talking=round(float(value), 3)) for face, value in zip(track.faces, values, strict=True)
    )
    return replace(track, faces=faces)
