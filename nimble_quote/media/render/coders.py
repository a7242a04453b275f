"""How pictures are coded: by a quality, or at a bit rate with what an earlier run noted."""

from pathlib import Path

from nimble_quote.core.making import Codec, Making, Quality
from nimble_quote.media.ffmpeg import run

NOTES = "notes"
"""What a run notes for the next, beside the clip."""
_H264 = ("-c:v", "libx264", "-preset", "veryfast", "-profile:v", "high", "-pix_fmt", "yuv420p")
_H265 = ("-c:v", "libx265", "-preset", "veryfast", "-tag:v", "hvc1", "-pix_fmt", "yuv420p")
_AV1 = ("-c:v", "libsvtav1", "-preset", "9", "-pix_fmt", "yuv420p")
_CODERS: dict[Codec, str] = {"h264": "libx264", "h265": "libx265", "av1": "libsvtav1"}
_QUALITIES: dict[Codec, dict[Quality, int]] = {
    "h264": {"small": 26, "usual": 20, "crisp": 16},
    "h265": {"small": 29, "usual": 24, "crisp": 20},
    "av1": {"small": 42, "usual": 34, "crisp": 26},
}
"""The quantiser of each, where every codec looks about as good as the others."""
_MOST: dict[Quality, str] = {"small": "6M", "usual": "12M", "crisp": "24M"}
"""What a picture takes at most, for places that take no more."""


async def codecs_there() -> list[Codec]:
    """The codecs that this machine's ffmpeg can write."""
    listed, _ = await run(["ffmpeg", "-hide_banner", "-v", "error", "-encoders"])
    words = set(listed.decode(errors="replace").split())
    return [codec for codec, coder in _CODERS.items() if coder in words]


def by_quality(making: Making) -> list[str]:
    """The options of an encoder that codes as well as is wanted, whatever the size."""
    quality = str(_QUALITIES[making.codec][making.quality])
    most = _MOST[making.quality]
    if making.codec == "h264":
        return [*_H264, "-crf", quality, "-maxrate", most, "-bufsize", most]
    if making.codec == "h265":
        return [
            *_H265,
            "-crf",
            quality,
            "-x265-params",
            f"log-level=error:vbv-maxrate={most[:-1]}000:vbv-bufsize={most[:-1]}000",
        ]
    return [*_AV1, "-crf", quality]


def at_rate(making: Making, kilobits: float, turn: int) -> list[str]:
    """The options of an encoder that keeps a bit rate: in its first turn by what it meets, and noting it; in later turns by what was
    noted, where it can."""
    rate, most = f"{kilobits:.1f}k", f"{kilobits * 2:.1f}k"
    if making.codec == "h264":
        # A first turn that is as careful as the others: where it comes out right it is the file.
        return [
            *_H264, "-b:v", rate, "-maxrate", most, "-bufsize", most, "-passlogfile", NOTES, "-fastfirstpass", "0",
            "-pass", "1" if turn == 0 else "2",
        ]  # fmt: skip
    if making.codec == "h265":
        noted = f"pass={1 if turn == 0 else 2}:stats={NOTES}:slow-firstpass=1:log-level=error"
        return [*_H265, "-b:v", rate, "-x265-params", noted]
    return [*_AV1, "-b:v", rate, "-svtav1-params", "rc=1"]


def forget_notes(folder: Path) -> None:
    """Removes what an earlier run noted."""
    for old in folder.glob(f"{NOTES}*"):
        old.unlink(missing_ok=True)
