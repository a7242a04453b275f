"""The command that makes a clip: what is read, the graph, how picture and sound are coded."""

from collections.abc import Awaitable, Callable, Mapping, Sequence
from fractions import Fraction
from pathlib import Path
from typing import Literal

from nimble_quote.core.assembly import Assembly
from nimble_quote.core.assembly.placed import PlacedOverlay
from nimble_quote.core.chapters import Chapter
from nimble_quote.core.making import (
    QUALITIES,
    SIZE_SLACK,
    SOUND_KILOBITS,
    USUAL,
    Codec,
    Making,
    Quality,
    picture_kilobits,
)
from nimble_quote.core.preflight import LOUDNESS_LUFS
from nimble_quote.formats.ass import faces_in, write_ass
from nimble_quote.lettering.shaping import Faces
from nimble_quote.media.coding import TAGS, coding_of
from nimble_quote.media.colour import for_old_matrix, script_for_burning
from nimble_quote.media.ffmpeg import GUARDS, Progress, ffprobe, run, run_with_progress, together
from nimble_quote.media.loudness import levelled
from nimble_quote.media.reach import Reach, last_frame_before
from nimble_quote.media.render.coders import at_rate, by_quality, forget_notes
from nimble_quote.media.render.compiling import (
    CAPTIONS_FILE,
    FONTS_FOLDER,
    OUT,
    Input,
    compile_graph,
    footage_of,
    inputs_of,
)
from nimble_quote.media.render.layers.backdrop import picture_file
from nimble_quote.media.render.layers.pictures import drawn_over, overlay_file, overlay_picture
from nimble_quote.media.render.runs import Pass, rate_of
from nimble_quote.media.sound import Sounds, lay_sound
from nimble_quote.media.source import Source
from nimble_quote.media.tags import Tags, chapters_file

_SOUND_SHARE = 0.08
"""The part of the whole work that the sound is, for the progress."""
_SOUND, _GRAPH, CLIP, _COUNTED = "sound.wav", "graph.txt", "clip.mp4", "counted.mp4"
# At this rate the fast way of coding is the truer one, and takes half as long.
_SOUND_CODING = ("-c:a", "aac", "-aac_coder", "fast", "-b:a", f"{SOUND_KILOBITS}k", "-ar", "48000", "-ac", "2")
NO_TAGS = Tags()
Run = Callable[[list[str], float, float], Awaitable[None]]
_MOST_TURNS = 4
"""A size is tried for at most so often."""


async def render(
    assembly: Assembly, sources: Mapping[str, Source], faces: Faces, scratch: Path, progress: Progress,
    pictures: Mapping[int, bytes] | None = None, sounds: Sounds | None = None, making: Making = USUAL, tags: Tags = NO_TAGS,
) -> Path:  # fmt: skip
    """Makes the clip in the scratch folder and returns its path; `sources` by the ids that the Assembly names, the
    recording among them; `pictures` and `sounds` (their samples) of the house's by their numbers. One that comes out larger than its
    destination takes is made again to fit. Raises `MediaFailed` where ffmpeg fails, `TooSmall` where a size can't be met."""
    _, inputs = await together(
        _sound(assembly, sources, scratch, sounds or {}),
        _prepared(assembly, sources, faces, scratch, pictures or {}),
    )
    await progress(_SOUND_SHARE)

    async def made(coding: list[str], low: float, high: float) -> None:
        async def picture_progress(part: float) -> None:
            await progress(_SOUND_SHARE + (1 - _SOUND_SHARE) * (low + (high - low) * part))

        command = _command(assembly, inputs, sources, coding, tags)
        await run_with_progress(command, assembly.length_ms, picture_progress, scratch)

    most = assembly.destination.largest_mb * 1_000_000
    if making.size_mb is None:
        await made(by_quality(making), 0.0, 1.0)
        if (scratch / CLIP).stat().st_size <= most:
            return scratch / CLIP
    wanted = most * (1 - SIZE_SLACK) if making.size_mb is None else making.size_mb * 1_000_000
    await _to_size(assembly, making, wanted, scratch, made)
    return scratch / CLIP


async def _sound(assembly: Assembly, sources: Mapping[str, Source], scratch: Path, sounds: Sounds) -> None:
    """Writes the sound of an Assembly, as loud as clips are, into a folder."""
    await lay_sound(assembly, sources, scratch / "bed.wav", sounds)
    await levelled(scratch / "bed.wav", scratch / _SOUND, LOUDNESS_LUFS)


