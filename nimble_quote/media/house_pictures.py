"""Pictures that a house brings to stand behind others or over them: decoded and written anew, so that nothing of a strange file is
kept; and made as large as they are drawn."""

import json
import tempfile
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.refusal import Refused
from nimble_quote.formats.svg import check_svg, looks_like_svg
from nimble_quote.media.ffmpeg import MediaFailed, run

MOST_BYTES = 20_000_000
_LONGEST_PX = 1920
"""No clip's short side is longer, and what stands behind is not looked at closely."""
_MOST_PIXELS = 60_000_000
_CODECS = ("png", "mjpeg", "webp", "svg")
_NO_PICTURE = "This file is no picture that can be read. Use a JPEG, PNG, WebP or SVG."
_SEEN_THROUGH = ("rgba", "bgra", "argb", "yuva420p", "ya8", "ya16be", "rgba64be", "pal8", "gbrap")
_FIT = (
    f"scale='min({_LONGEST_PX},iw)':'min({_LONGEST_PX},ih)':force_original_aspect_ratio=decrease:force_divisible_by=2"
)
JPEG, PNG = "image/jpeg", "image/png"


class PictureRefused(Refused):
    """A file can't be used as a picture."""

    code = "picture-refused"


@dataclass(frozen=True, kw_only=True)
class HousePicture:
    """A picture as it is kept: as PNG where something is seen through it, else as JPEG."""

    content: bytes
    media_type: str
    width: int
    height: int


async def house_picture(sent: bytes) -> HousePicture:
    """A picture that was sent, as it is kept. Raises `PictureRefused`, and `DrawingRefused` for an SVG that is no plain one."""
    if looks_like_svg(sent):
        check_svg(sent)
    with tempfile.TemporaryDirectory() as folder:
        source = Path(folder) / "picture"
        source.write_bytes(sent)
        try:
            return await _made(source)
        except MediaFailed as failed:
            raise PictureRefused(_NO_PICTURE) from failed


_ROUND = "geq=r='r(X,Y)':g='g(X,Y)':b='b(X,Y)':a='alpha(X,Y)*clip((1-hypot((X+0.5)/W*2-1,(Y+0.5)/H*2-1))*min(W,H)/2+0.5,0,1)'"
"""Cuts a picture to the oval that fills it, its edge a pixel wide."""


async def scaled_picture(content: bytes, width: int, height: int, *, round_: bool = False) -> bytes:
    """A picture that was kept, as PNG of a size, which it covers: what of it is beyond is cut off; `round_` cuts it to an oval.
    Raises `MediaFailed`."""
    last = f",{_ROUND}" if round_ else ""
    with tempfile.TemporaryDirectory() as folder:
        source = Path(folder) / "picture"
        source.write_bytes(content)
        made, _ = await run([
            "ffmpeg", "-v", "error", "-nostdin", *_guards(content[:16]), "-i", str(source), "-frames:v", "1", "-vf",
            f"format=rgba,scale={width}:{height}:force_original_aspect_ratio=increase:flags=lanczos,crop={width}:{height}{last}",
            "-c:v", "png", "-pix_fmt", "rgba", "-f", "image2pipe", "pipe:1",
        ])  # fmt: skip
        return made


async def _made(source: Path) -> HousePicture:
    guards = _guards(source.read_bytes()[:65536])
    width, height, through = await _facts(source, guards)
    if width * height > _MOST_PIXELS:
        raise PictureRefused(f"This picture is {width} × {height} pixels. Make it smaller: 1920 across is enough.")
    coded = (
        ("-vf", f"format=rgba,{_FIT}", "-c:v", "png", "-pix_fmt", "rgba")
        if through
        else ("-vf", f"{_FIT},format=yuvj420p", "-q:v", "3", "-c:v", "mjpeg")
    )
    made, _ = await run([
        "ffmpeg", "-v", "error", "-nostdin", *guards, "-i", str(source), "-frames:v", "1", *coded, "-f", "image2pipe", "pipe:1",
    ])  # fmt: skip
    source.write_bytes(made)
    width, height, _ = await _facts(source, _guards(made[:16]))
    return HousePicture(content=made, media_type=PNG if through else JPEG, width=width, height=height)


def _guards(head: bytes) -> tuple[str, ...]:
    """What ffmpeg is told of a file by what it begins with, so that it takes it for nothing else. Raises `PictureRefused`."""
    kind: tuple[str, ...] = ()
    if head.startswith(b"\x89PNG\r\n"):
        kind = ("png_pipe",)
    elif head.startswith(b"\xff\xd8\xff"):
        kind = ("jpeg_pipe",)
    elif head[:4] == b"RIFF" and head[8:12] == b"WEBP":
        kind = ("webp_pipe",)
    elif looks_like_svg(head):
        kind = ("svg_pipe", "-width", str(_LONGEST_PX), "-keep_ar", "1")
    if not kind:
        raise PictureRefused(_NO_PICTURE)
    return ("-protocol_whitelist", "file,pipe", "-f", *kind)


async def _facts(source: Path, guards: tuple[str, ...]) -> tuple[int, int, bool]:
    """The size of a picture, and whether something may be seen through it."""
    told, _ = await run([
        "ffprobe", "-v", "error", *guards[:4], "-of", "json", "-show_entries", "stream=codec_name,width,height,pix_fmt", "-i",
        str(source),
    ])  # fmt: skip
    stream: dict[str, Any] = next(iter(json.loads(told).get("streams", [])), {})
    if stream.get("codec_name") not in _CODECS or not stream.get("width"):
        raise PictureRefused(_NO_PICTURE)
    through = stream["codec_name"] == "svg" or stream.get("pix_fmt") in _SEEN_THROUGH
    return int(stream["width"]), int(stream["height"]), through


async def png_of(pixels: NDArray[np.uint8]) -> bytes:
    """An RGBA picture (rows x columns x 4) as PNG. Raises `MediaFailed`."""
    height, width = pixels.shape[:2]
    with tempfile.TemporaryDirectory() as folder:
        source = Path(folder) / "pixels"
        source.write_bytes(pixels.tobytes())
        made, _ = await run([
            "ffmpeg", "-v", "error", "-nostdin", "-f", "rawvideo", "-pix_fmt", "rgba", "-s", f"{width}x{height}", "-i", str(source),
            "-frames:v", "1", "-c:v", "png", "-compression_level", "1", "-f", "image2pipe", "pipe:1",
        ])  # fmt: skip
        return made
