"""How light the picture of a recording is: small pictures of a stretch of it, for the contrast of captions."""

from pathlib import Path

import numpy as np

from nimble_quote.core.caption_contrast import Light, Pictures
from nimble_quote.core.timebase import Span
from nimble_quote.media.ffmpeg import GUARDS, blocks

EVERY_MS = 500
_LINES = 180
_LINEAR = np.array(
    [value / 255 / 12.92 if value <= 10 else ((value / 255 + 0.055) / 1.055) ** 2.4 for value in range(256)]
)
"""The light of each value of a channel (IEC 61966-2-1)."""


async def pictures_of(path: Path, size: tuple[int, int], span: Span) -> Pictures:
    """Small pictures of a stretch of a file, whose picture has that size as displayed: two a second. Raises `MediaFailed`."""
    scale = min(1.0, _LINES / min(size))
    width, height = (max(2, round(side * scale / 2) * 2) for side in size)
    count = max(1, -(-span.length_ms // EVERY_MS) + 1)
    command = [
        "ffmpeg", "-v", "error", "-nostdin", "-ss", f"{span.start_ms / 1000:.3f}", *GUARDS, "-i", str(path),
        "-vf", f"fps={1000 // EVERY_MS}:start_time=0,scale={width}:{height}:flags=area,format=rgb24",
        "-frames:v", str(count), "-f", "rawvideo", "pipe:1",
    ]  # fmt: skip
    found: list[Light] = []
    async with blocks(command, width * height * 3) as read:
        async for block in read:
            if len(block) == width * height * 3:
                found.append(_light(np.frombuffer(block, np.uint8).reshape(height, width, 3)))
    light = np.stack(found) if found else np.zeros((0, height, width), np.float32)
    made = Pictures(at_ms=np.array([span.start_ms + n * EVERY_MS for n in range(len(found))], np.float64), light=light)
    # Worked out here, where reading takes seconds, and not when somebody waits for a look at their captions.
    made.prepare()
    return made


def _light(pixels: "np.ndarray[tuple[int, int, int], np.dtype[np.uint8]]") -> Light:
    linear = _LINEAR[pixels]
    light: Light = (linear @ np.array([0.2126, 0.7152, 0.0722])).astype(np.float32)
    return light
