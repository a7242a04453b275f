"""The facts of a source file, and whether it can be used."""

import itertools
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

from nimble_quote.media.ffmpeg import MediaFailed, ffprobe

SHORTEST_MS = 1000
LONGEST_MS = 24 * 3600 * 1000
LARGEST_SIDE = 8192
AUDIO_ONLY_RATE = Fraction(25)
"""The rate of the frames made for a recording that has none."""
_TAIL_S = 3.0
_KINDS = "Bring an mp4, mov, mkv, webm, m4a, mp3, wav, flac or ogg file."
_PICTURES = (b"\x89PNG", b"\xff\xd8\xff", b"GIF8", b"BM", b"II*\x00", b"MM\x00*")
_PLAYLISTS = (b"#EXTM3U", b"ffconcat", b"[playlist]", b"v=0", b"[Reference]", b"<ASX", b"<asx")


class SourceRefused(ValueError):
    """A file that can't be used as a recording; the message says what is wrong and what to do."""


@dataclass(frozen=True, kw_only=True)
class SoundTrack:
    """One of the sound tracks of a source."""

    codec: str
    channels: int
    language: str | None
    title: str | None


@dataclass(frozen=True, kw_only=True)
class SourceFacts:
    """What a source is. Width and height are as displayed (square pixels, turned upright); 0 without picture.

    `serves` says that any browser can play and scrub the file as it is, so that it needs no proxy.
    """

    duration_ms: int
    width: int
    height: int
    rate: Fraction
    video_codec: str | None
    sound_tracks: tuple[SoundTrack, ...]
    size_bytes: int
    serves: bool = False

    @property
    def audio_codec(self) -> str | None:
        return self.sound_tracks[0].codec if self.sound_tracks else None


async def probe_source(path: Path, name: str) -> SourceFacts:
    """Reads the facts of a file that was called `name`. Raises `SourceRefused` with the reason where it can't serve."""
    _refuse_other_kinds(path, name)
    try:
        found = await ffprobe(path, "-show_format", "-show_streams", "-show_packets", "-read_intervals", "%+#4")
    except MediaFailed as failed:
        raise SourceRefused(f"{name}: {_why_unreadable(path, failed.said)}") from failed
    streams = found.get("streams", [])
    video = next((s for s in streams if s["codec_type"] == "video" and not _is_cover(s)), None)
    sounds = [s for s in streams if s["codec_type"] == "audio"]
    if video is None and not sounds:
        raise SourceRefused(f"{name}: there is neither sound nor picture in it, so there is nothing to quote.")
    for stream in (*sounds, *([video] if video else [])):
        _refuse_sealed(stream, found.get("packets", []), name)
    duration_ms = _duration_ms(found, [*sounds, *([video] if video else [])])
    if duration_ms < SHORTEST_MS:
        raise SourceRefused(f"{name}: it is under a second long, or it was cut off before it was finished.")
    if duration_ms > LONGEST_MS:
        raise SourceRefused(f"{name}: it says it is over a day long. Cut it into parts first.")
    await _refuse_cut_off(path, name, duration_ms, bool(sounds))
    width, height = _displayed(video) if video else (0, 0)
    if max(width, height) > LARGEST_SIDE:
        raise SourceRefused(f"{name}: its picture is {width}x{height}; more than {LARGEST_SIDE} a side can't be used.")
    return SourceFacts(
        duration_ms=duration_ms,
        width=width,
        height=height,
        rate=_rate(video) if video else AUDIO_ONLY_RATE,
        video_codec=video["codec_name"] if video else None,
        sound_tracks=tuple(_sound_track(s) for s in sounds),
        size_bytes=path.stat().st_size,
        serves=await _serves(path, found, video, sounds),
    )


def _refuse_other_kinds(path: Path, name: str) -> None:
    """What a file begins with tells a picture or a playlist, whatever it is called."""
    with path.open("rb") as file:
        head = file.read(4096)
    webp = head[:4] == b"RIFF" and head[8:12] == b"WEBP"
    if head.startswith(_PICTURES) or webp or head[4:12] in (b"ftypheic", b"ftypavif", b"ftypmif1"):
        raise SourceRefused(f"{name}: this is a picture, not a recording. {_KINDS}")
    if head.lstrip(b"\xef\xbb\xbf \r\n").startswith(_PLAYLISTS) or b"<MPD" in head or b"<smil" in head:
        raise SourceRefused(
            f"{name}: this is a playlist, which only points at other files. Bring the recording itself."
        )
    if not head:
        raise SourceRefused(f"{name}: the file is empty.")


def _why_unreadable(path: Path, said: str) -> str:
    with path.open("rb") as file:
        begun = file.read(12)[4:8] == b"ftyp"
    if begun and "moov atom not found" in said:
        return (
            "it was cut off before it was finished: the part that says where everything is, at its end, is missing. "
            "Copy it from the camera or recorder again."
        )
    return f"this is not a recording that can be read, or it is damaged. {_KINDS}"