async def _to_size(assembly: Assembly, making: Making, wanted: float, scratch: Path, made: Run) -> None:
    """Makes a clip as large as is wanted: at the bit rate that leaves, and again by what the first turn noted where that is off."""
    await run(
        ["ffmpeg", "-v", "error", "-nostdin", "-y", *GUARDS, "-i", _SOUND, *_SOUND_CODING, "-f", "mp4", _COUNTED],
        scratch,
    )
    sound = (scratch / _COUNTED).stat().st_size
    forget_notes(scratch)
    goal = kilobits = picture_kilobits(wanted, assembly.length_ms, sound, assembly.frames)
    for turn in range(_MOST_TURNS):
        await made(at_rate(making, kilobits, turn), 1 - 0.5**turn, 1 - 0.5 ** (turn + 1))
        size = (scratch / CLIP).stat().st_size
        if abs(size - wanted) <= SIZE_SLACK / 2 * wanted:
            return
        if turn:
            # The encoder came out beside what it was asked for: asked for as much more, or less.
            got = picture_kilobits(max(size, sound + wanted / 10), assembly.length_ms, sound, assembly.frames)
            kilobits *= min(2.0, max(0.5, goal / got))


async def render_sound(
    assembly: Assembly, sources: Mapping[str, Source], scratch: Path, sounds: Sounds, kind: Literal["m4a", "mp3"], tags: Tags,
    chapters: Sequence[Chapter], cover: Path | None,
) -> Path:  # fmt: skip
    """The sound of an Assembly alone, with chapters, and a picture as its cover. Raises `MediaFailed`."""
    await _sound(assembly, sources, scratch, sounds)
    (scratch / "chapters.txt").write_text(chapters_file(chapters), encoding="utf-8")
    picture = ["-i", str(cover)] if cover else []
    shown = ["-map", "2:v", "-c:v", "copy", "-disposition:v", "attached_pic"] if cover else []
    coding = ["-c:a", "aac"] if kind == "m4a" else ["-c:a", "libmp3lame", "-id3v2_version", "3"]
    written = ["-movflags", "+faststart", "-f", "ipod"] if kind == "m4a" else ["-f", "mp3"]
    target = scratch / f"clip.{kind}"
    await run(
        ["ffmpeg", "-v", "error", "-nostdin", "-y", "-i", _SOUND, "-f", "ffmetadata", "-i", "chapters.txt", *picture, "-map", "0:a:0", *shown, *coding,
         "-b:a", f"{SOUND_KILOBITS}k", "-ar", "48000", "-ac", "2", *tags.options, "-map_chapters", "1", *written, target.name],
        scratch,
    )  # fmt: skip
    return target


async def render_cover(
    assembly: Assembly, sources: Mapping[str, Source], faces: Faces, scratch: Path, pictures: Mapping[int, bytes]
) -> tuple[Path, Path] | None:
    """The cover of an Assembly as PNG and as JPEG, each in the size of the clip; None where it has none. Raises `MediaFailed`."""
    if not assembly.cover_frames:
        return None
    over = tuple(one for one in assembly.overlays if one.first_frame < assembly.cover_frames)
    return await _still(assembly, over, sources, faces, scratch, pictures)


async def render_first(
    assembly: Assembly, sources: Mapping[str, Source], faces: Faces, scratch: Path, pictures: Mapping[int, bytes]
) -> tuple[Path, Path]:
    """The first frame of an Assembly as PNG and as JPEG, without what is written over it. Raises `MediaFailed`."""
    return await _still(assembly, (), sources, faces, scratch, pictures)


async def probe(
    assembly: Assembly, sources: Mapping[str, Source], faces: Faces, scratch: Path, pictures: Mapping[int, bytes], codec: Codec,
) -> dict[Quality, tuple[float, float]]:  # fmt: skip
    """How many bytes a key frame and any other frame of an Assembly take on average, at each quality, from one pass over it. Raises
    `MediaFailed`."""
    inputs = await _prepared(assembly, sources, faces, scratch, pictures)
    graph = (scratch / _GRAPH).read_text(encoding="utf-8")
    ways = "".join(f"[{name}]" for name in QUALITIES)
    (scratch / _GRAPH).write_text(f"{graph};[{OUT}]split={len(QUALITIES)}{ways}", encoding="utf-8")
    read = [part for one in inputs for part in _reading(one, assembly, sources)]
    written: list[str] = []
    for name in QUALITIES:
        coding = by_quality(Making(codec=codec, quality=name))
        written += [
            "-map",
            f"[{name}]",
            *coding,
            *TAGS,
            "-r",
            rate_of(assembly.rate),
            "-g",
            str(key_frames(assembly.rate)),
            f"{name}.mp4",
        ]
    await run(["ffmpeg", "-v", "error", "-nostdin", "-y", *read, "-filter_complex_script", _GRAPH, *written], scratch)
    return {name: await _frame_bytes(scratch / f"{name}.mp4") for name in QUALITIES}


async def _frame_bytes(clip: Path) -> tuple[float, float]:
    found = await ffprobe(clip, "-select_streams", "v:0", "-show_entries", "packet=size,flags")
    sizes = [(int(one["size"]), "K" in one["flags"]) for one in found["packets"]]
    keys, others = [size for size, key in sizes if key], [size for size, key in sizes if not key]
    return sum(keys) / max(1, len(keys)), sum(others) / max(1, len(others))


