"""An Assembly made into a file: one ffmpeg filter graph for the picture, the sound laid beside it.

source -> frame grid -> kept frames -> window -> backdrop -> captions -> H.264
source -> segments, fades -> loudness                                  -> AAC
"""

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from nimble_quote.core.assembly import Assembly
from nimble_quote.core.framing.window import Placed
from nimble_quote.core.preflight import LOUDNESS_LUFS
from nimble_quote.formats.ass import write_ass
from nimble_quote.media.coding import TAGS, Coding, coding_of
from nimble_quote.media.colour import for_old_matrix, script_for_burning
from nimble_quote.media.cutting import Reach, last_frame_before
from nimble_quote.media.ffmpeg import GUARDS, Progress, run_with_progress
from nimble_quote.media.loudness import levelled
from nimble_quote.media.sound import lay_sound

_SOUND_SHARE = 0.08
"""The part of the whole work that the sound is, for the progress."""
_BLUR_SIDE = 136
"""A backdrop is blurred at this size, where it costs little, and enlarged: it has no detail to lose."""
ENCODER = ("-c:v", "libx264", "-preset", "veryfast", "-profile:v", "high", "-crf", "20", "-maxrate", "12M",
           "-bufsize", "12M", "-pix_fmt", "yuv420p")  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class Source:
    """The recording to cut from: width and height as displayed, and which of its sound tracks; None where it has none."""

    path: Path
    width: int
    height: int
    sound_track: int | None = 0


async def render(assembly: Assembly, source: Source, fonts: Path, scratch: Path, progress: Progress) -> Path:
    """Makes the clip in the scratch folder and returns its path. Raises `MediaFailed` where ffmpeg fails."""
    sound = scratch / "sound.wav"
    await lay_sound(assembly, source.path, source.sound_track, scratch / "bed.wav")
    await levelled(scratch / "bed.wav", sound, LOUDNESS_LUFS)
    await progress(_SOUND_SHARE)
    (scratch / "captions.ass").write_text(script_for_burning(write_ass(assembly)), encoding="utf-8")
    # The graph names files by these plain names, in the folder it runs in: a path can't be misread as filter syntax.
    (scratch / "fonts").symlink_to(fonts)
    reach, coding = await _seen(assembly, source.path)
    (scratch / "graph.txt").write_text(filter_graph(assembly, source, reach, coding), encoding="utf-8")

    async def picture_progress(part: float) -> None:
        await progress(_SOUND_SHARE + (1 - _SOUND_SHARE) * part)

    await run_with_progress(_command(assembly, source, reach), assembly.length_ms, picture_progress, scratch)
    return scratch / "clip.mp4"


async def _seen(assembly: Assembly, path: Path) -> tuple[Reach, Coding]:
    """What of a source's picture is decoded, and how it is coded. Where the picture ends before that, its last frame is."""
    reach = Reach.of(assembly)
    if assembly.picture is None:
        return reach, Coding()
    last = await last_frame_before(path, reach.first_frame + reach.frames, assembly.rate)
    return reach.back_to(last), await coding_of(path)


def _command(assembly: Assembly, source: Source, reach: Reach) -> list[str]:
    rate = _rate(assembly)
    if assembly.picture:
        seen = [*reach.seek, *GUARDS, "-i", str(source.path)]
    else:
        colour = for_old_matrix(assembly.framing.colour)
        size = f"{assembly.destination.width}x{assembly.destination.height}"
        seen = ["-f", "lavfi", "-i", f"color=c={colour}:s={size}:r={rate}"]
    return [
        "ffmpeg", "-v", "error", "-nostdin", "-y", *seen, *GUARDS, "-i", "sound.wav",
        "-filter_complex_script", "graph.txt", "-map", "[out]", "-map", "1:a:0",
        *ENCODER, *TAGS, "-r", rate, "-g", str(round(assembly.rate * 2)),
        "-c:a", "aac", "-b:a", "160k", "-ar", "48000", "-ac", "2",
        "-map_metadata", "-1", "-movflags", "+faststart", "-progress", "pipe:1", "-f", "mp4", "clip.mp4",
    ]  # fmt: skip


def filter_graph(assembly: Assembly, source: Source, reach: Reach, coding: Coding) -> str:
    """The picture's filter graph, from `[0:v]` to `[out]`, for what is decoded of a source."""
    written = assembly.captions and (assembly.captions.cues or assembly.captions.standing)
    captions = "ass=f=captions.ass:fontsdir=fonts," if written else ""
    # Ends the picture here and not with an option on the output, which would end the sound with it.
    last = f"{captions}format=yuv420p,setsar=1,trim=end_frame={assembly.frames}[out]"
    if assembly.picture is None:
        return f"[0:v:0]{last}"
    return (
        f"{_kept_frames(assembly, reach)},{coding.scaled(source.width, source.height)},setsar=1,{_composed(assembly, source)}"
        f"{_softened(assembly)}{_at_speed(assembly)}{last}"
    )


