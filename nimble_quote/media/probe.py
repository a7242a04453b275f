"""The facts of a source file, and whether it can be used."""

import itertools
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from statistics import mean, median
from typing import Any

from nimble_quote.core.refusal import Refused
from nimble_quote.core.timebase import STANDARD_RATES
from nimble_quote.media.ffmpeg import MediaFailed, ffprobe, seconds_of

SHORTEST_MS = 1000
LONGEST_MS = 24 * 3600 * 1000
LARGEST_SIDE = 8192
AUDIO_ONLY_RATE = Fraction(25)
"""The rate of the frames made for a recording that has none."""
_HEAD_S, _TAIL_S = 60, 3.0
_LATE_S = 0.5
"""A recording that starts this late or less starts at once, for all that people notice."""
_STEPS = 10
_NEAR_RATE = 0.02
_USUAL_TRANSFERS = ("bt709", "smpte170m", "unknown")
_KINDS = "Bring an mp4, mov, mkv, webm, avi, mts, wmv, m4a, mp3, wav, aiff, flac or ogg file."
_PICTURES = (b"\x89PNG", b"\xff\xd8\xff", b"GIF8", b"BM", b"II*\x00", b"MM\x00*")
_PLAYLISTS = (b"#EXTM3U", b"ffconcat", b"[playlist]", b"v=0", b"[Reference]", b"<ASX", b"<asx")


class SourceRefused(Refused):
    """A file that can't be used as a recording; the message says what is wrong and what to do."""

    code = "source-refused"


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
        begun = await _packets(path, f"%+{_HEAD_S}")
    except MediaFailed as failed:
        raise SourceRefused(f"{name}: {_why_unreadable(path, failed.printed)}") from failed
    streams = found.get("streams", [])
    video = next((s for s in streams if s["codec_type"] == "video" and not _is_cover(s)), None)
    sounds = [s for s in streams if s["codec_type"] == "audio"]
    # Tracks are told by their place, so that an empty one before one with sound keeps its own.
    while sounds and not await _has_sound(path, sounds[-1], begun):
        sounds.pop()
    if video is None and not sounds:
        raise SourceRefused(f"{name}: there is neither sound nor picture in it, so there is nothing to quote.")
    for stream in (*sounds, *([video] if video else [])):
        _refuse_sealed(stream, found.get("packets", []), name)
    duration_ms = await _duration_ms(path, name, found, [*sounds, *([video] if video else [])])
    if duration_ms < SHORTEST_MS:
        raise SourceRefused(f"{name}: it is under a second long, or it was cut off before it was finished.")
    if duration_ms > LONGEST_MS:
        raise SourceRefused(f"{name}: its header says over a day long. Cut it into parts first.")
    width, height = _displayed(video) if video else (0, 0)
    if max(width, height) > LARGEST_SIDE:
        raise SourceRefused(f"{name}: its picture is {width}x{height}; more than {LARGEST_SIDE} a side can't be used.")
    seen = [packet for packet in begun if video and packet["stream_index"] == video["index"]]
    return SourceFacts(
        duration_ms=duration_ms,
        width=width,
        height=height,
        rate=_rate(video, seen) if video else AUDIO_ONLY_RATE,
        video_codec=video["codec_name"] if video else None,
        sound_tracks=tuple(_sound_track(s) for s in sounds),
        size_bytes=path.stat().st_size,
        serves=_serves(found, video, sounds, seen),
    )


async def _packets(path: Path, interval: str, *which: str) -> list[dict[str, Any]]:
    """The packets of an interval, each with its stream, its time, its length and its flags."""
    entries = "packet=stream_index,pts_time,duration_time,flags"
    found = await ffprobe(path, *which, "-read_intervals", interval, "-show_entries", entries)
    packets: list[dict[str, Any]] = found.get("packets", [])
    return packets


