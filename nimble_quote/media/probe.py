"""The facts of a source file, and whether it can be used."""

from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

from nimble_quote.media.ffmpeg import MediaFailed, ffprobe

SHORTEST_MS = 1000
AUDIO_ONLY_RATE = Fraction(25)
"""The rate of the frames made for a recording that has none."""


class SourceRefused(ValueError):
    """A file that can't be used as a recording; the message says what is wrong and what to do."""


@dataclass(frozen=True, kw_only=True)
class SourceFacts:
    """What a source is. Width and height are as displayed (square pixels, turned upright); 0 without picture."""

    duration_ms: int
    width: int
    height: int
    rate: Fraction
    video_codec: str | None
    audio_codec: str
    size_bytes: int


async def probe_source(path: Path, name: str) -> SourceFacts:
    """Reads the facts of a file that was called `name`. Raises `SourceRefused` with the reason where it can't serve."""
    try:
        found = await ffprobe(path, "-show_format", "-show_streams")
    except MediaFailed as failed:
        raise SourceRefused(
            f"{name}: this is not a recording that can be read, or it is damaged. "
            "Bring an mp4, mov, mkv, webm, m4a, mp3, wav, flac or ogg file."
        ) from failed
    streams = found.get("streams", [])
    video = next((s for s in streams if s["codec_type"] == "video" and not _is_cover(s)), None)
    audio = next((s for s in streams if s["codec_type"] == "audio"), None)
    if audio is None:
        raise SourceRefused(f"{name}: there is no sound in it, so there is nothing to quote.")
    duration_ms = round(float(found["format"].get("duration") or audio.get("duration") or 0) * 1000)
    if duration_ms < SHORTEST_MS:
        raise SourceRefused(f"{name}: it is under a second long, or it was cut off before it was finished.")
    width, height = _displayed(video) if video else (0, 0)
    return SourceFacts(
        duration_ms=duration_ms,
        width=width,
        height=height,
        rate=_rate(video) if video else AUDIO_ONLY_RATE,
        video_codec=video["codec_name"] if video else None,
        audio_codec=audio.get("codec_name", "unknown"),
        size_bytes=path.stat().st_size,
    )


def _is_cover(stream: dict[str, Any]) -> bool:
    return bool(stream.get("disposition", {}).get("attached_pic"))


def _displayed(video: dict[str, Any]) -> tuple[int, int]:
    width, height = int(video["width"]), int(video["height"])
    aspect = Fraction(str(video.get("sample_aspect_ratio", "1:1")).replace(":", "/").replace("0/1", "1/1"))
    width = round(width * aspect / 2) * 2 if aspect else width
    turn = next((s["rotation"] for s in video.get("side_data_list", []) if "rotation" in s), 0)
    return (height, width) if int(turn) % 180 else (width, height)


def _rate(video: dict[str, Any]) -> Fraction:
    for key in ("avg_frame_rate", "r_frame_rate"):
        above, _, below = str(video.get(key, "0/0")).partition("/")
        if int(above) and int(below or 1):
            return Fraction(int(above), int(below or 1))
    return AUDIO_ONLY_RATE
