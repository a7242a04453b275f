"""Looking at moments that a cover could show: how sharp the face is, and how far its eyes are open."""

import asyncio
from collections.abc import Sequence
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.covers import CoverLook, CoverMoment
from nimble_quote.media.ffmpeg import GUARDS, MediaFailed, run
from nimble_quote.media.mesh import FaceMesh, Pixels, eyes_open

_LINES = 540
"""What is sharp at this height is so at any that is posted."""
_AT_ONCE = 2
_LEAST_PX = 48
"""The eyes of a smaller face are a few pixels: whether they are open can't be told."""
_SAME_SIDE = 96
"""Faces are compared at one size, so that a small one is not sharper for being small."""


async def looks_of(
    source: Path, size: tuple[int, int], moments: Sequence[CoverMoment], packed: Path
) -> list[CoverLook]:
    """What is seen at some moments of a recording, whose picture is shown in a size. A moment that can't be read looks poor."""
    lines = min(_LINES, size[1])
    shown = round(size[0] * lines / size[1] / 2) * 2, lines // 2 * 2
    mesh = await asyncio.to_thread(FaceMesh, packed)
    at_once = asyncio.Semaphore(_AT_ONCE)

    async def frame(moment: CoverMoment) -> Pixels | None:
        async with at_once:
            return await _frame(source, moment.at_ms, shown)

    pictures = await asyncio.gather(*(frame(moment) for moment in moments))
    return [
        await asyncio.to_thread(_looked_at, picture, moment, mesh) if picture is not None else _POOR
        for picture, moment in zip(pictures, moments, strict=True)
    ]


_POOR = CoverLook(sharpness=0.0, eyes=None)


async def _frame(source: Path, at_ms: int, size: tuple[int, int]) -> Pixels | None:
    width, height = size
    command = [
        "ffmpeg", "-v", "error", "-nostdin", "-ss", f"{at_ms / 1000:.3f}", *GUARDS, "-i", str(source), "-frames:v", "1",
        "-vf", f"scale={width}:{height},format=rgb24", "-f", "rawvideo", "pipe:1",
    ]  # fmt: skip
    try:
        raw, _ = await run(command)
    except MediaFailed:
        return None
    if len(raw) < width * height * 3:
        return None
    return np.frombuffer(raw[: width * height * 3], np.uint8).reshape(height, width, 3)


def _looked_at(picture: Pixels, moment: CoverMoment, mesh: FaceMesh) -> CoverLook:
    high, wide = picture.shape[:2]
    face = moment.face
    box = face.x * wide, face.y * high, face.width * wide, face.height * high
    eyes = eyes_open(mesh.points(picture, box)) if box[3] >= _LEAST_PX else None
    return CoverLook(sharpness=_sharpness(picture, box), eyes=eyes)


def _sharpness(picture: Pixels, box: tuple[float, float, float, float]) -> float:
    """The variance of the second differences of a face, at one size, in squares of levels."""
    left, top, width, height = box
    places = (np.arange(_SAME_SIDE) + 0.5) / _SAME_SIDE
    rows = np.clip(top + places * height, 0, picture.shape[0] - 1).astype(np.int64)
    columns = np.clip(left + places * width, 0, picture.shape[1] - 1).astype(np.int64)
    grey: NDArray[np.float64] = picture[rows[:, None], columns].astype(np.float64) @ np.array([0.299, 0.587, 0.114])
    around = grey[:-2, 1:-1] + grey[2:, 1:-1] + grey[1:-1, :-2] + grey[1:-1, 2:] - 4 * grey[1:-1, 1:-1]
    return float(around.var())
