"""How light faces are in a picture."""

from collections.abc import Sequence
from pathlib import Path

import numpy as np

from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.media.ffmpeg import GUARDS, run

_SIDE = 16
_INNER = 0.6
"""The part of a face's box, about its middle, that is skin and neither hair nor what is behind."""


async def lumas_of(source: Path, size: tuple[int, int], faces: Sequence[FaceSample]) -> list[float]:
    """The luma (0 black to 1 white) of the middle of some faces; `size` is that of the displayed picture. Raises
    `MediaFailed`."""
    return [await _luma(source, size, face) for face in faces]


async def _luma(source: Path, size: tuple[int, int], face: FaceSample) -> float:
    width, height = (
        max(4, int(length * side * _INNER)) for length, side in zip((face.width, face.height), size, strict=True)
    )
    x = min(max(0, int((face.x + face.width / 2) * size[0] - width / 2)), size[0] - width)
    y = min(max(0, int((face.y + face.height / 2) * size[1] - height / 2)), size[1] - height)
    cut = f"scale={size[0]}:{size[1]},crop={width}:{height}:{x}:{y},scale={_SIDE}:{_SIDE}:flags=area,format=gray"
    pixels, _ = await run([
        "ffmpeg", "-v", "error", "-nostdin", "-ss", f"{face.at_ms / 1000:.3f}", *GUARDS, "-i", str(source),
        "-frames:v", "1", "-vf", cut, "-f", "rawvideo", "pipe:1",
    ])  # fmt: skip
    return float(np.median(np.frombuffer(pixels, np.uint8))) / 255 if pixels else 0.5
