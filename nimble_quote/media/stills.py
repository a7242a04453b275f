"""A still of a recording, cut close to a face where one was seen."""

from pathlib import Path

from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.media.ffmpeg import GUARDS, run

SIDE_PX = 192
_EARLY_MS = 6
_ROOM = 2.2
"""The side of the still, in heights of the face."""


async def make_still(source: Path, at_ms: int, size: tuple[int, int], face: FaceSample | None, target: Path) -> None:
    """Writes a square JPEG of the picture at a moment; `size` is that of the displayed picture. Raises `MediaFailed`."""
    width, height = size
    side, x, y = min(width, height), (width - min(size)) // 2, (height - min(size)) // 2
    if face is not None:
        side = max(32, min(int(face.height * height * _ROOM), side))
        x = int(min(max(0.0, (face.x + face.width / 2) * width - side / 2), width - side))
        y = int(min(max(0.0, (face.y + face.height / 2) * height - side / 2), height - side))
    crop = f"scale={width}:{height},crop={side}:{side}:{x}:{y},scale={SIDE_PX}:{SIDE_PX}"
    picture, _ = await run([
        "ffmpeg", "-v", "error", "-nostdin", "-ss", f"{at_ms / 1000:.3f}", *GUARDS, "-i", str(source),
        "-frames:v", "1", "-vf", crop, "-q:v", "4", "-f", "mjpeg", "pipe:1",
    ])  # fmt: skip
    target.write_bytes(picture)


async def frame_of(source: Path, at_ms: int) -> bytes:
    """The picture at a moment as JPEG, as large as it is. Raises `MediaFailed`."""
    # A little before: a frame whose time is rounded down is still the one that is meant.
    picture, _ = await run([
        "ffmpeg", "-v", "error", "-nostdin", "-ss", f"{max(0, at_ms - _EARLY_MS) / 1000:.3f}", *GUARDS, "-i", str(source),
        "-frames:v", "1", "-vf", "scale='trunc(iw*sar/2)*2':ih,setsar=1", "-q:v", "2", "-f", "mjpeg", "pipe:1",
    ])  # fmt: skip
    return picture


async def make_whole_still(source: Path, at_ms: int, target: Path) -> None:
    """Writes a small JPEG of the whole picture at a moment. Raises `MediaFailed`."""
    picture, _ = await run([
        "ffmpeg", "-v", "error", "-nostdin", "-ss", f"{at_ms / 1000:.3f}", *GUARDS, "-i", str(source),
        "-frames:v", "1", "-vf", f"scale=-2:{SIDE_PX},setsar=1", "-q:v", "4", "-f", "mjpeg", "pipe:1",
    ])  # fmt: skip
    target.write_bytes(picture)


async def still_of_clip(clip: Path, at_ms: float, target: Path) -> None:
    """A small still of a finished clip at a moment, or of a picture. Raises `MediaFailed`."""
    seek = ["-ss", f"{at_ms / 1000:.3f}"] if at_ms else []
    await run(
        ["ffmpeg", "-v", "error", "-nostdin", "-y", *seek, "-i", str(clip), "-frames:v", "1",
         "-vf", "scale=w=360:h=360:force_original_aspect_ratio=decrease:force_divisible_by=2", "-q:v", "4", str(target)]
    )  # fmt: skip
