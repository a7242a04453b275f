"""Pictures that a house brings to stand behind others: decoded and written anew, so that nothing of a strange file is kept."""

import json
import tempfile
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from nimble_quote.core.refusal import Refused
from nimble_quote.media.ffmpeg import MediaFailed, run

MOST_BYTES = 20_000_000
_LONGEST_PX = 1920
"""No clip's short side is longer, and what stands behind is not looked at closely."""
_MOST_PIXELS = 60_000_000
_CODECS = ("png", "mjpeg", "webp")


class PictureRefused(Refused):
    """A file can't be used as a picture."""

    code = "picture-refused"


@dataclass(frozen=True, kw_only=True)
class HousePicture:
    """A picture as it is kept."""

    jpeg: bytes
    width: int
    height: int


async def house_picture(sent: bytes) -> HousePicture:
    """A picture that was sent, as it is kept. Raises `PictureRefused`."""
    with tempfile.TemporaryDirectory() as folder:
        source = Path(folder) / "picture"
        source.write_bytes(sent)
        try:
            return await _made(source)
        except MediaFailed as failed:
            raise PictureRefused("This file is no picture that can be read. Use a JPEG, PNG or WebP.") from failed


async def _made(source: Path) -> HousePicture:
    kind = _kind(source.read_bytes()[:16])
    if kind is None:
        raise PictureRefused("This file is no picture that can be read. Use a JPEG, PNG or WebP.")
    guards = ("-protocol_whitelist", "file,pipe", "-f", kind)
    found = await _size(source, guards)
    if found[0] * found[1] > _MOST_PIXELS:
        raise PictureRefused(f"This picture is {found[0]} × {found[1]} pixels. Make it smaller: 1920 across is enough.")
    fit = f"scale='min({_LONGEST_PX},iw)':'min({_LONGEST_PX},ih)':force_original_aspect_ratio=decrease:force_divisible_by=2"
    jpeg, _ = await run([
        "ffmpeg", "-v", "error", "-nostdin", *guards, "-i", str(source), "-frames:v", "1", "-vf", f"{fit},format=yuvj420p",
        "-q:v", "3", "-f", "mjpeg", "pipe:1",
    ])  # fmt: skip
    source.write_bytes(jpeg)
    width, height = await _size(source, ("-protocol_whitelist", "file,pipe", "-f", "jpeg_pipe"))
    return HousePicture(jpeg=jpeg, width=width, height=height)


def _kind(head: bytes) -> str | None:
    """The demuxer for what a file begins with."""
    if head.startswith(b"\x89PNG\r\n"):
        return "png_pipe"
    if head.startswith(b"\xff\xd8\xff"):
        return "jpeg_pipe"
    return "webp_pipe" if head[:4] == b"RIFF" and head[8:12] == b"WEBP" else None


async def _size(source: Path, guards: tuple[str, ...]) -> tuple[int, int]:
    told, _ = await run([
        "ffprobe", "-v", "error", *guards, "-of", "json", "-show_entries", "stream=codec_name,width,height", "-i", str(source),
    ])  # fmt: skip
    stream: dict[str, Any] = next(iter(json.loads(told).get("streams", [])), {})
    if stream.get("codec_name") not in _CODECS or not stream.get("width"):
        raise PictureRefused("This file is no picture that can be read. Use a JPEG, PNG or WebP.")
    return int(stream["width"]), int(stream["height"])
