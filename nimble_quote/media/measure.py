"""The facts of a finished clip, measured from the file itself."""

from fractions import Fraction
from pathlib import Path

from nimble_quote.core.preflight import FileFacts
from nimble_quote.media.ffmpeg import MediaFailed, ffprobe
from nimble_quote.media.loudness import measure


async def measure_clip(path: Path) -> FileFacts:
    """Probes a clip and meters its sound."""
    found = await ffprobe(path, "-count_packets", "-show_streams", "-show_format")
    video = next(s for s in found["streams"] if s["codec_type"] == "video")
    audio = next(s for s in found["streams"] if s["codec_type"] == "audio")
    loudness = await measure(path)
    return FileFacts(
        width=video["width"],
        height=video["height"],
        frames=int(video["nb_read_packets"]),
        video_ms=_ends_ms(video),
        audio_ms=_ends_ms(audio),
        rate=Fraction(video["avg_frame_rate"]),
        video_codec=video["codec_name"],
        profile=video["profile"],
        pixel_format=video["pix_fmt"],
        square_pixels=video.get("sample_aspect_ratio", "1:1") == "1:1",
        colour=video.get("color_space", "unknown"),
        faststart=index_comes_first(path),
        audio_codec=audio["codec_name"],
        sample_rate=int(audio["sample_rate"]),
        channels=audio["channels"],
        loudness_lufs=loudness.lufs,
        true_peak_dbtp=loudness.peak_dbtp,
        size_bytes=path.stat().st_size,
    )


async def measure_sound(path: Path) -> FileFacts:
    """Probes a file of sound alone, whatever picture it has as its cover, and meters it."""
    found = await ffprobe(path, "-show_streams", "-show_format")
    audio = next(s for s in found["streams"] if s["codec_type"] == "audio")
    loudness, ends = await measure(path), _ends_ms(audio)
    return FileFacts(
        width=0, height=0, frames=0, video_ms=ends, audio_ms=ends, rate=Fraction(1), video_codec="", profile="", pixel_format="",
        square_pixels=True, colour="", faststart=True, audio_codec=audio["codec_name"], sample_rate=int(audio["sample_rate"]),
        channels=audio["channels"], loudness_lufs=loudness.lufs, true_peak_dbtp=loudness.peak_dbtp,
        size_bytes=path.stat().st_size,
    )  # fmt: skip


async def measure_still(path: Path) -> FileFacts:
    """The size of a picture, as its header tells it (PNG, 11.2.1)."""
    with path.open("rb") as file:
        head = file.read(24)
    if head[:8] != b"\x89PNG\r\n\x1a\n" or head[12:16] != b"IHDR":
        raise MediaFailed(["ffmpeg"], "no PNG was written")
    width, height = (int.from_bytes(head[at : at + 4], "big") for at in (16, 20))
    return FileFacts(
        width=width, height=height, frames=1, video_ms=0, audio_ms=0, rate=Fraction(1), video_codec="png", profile="",
        pixel_format="", square_pixels=True, colour="", faststart=True, audio_codec="", sample_rate=0, channels=0,
        loudness_lufs=None, true_peak_dbtp=None, size_bytes=path.stat().st_size,
    )  # fmt: skip


def index_comes_first(path: Path) -> bool:
    """Whether an MP4 file's index (`moov`) stands before its media (`mdat`), by its top-level boxes (ISO 14496-12)."""
    with path.open("rb") as file:
        while header := file.read(8):
            size, kind = int.from_bytes(header[:4], "big"), header[4:]
            if kind in (b"moov", b"mdat"):
                return kind == b"moov"
            if size == 1:
                size = int.from_bytes(file.read(8), "big") - 8
            if size < 8:
                return False
            file.seek(size - 8, 1)
    return False


def _ends_ms(stream: dict[str, str]) -> float:
    return (float(stream.get("start_time", 0)) + float(stream["duration"])) * 1000