def _softened(assembly: Assembly) -> str:
    """The segments that are shown larger, laid over the picture while they last."""
    larger = [s for s in assembly.segments if s.scale != 1]
    if not larger:
        return ""
    width, height = assembly.destination.width, assembly.destination.height
    scaled = f"{round(width * larger[0].scale / 2) * 2}:{round(height * larger[0].scale / 2) * 2}"
    when = _any_of([f"between(n\\,{s.out_frame}\\,{s.out_frame + s.frames - 1})" for s in larger])
    return (
        f"format=yuv420p,split[plain][near];[near]scale={scaled}:flags=bicubic,crop={width}:{height}[larger];"
        f"[plain][larger]overlay=format=yuv420:enable='{when}',"
    )


def _at_speed(assembly: Assembly) -> str:
    """The cut brought to its speed: frames left out, or shown twice. The last stands until the sound has ended."""
    if assembly.speed == 1:
        return ""
    rate = _rate(assembly)
    return f"setpts=PTS/{assembly.speed:.4f},fps={rate}:start_time=0,tpad=stop=2:stop_mode=clone,"


def _rate(assembly: Assembly) -> str:
    return f"{assembly.rate.numerator}/{assembly.rate.denominator}"


def _kept_frames(assembly: Assembly, reach: Reach) -> str:
    """Only the frames of the segments, numbered anew. The last frame stands where the picture ends before the sound."""
    rate = _rate(assembly)
    firsts = ((s.source_frame - reach.first_frame, s.frames) for s in assembly.segments)
    kept = _any_of([f"between(n\\,{first}\\,{first + frames - 1})" for first, frames in firsts])
    # As long as what is decoded at most: one that ends at its first frame needs so many more.
    return (
        f"[0:v:0]fps={rate}:start_time=0,tpad=stop={reach.frames}:stop_mode=clone,select='{kept}',setpts=N/({rate})/TB"
    )


def _any_of(terms: Sequence[str]) -> str:
    """An expression that is not zero where one of several is not: a balanced tree of sums, since ffmpeg's parser goes one
    level deeper for each term of a plain one and refuses a hundred."""
    if len(terms) == 1:
        return terms[0]
    half = len(terms) // 2
    return f"({_any_of(terms[:half])}+{_any_of(terms[half:])})"


def _composed(assembly: Assembly, source: Source) -> str:
    assert assembly.picture is not None
    placed, width, height = assembly.picture, assembly.destination.width, assembly.destination.height
    picture = window_filter(placed, source)
    if (placed.width_px, placed.height_px) == (width, height):
        return f"{picture},"
    if assembly.framing.backdrop == "colour":
        colour = for_old_matrix(assembly.framing.colour)
        return f"{picture},format=yuv420p,pad={width}:{height}:{placed.x_px}:{placed.y_px}:color={colour},"
    scale = _BLUR_SIDE / min(width, height)
    small = f"{round(width * scale / 2) * 2}:{round(height * scale / 2) * 2}"
    return (
        f"split[a][b];[a]scale={small}:force_original_aspect_ratio=increase,crop={small},gblur=5,"
        f"scale={width}:{height}[back];[b]{picture}[front];[back][front]overlay={placed.x_px}:{placed.y_px},"
    )


def window_filter(placed: Placed, source: Source) -> str:
    """The window cut out and scaled to its box: to even source pixels around it first, the rest in output pixels.

    A window edge rarely falls on a whole source pixel (a 9:16 window of 1080 lines is 607.5 wide); cropping a little
    wide, scaling, and cropping what is left over places it to a part of a pixel without stretching anything.
    """
    window = placed.window
    x, crop_width = _even_around(window.x * source.width, window.width * source.width, source.width)
    y, crop_height = _even_around(window.y * source.height, window.height * source.height, source.height)
    scale = placed.width_px / (window.width * source.width)
    full_width = max(placed.width_px, round(crop_width * scale / 2) * 2)
    full_height = max(placed.height_px, round(crop_height * scale / 2) * 2)
    left = min(round((window.x * source.width - x) * scale), full_width - placed.width_px)
    top = min(round((window.y * source.height - y) * scale), full_height - placed.height_px)
    return (
        f"crop={crop_width}:{crop_height}:{x}:{y},scale={full_width}:{full_height}:flags=bicubic,"
        f"crop={placed.width_px}:{placed.height_px}:{left}:{top}:exact=1"
    )


def _even_around(start: float, length: float, whole: int) -> tuple[int, int]:
    """The even start and length of a stretch of pixels that holds another, inside the whole."""
    first = int(start // 2) * 2
    end = min(whole, -int(-(start + length) // 2) * 2)
    return first, end - first