async def _has_sound(path: Path, stream: dict[str, Any], begun: list[dict[str, Any]]) -> bool:
    """Whether there is anything in a sound track; one that says nothing at first is read to its first sound, or its end."""
    index = stream["index"]
    return any(packet["stream_index"] == index for packet in begun) or bool(
        await _packets(path, "%+#1", "-select_streams", str(index))
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


def _why_unreadable(path: Path, printed: str) -> str:
    with path.open("rb") as file:
        begun = file.read(12)[4:8] == b"ftyp"
    if begun and "moov atom not found" in printed:
        return (
            "it was cut off before it was finished: the part that says where everything is, at its end, is missing. "
            "Copy it from the camera or recorder again."
        )
    if "not on whitelist" in printed:
        return f"recordings of this kind are not taken. {_KINDS}"
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


async def _duration_ms(path: Path, name: str, found: dict[str, Any], streams: list[dict[str, Any]]) -> int:
    """How long a source is, from its first moment to the last of its sound or picture.

    Some containers count from zero although the recording starts later; then it is what was read at its end that
    tells. Raises `SourceRefused` where the end that it says it has is not there: it was cut off.
    """
    told_s = seconds_of(found["format"].get("duration")) or max(
        (seconds for stream in streams if (seconds := seconds_of(stream.get("duration")))), default=0.0
    )
    start_s = seconds_of(found["format"].get("start_time")) or 0.0
    kept = {stream["index"] for stream in streams}
    tail = [one for one in await _packets(path, f"{max(0.0, told_s - _TAIL_S):.3f}%") if one["stream_index"] in kept]
    ends = [
        at + (seconds_of(one.get("duration_time")) or 0)
        for one in tail
        if (at := seconds_of(one.get("pts_time"))) is not None
    ]
    end_s = max(ends, default=0.0)
    if end_s < told_s - _TAIL_S:
        raise SourceRefused(
            f"{name}: it was cut off: it should be {told_s / 60:.1f} minutes long, but its end is missing. Copy it again."
        )
    late = start_s > _LATE_S and end_s - start_s < told_s - _LATE_S
    return round(1000 * (end_s - start_s if late else told_s))


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


def _rate(video: dict[str, Any], seen: list[dict[str, Any]]) -> Fraction:
    """The frame rate: what the file says where its frames are even, else what most of its first frames are apart.

    The average of an uneven file counts its holes as slow frames.
    """
    average, least = _fraction(video.get("avg_frame_rate")), _fraction(video.get("r_frame_rate"))
    times = sorted(at for packet in seen if (at := seconds_of(packet.get("pts_time"))) is not None)
    steps = [b - a for a, b in itertools.pairwise(times) if b > a]
    if average and (average == least or len(steps) < _STEPS):
        return average
    if len(steps) < _STEPS:
        return least or AUDIO_ONLY_RATE
    middle = median(steps)
    # Of those about alike, the mean: a single one may be rounded to thousandths of a second.
    usual = 1 / mean(step for step in steps if abs(step - middle) < middle / 4)
    candidates = [rate for rate in (average, least, *STANDARD_RATES) if rate]
    near = min(candidates, key=lambda rate: abs(float(rate) - usual))
    return near if abs(float(near) - usual) < _NEAR_RATE * usual else Fraction(usual).limit_denominator(1001)


def _fraction(value: object) -> Fraction | None:
    above, _, below = str(value or "0/0").partition("/")
    return (
        Fraction(int(above), int(below)) if above.isdigit() and below.isdigit() and int(above) and int(below) else None
    )


def _serves(
    found: dict[str, Any], video: dict[str, Any] | None, sounds: list[dict[str, Any]], seen: list[dict[str, Any]]
) -> bool:
    """Whether browsers play the file as it is: MP4 with small upright H.264 of even rate and the usual colours, one AAC
    track, near key frames, beginning at once."""
    if "mp4" not in found["format"].get("format_name", "") or video is None or len(sounds) > 1:
        return False
    return (
        video.get("codec_name") == "h264"
        and video.get("pix_fmt") == "yuv420p"
        and video.get("color_transfer", "bt709") in _USUAL_TRANSFERS
        and min(int(video["width"]), int(video["height"])) <= 720
        and video.get("sample_aspect_ratio", "1:1") in ("1:1", "0:1")
        and _turned(video) == 0
        and video.get("avg_frame_rate") == video.get("r_frame_rate")
        and all(sound.get("codec_name") == "aac" for sound in sounds)
        and abs(seconds_of(found["format"].get("start_time")) or 0.0) < _LATE_S
        and _keys_are_near(seen)
    )


def _keys_are_near(seen: list[dict[str, Any]]) -> bool:
    """Whether a key frame stands at least every second and a half of the beginning."""
    times = [seconds_of(p.get("pts_time")) or 0.0 for p in seen if "K" in p.get("flags", "")]
    edges = [0.0, *times, max((seconds_of(p.get("pts_time")) or 0.0 for p in seen), default=0.0)]
    return bool(times) and max(b - a for a, b in itertools.pairwise(edges)) <= 1.5