async def _still(
    assembly: Assembly, over: tuple[PlacedOverlay, ...], sources: Mapping[str, Source], faces: Faces, scratch: Path,
    pictures: Mapping[int, bytes],
) -> tuple[Path, Path]:  # fmt: skip
    """The first frame of an Assembly with some overlays, as PNG and as JPEG."""
    first = assembly.model_copy(
        update={"frames": 1, "picture": assembly.picture[:1], "overlays": over, "cue_tracks": (), "card_frame": None}
    )
    folder = scratch / "cover"
    folder.mkdir()
    inputs = await _prepared(first, sources, faces, folder, pictures)
    read = [part for one in inputs for part in _reading(one, first, sources)]
    graph = (folder / _GRAPH).read_text(encoding="utf-8")
    still = f";[{OUT}]scale=in_color_matrix=bt709:in_range=tv:out_range=pc,format=rgb24[still]"
    (folder / _GRAPH).write_text(graph + still, encoding="utf-8")
    await run(
        ["ffmpeg", "-v", "error", "-nostdin", "-y", *read, "-filter_complex_script", _GRAPH, "-map", "[still]", "-frames:v", "1",
         "cover.png"], folder,
    )  # fmt: skip
    await run(
        ["ffmpeg", "-v", "error", "-nostdin", "-y", "-i", "cover.png", "-vf", "format=yuvj444p", "-q:v", "2", "cover.jpg"], folder
    )  # fmt: skip
    return folder / "cover.png", folder / "cover.jpg"


async def _prepared(
    assembly: Assembly, sources: Mapping[str, Source], faces: Faces, scratch: Path, pictures: Mapping[int, bytes]
) -> list[Input]:
    """Puts all that the graph of an Assembly names beside it in a folder; what is read for it."""
    for number in assembly.house_pictures:
        (scratch / picture_file(number)).write_bytes(pictures[number])
    for one in drawn_over(assembly):
        (scratch / overlay_file(one)).write_bytes(await overlay_picture(one, assembly, pictures))
    script = write_ass(assembly, faces)
    (scratch / CAPTIONS_FILE).write_text(script_for_burning(script), encoding="utf-8")
    # Only those that are named: looking through all there are takes a second.
    (scratch / FONTS_FOLDER).mkdir()
    for name in faces_in(script):
        file = faces.file_of(name).resolve()
        (scratch / FONTS_FOLDER / file.name).symlink_to(file)
    inputs = [await _input(one, assembly, sources) for one in inputs_of(assembly)]
    footage = [await _input(one, assembly, sources) for one in footage_of(assembly)]
    (scratch / _GRAPH).write_text(compile_graph(assembly, inputs, footage), encoding="utf-8")
    return [*inputs, *footage]


async def _input(one: Pass, assembly: Assembly, sources: Mapping[str, Source]) -> Input:
    """What is read for a pass. Where the source's picture ends before that, its last frame is."""
    if one.source is None:
        return Input(one)
    path = sources[one.source].path
    reach = Reach.of(one.runs, assembly.rate)
    last = await last_frame_before(path, reach.first_frame + reach.frames, assembly.rate)
    return Input(one, reach.back_to(last), await coding_of(path))


def _command(
    assembly: Assembly, inputs: Sequence[Input], sources: Mapping[str, Source], coding: Sequence[str], tags: Tags
) -> list[str]:
    rate = rate_of(assembly.rate)
    read = [part for one in inputs for part in _reading(one, assembly, sources)]
    return [
        "ffmpeg", "-v", "error", "-nostdin", "-y", *read, *GUARDS, "-i", _SOUND,
        "-filter_complex_script", _GRAPH, "-map", f"[{OUT}]", "-map", f"{len(inputs)}:a:0",
        *coding, *TAGS, "-r", rate, "-g", str(key_frames(assembly.rate)), *_SOUND_CODING,
        *tags.options, "-movflags", "+faststart", "-progress", "pipe:1", "-f", "mp4", CLIP,
    ]  # fmt: skip


def key_frames(rate: Fraction) -> int:
    """Each so manyth frame is one that can be shown by itself: every two seconds."""
    return round(rate * 2)


def _reading(one: Input, assembly: Assembly, sources: Mapping[str, Source]) -> list[str]:
    if one.read.source is None or one.reach is None:
        colour = for_old_matrix(one.read.runs[0].behind.colour)
        size = f"{assembly.destination.width}x{assembly.destination.height}"
        return ["-f", "lavfi", "-i", f"color=c={colour}:s={size}:r={rate_of(assembly.rate)}"]
    return [*one.reach.seek, *GUARDS, "-i", str(sources[one.read.source].path)]