def _refuse_sealed(stream: dict[str, Any], packets: list[dict[str, Any]], name: str) -> None:
    tag = str(stream.get("codec_tag_string", ""))
    beside = [one for packet in packets for one in packet.get("side_data_list", [])]
    sealed = any("Encryption" in str(one.get("side_data_type", "")) for one in beside)
    if tag in ("encv", "enca", "drms", "drmi") or sealed:
        raise SourceRefused(f"{name}: it is encrypted. Bring a copy without protection.")
    if stream.get("codec_name") in (None, "unknown", "none"):
        raise SourceRefused(
            f"{name}: its {stream['codec_type']} is of a kind that can't be decoded ({tag or 'unknown'})."
        )


def _duration_ms(found: dict[str, Any], streams: list[dict[str, Any]]) -> int:
    told = [found["format"].get("duration"), *(s.get("duration") for s in streams)]
    return round(max((float(value) for value in told[:1] if value), default=0) * 1000) or round(
        max((float(value) for value in told if value), default=0) * 1000
    )


async def _refuse_cut_off(path: Path, name: str, duration_ms: int, sound: bool) -> None:
    """A file whose end is not there says how long it should be, but has nothing to read for its last seconds."""
    start = max(0.0, duration_ms / 1000 - _TAIL_S)
    which = ("-select_streams", "a:0" if sound else "V:0")
    found = await ffprobe(path, *which, "-read_intervals", f"{start:.3f}%", "-show_entries", "packet=pts_time")
    last = max((float(packet.get("pts_time", 0)) for packet in found.get("packets", [])), default=0.0)
    if last < start - _TAIL_S:
        raise SourceRefused(
            f"{name}: it was cut off: it should be {duration_ms / 60000:.1f} minutes long, but its end is missing. "
            "Copy it again."
        )


def _is_cover(stream: dict[str, Any]) -> bool:
    return bool(stream.get("disposition", {}).get("attached_pic"))


def _sound_track(stream: dict[str, Any]) -> SoundTrack:
    tags = {key.lower(): str(value) for key, value in stream.get("tags", {}).items()}
    language = tags.get("language")
    title = tags.get("title") or tags.get("handler_name")
    return SoundTrack(
        codec=stream.get("codec_name", "unknown"),
        channels=int(stream.get("channels", 0)),
        language=language[:20] if language and language != "und" else None,
        title=title[:80] if title and title not in ("SoundHandler", "Core Media Audio") else None,
    )


def _displayed(video: dict[str, Any]) -> tuple[int, int]:
    width, height = int(video["width"]), int(video["height"])
    aspect = Fraction(str(video.get("sample_aspect_ratio", "1:1")).replace(":", "/").replace("0/1", "1/1"))
    width = round(width * aspect / 2) * 2 if aspect else width
    return (height, width) if _turned(video) % 180 else (width, height)


def _turned(video: dict[str, Any]) -> int:
    return int(next((s["rotation"] for s in video.get("side_data_list", []) if "rotation" in s), 0))


def _rate(video: dict[str, Any]) -> Fraction:
    for key in ("avg_frame_rate", "r_frame_rate"):
        above, _, below = str(video.get(key, "0/0")).partition("/")
        if int(above) and int(below or 1):
            return Fraction(int(above), int(below or 1))
    return AUDIO_ONLY_RATE


async def _serves(
    path: Path, found: dict[str, Any], video: dict[str, Any] | None, sounds: list[dict[str, Any]]
) -> bool:
    """Whether browsers play the file as it is: MP4 with small upright H.264 of even rate, one AAC track, near key frames."""
    if "mp4" not in found["format"].get("format_name", "") or video is None or len(sounds) > 1:
        return False
    plain = (
        video.get("codec_name") == "h264"
        and video.get("pix_fmt") == "yuv420p"
        and min(int(video["width"]), int(video["height"])) <= 720
        and video.get("sample_aspect_ratio", "1:1") in ("1:1", "0:1")
        and _turned(video) == 0
        and video.get("avg_frame_rate") == video.get("r_frame_rate")
        and all(sound.get("codec_name") == "aac" for sound in sounds)
    )
    return plain and await _keys_are_near(path)


async def _keys_are_near(path: Path) -> bool:
    """Whether a key frame stands at least every second and a half of the first minute."""
    told = await ffprobe(
        path, "-select_streams", "V:0", "-read_intervals", "%+60", "-show_entries", "packet=pts_time,flags"
    )
    times = [float(p.get("pts_time", 0)) for p in told.get("packets", []) if "K" in p.get("flags", "")]
    last = max((float(p.get("pts_time", 0)) for p in told.get("packets", [])), default=0.0)
    edges = [0.0, *times, last]
    return bool(times) and max(b - a for a, b in itertools.pairwise(edges)) <= 1.5
