"""The command that makes a clip: what is read, the graph, how picture and sound are coded."""

from collections.abc import Mapping, Sequence
from pathlib import Path

from nimble_quote.core.assembly import Assembly
from nimble_quote.core.preflight import LOUDNESS_LUFS
from nimble_quote.formats.ass import faces_in, write_ass
from nimble_quote.lettering.shaping import Faces
from nimble_quote.media.coding import TAGS, coding_of
from nimble_quote.media.colour import for_old_matrix, script_for_burning
from nimble_quote.media.ffmpeg import GUARDS, Progress, run, run_with_progress
from nimble_quote.media.loudness import levelled
from nimble_quote.media.reach import Reach, last_frame_before
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

_SOUND_SHARE = 0.08
"""The part of the whole work that the sound is, for the progress."""
_SOUND, _GRAPH, CLIP = "sound.wav", "graph.txt", "clip.mp4"
ENCODER = ("-c:v", "libx264", "-preset", "veryfast", "-profile:v", "high", "-crf", "20", "-maxrate", "12M",
           "-bufsize", "12M", "-pix_fmt", "yuv420p")  # fmt: skip


async def render(
    assembly: Assembly, sources: Mapping[str, Source], faces: Faces, scratch: Path, progress: Progress,
    pictures: Mapping[int, bytes] | None = None, sounds: Sounds | None = None,
) -> Path:  # fmt: skip
    """Makes the clip in the scratch folder and returns its path; `sources` by the ids that the Assembly names, the
    recording among them; `pictures` and `sounds` (their samples) of the house's by their numbers. Raises `MediaFailed` where ffmpeg fails."""
    await lay_sound(assembly, sources, scratch / "bed.wav", sounds or {})
    await levelled(scratch / "bed.wav", scratch / _SOUND, LOUDNESS_LUFS)
    await progress(_SOUND_SHARE)
    inputs = await _prepared(assembly, sources, faces, scratch, pictures or {})

    async def picture_progress(part: float) -> None:
        await progress(_SOUND_SHARE + (1 - _SOUND_SHARE) * part)

    await run_with_progress(_command(assembly, inputs, sources), assembly.length_ms, picture_progress, scratch)
    return scratch / CLIP


async def render_cover(
    assembly: Assembly, sources: Mapping[str, Source], faces: Faces, scratch: Path, pictures: Mapping[int, bytes]
) -> tuple[Path, Path] | None:
    """The cover of an Assembly as PNG and as JPEG, each in the size of the clip; None where it has none. Raises `MediaFailed`."""
    if not assembly.cover_frames:
        return None
    over = tuple(one for one in assembly.overlays if one.first_frame < assembly.cover_frames)
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


def _command(assembly: Assembly, inputs: Sequence[Input], sources: Mapping[str, Source]) -> list[str]:
    rate = rate_of(assembly.rate)
    read = [part for one in inputs for part in _reading(one, assembly, sources)]
    return [
        "ffmpeg", "-v", "error", "-nostdin", "-y", *read, *GUARDS, "-i", _SOUND,
        "-filter_complex_script", _GRAPH, "-map", f"[{OUT}]", "-map", f"{len(inputs)}:a:0",
        *ENCODER, *TAGS, "-r", rate, "-g", str(round(assembly.rate * 2)),
        # At this rate the fast way of coding is the truer one, and takes half as long.
        "-c:a", "aac", "-aac_coder", "fast", "-b:a", "160k", "-ar", "48000", "-ac", "2",
        "-map_metadata", "-1", "-movflags", "+faststart", "-progress", "pipe:1", "-f", "mp4", CLIP,
    ]  # fmt: skip


def _reading(one: Input, assembly: Assembly, sources: Mapping[str, Source]) -> list[str]:
    if one.read.source is None or one.reach is None:
        colour = for_old_matrix(one.read.runs[0].behind.colour)
        size = f"{assembly.destination.width}x{assembly.destination.height}"
        return ["-f", "lavfi", "-i", f"color=c={colour}:s={size}:r={rate_of(assembly.rate)}"]
    return [*one.reach.seek, *GUARDS, "-i", str(sources[one.read.source].path)]
