"""The renderer by what comes out of it: measured, listened to, and looked at frame by frame."""

import subprocess
import wave
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import numpy as np
import pytest

from nimble_quote.core.assembly import RECORDING, Assembly, RecordingFacts, assemble
from nimble_quote.core.assembly.model import MusicLayer
from nimble_quote.core.catalogue import Picture
from nimble_quote.core.destinations import Destination
from nimble_quote.core.document import Cover, CoverPicture, EndCard, Footage, Insert, What
from nimble_quote.core.edits import (
    AddOverlay,
    AddVersion,
    Edit,
    FrameShot,
    FramingChange,
    PlayFast,
    SetSpeed,
    ShowCaptions,
    Shows,
    SoftenJoins,
    StrikeWords,
    apply_edit,
    new_quote,
)
from nimble_quote.core.preflight import judge_file
from nimble_quote.core.sound.cleaning import CLEANING
from nimble_quote.core.timebase import Span
from nimble_quote.media.coding import Coding
from nimble_quote.media.colour import for_old_matrix, script_for_burning
from nimble_quote.media.measure import index_comes_first, measure_clip
from nimble_quote.media.probe import probe_source
from nimble_quote.media.reach import Reach
from nimble_quote.media.render import Source, render, render_cover
from nimble_quote.media.render.compiling import Input, compile_graph, inputs_of
from tests.conftest import make_media
from tests.shipped import DESTINATIONS, LETTERING, STYLES
from tests.talks import context_of, talk_of

SAID = "one two three four five six seven eight nine ten eleven twelve"
# Five bars, black or white: the number of the frame in binary, over and over.
COUNTED = "nullsrc=s=80x60:r={rate}:d=8,geq=lum='16+219*mod(floor(N/pow(2\\,floor(X/16)))\\,2)':cb=128:cr=128"


async def no_progress(part: float) -> None:
    assert 0 <= part <= 1


def quarter(destination: Destination) -> Destination:
    """A destination at a quarter of its width and height, where what is tried does not hang on them: made much sooner."""
    return destination.model_copy(update={"width": destination.width // 4, "height": destination.height // 4})


def assembly_of(
    facts: RecordingFacts,
    *edits: Edit,
    destination: str = "square-60",
    small: bool = False,
    pictures: tuple[Picture, ...] = (),
) -> Assembly:
    context = context_of(talk_of(SAID, word_ms=400, gap_ms=60))
    context = replace(context, catalogue=context.catalogue.model_copy(update={"pictures": pictures}))
    document = apply_edit(new_quote(context, 1, 10), AddVersion(destination=destination), context)
    for edit in edits:
        document = apply_edit(document, edit, context)
    output = DESTINATIONS[destination]
    return assemble(document, context, facts, quarter(output) if small else output)


async def rendered(assembly: Assembly, media: Path, folder: Path, **more: Path) -> Path:
    folder.mkdir(exist_ok=True)
    sources = {RECORDING: Source(path=media), **{name: Source(path=path) for name, path in more.items()}}
    return await render(assembly, sources, LETTERING, folder, no_progress)


def luma(path: Path) -> list[float]:
    """The mean brightness of each frame, 16 (black) to 235 (white)."""
    out = subprocess.run(
        ["ffmpeg", "-v", "error", "-i", str(path), "-vf", "scale=8:8:flags=area:in_range=tv:out_range=tv,format=yuv420p,extractplanes=y", "-f", "rawvideo", "-"],
        capture_output=True, check=True,
    ).stdout  # fmt: skip
    return [float(v) for v in np.frombuffer(out, np.uint8).reshape(-1, 64).mean(axis=1)]


def samples(path: Path) -> np.ndarray:
    out = subprocess.run(
        ["ffmpeg", "-v", "error", "-i", str(path), "-ac", "1", "-ar", "48000", "-f", "f32le", "-"],
        capture_output=True, check=True,
    ).stdout  # fmt: skip
    return np.frombuffer(out, "<f4")


def numbers(path: Path) -> list[int]:
    """The number that each frame of a counted picture shows, 0 to 31."""
    out = subprocess.run(
        ["ffmpeg", "-v", "error", "-i", str(path), "-vf", "scale=5:1:flags=area,format=gray", "-f", "rawvideo", "-"],
        capture_output=True, check=True,
    ).stdout  # fmt: skip
    bars = np.frombuffer(out, np.uint8).reshape(-1, 5) > 128
    return [int(n) for n in bars @ (1 << np.arange(5))]


def planned(assembly: Assembly) -> list[int]:
    """The numbers that each frame of a clip should show."""
    return [assembly.run_at(frame).source_at(frame) % 32 for frame in range(assembly.frames)]


pytestmark = pytest.mark.anyio
MANY_CUTS = [StrikeWords(first=i, last=i) for i in (2, 4, 6, 8)]
NO_CAPTIONS = ShowCaptions(shown=False)


@pytest.mark.parametrize("rate", ["30000/1001", "50"])
async def test_every_frame_of_a_cut_is_the_one_that_was_planned(rate: str, tmp_path: Path):
    media = make_media(
        tmp_path / "counted.mp4", COUNTED.format(rate=rate), "sine=r=48000:d=8",
        options=("-c:v", "libx264", "-preset", "ultrafast", "-pix_fmt", "yuv420p", "-g", "40", "-c:a", "aac"),
    )  # fmt: skip
    facts = RecordingFacts(duration_ms=8000, width=80, height=60, rate=Fraction(rate))
    assembly = assembly_of(facts, *MANY_CUTS, NO_CAPTIONS, destination="wide-140", small=True)
    assert len(assembly.picture) == 5
    clip = await rendered(assembly, media, tmp_path / "work")
    assert numbers(clip) == planned(assembly)
    measured = await measure_clip(clip)
    assert abs(measured.video_ms - measured.audio_ms) < 10
    assert abs(measured.video_ms - assembly.length_ms) < 1


async def test_the_file_is_what_every_destination_takes(clip: Path, tmp_path: Path):
    facts = RecordingFacts(duration_ms=10_000, width=640, height=360, rate=Fraction(25))
    for destination in ("tall-60", "portrait-60", "wide-140"):
        assembly = assembly_of(facts, *MANY_CUTS, destination=destination)
        made = await rendered(assembly, clip, tmp_path / destination)
        measured = await measure_clip(made)
        assert judge_file(measured, assembly) == (), destination
        assert measured.loudness_lufs == pytest.approx(-14, abs=0.5)


async def test_sound_and_picture_stay_together_across_joins(tmp_path: Path):
    """A white flash and a beep at the same moments of the source arrive at the same moments of the clip."""
    flash = "nullsrc=s=80x60:r=25:d=8,geq=lum='if(between(mod(N\\,10)\\,0\\,1)\\,235\\,16)':cb=128:cr=128"
    beep = "aevalsrc=if(lt(mod(t\\,0.4)\\,0.08)\\,0.5*sin(6000*t)\\,0):s=48000:d=8"
    media = make_media(
        tmp_path / "sync.mp4", flash, beep, options=("-c:v", "libx264", "-preset", "ultrafast", "-c:a", "aac")
    )
    facts = RecordingFacts(duration_ms=8000, width=80, height=60, rate=Fraction(25))
    assembly = assembly_of(facts, *MANY_CUTS, NO_CAPTIONS, small=True)
    clip = await rendered(assembly, media, tmp_path / "work")
    joins = [piece.out_ms for piece in assembly.sound.speech]
    seen = rises(np.array(luma(clip)) > 100, 40)
    sound = np.abs(samples(clip))
    heard = rises(sound[: len(sound) // 48 * 48].reshape(-1, 48).max(axis=1) > 0.3 * sound.max(), 1)
    apart = [np.abs(heard - at).min() for at in seen if np.abs(np.array(joins) - at).min() > 100]
    assert len(apart) >= 5
    assert max(apart) <= 22, "half a frame is 20 ms"


@pytest.mark.parametrize(("times", "silent"), [(3.0, False), (4.0, True), (1.5, False)])
async def test_a_fast_stretch_is_cut_to_the_frame_and_keeps_its_pitch(times: float, silent: bool, tmp_path: Path):
    media = make_media(
        tmp_path / "counted.mp4", COUNTED.format(rate="25"), "sine=f=440:r=48000:d=8",
        options=("-c:v", "libx264", "-preset", "ultrafast", "-pix_fmt", "yuv420p", "-g", "40", "-c:a", "aac"),
    )  # fmt: skip
    facts = RecordingFacts(duration_ms=8000, width=80, height=60, rate=Fraction(25))
    fast = PlayFast(span=Span(start_ms=1500, end_ms=3900), times=times, silent=silent)
    assembly = assembly_of(facts, fast, MANY_CUTS[-1], NO_CAPTIONS, destination="wide-140", small=True)
    clip = await rendered(assembly, media, tmp_path / "work")
    assert numbers(clip) == planned(assembly)
    assert (await measure_clip(clip)).audio_ms == pytest.approx(assembly.length_ms, abs=1)
    stretch = next(one for one in assembly.sound.played if one.times == times)
    sound = samples(clip)
    inside = sound[int(stretch.out_ms * 48) + 2400 : int(stretch.out_end_ms * 48) - 2400]
    after = sound[int(stretch.out_end_ms * 48) + 2400 :][:9600]
    heard = [np.argmax(np.abs(np.fft.rfft(part))) * 48000 / len(part) for part in (inside, after)]
    assert heard[1] == pytest.approx(440, abs=10)
    if silent:
        assert np.abs(inside).max() < 0.01 * np.abs(after).max()
    else:
        assert heard[0] == pytest.approx(440, abs=10), "as high as it was"
        assert np.abs(inside).max() > 0.5 * np.abs(after).max()


@pytest.mark.parametrize("silent", [False, True])
async def test_after_a_fast_stretch_sound_and_picture_are_together(silent: bool, tmp_path: Path):
    """A flash and a beep of the source some time after what was played fast arrive together."""
    flash = "nullsrc=s=80x60:r=25:d=8,geq=lum='if(eq(N\\,120)\\,235\\,16)':cb=128:cr=128"
    beep = "aevalsrc=if(between(t\\,4.8\\,4.88)\\,0.5*sin(6000*t)\\,0):s=48000:d=8"
    media = make_media(
        tmp_path / "sync.mp4", flash, beep, options=("-c:v", "libx264", "-preset", "ultrafast", "-c:a", "aac")
    )
    facts = RecordingFacts(duration_ms=8000, width=80, height=60, rate=Fraction(25))
    fast = [
        PlayFast(span=Span(start_ms=1200 + n * 1000, end_ms=1700 + n * 1000), times=3.7, silent=silent)
        for n in range(3)
    ]
    assembly = assembly_of(facts, *fast, NO_CAPTIONS, small=True)
    clip = await rendered(assembly, media, tmp_path / "work")
    sound = np.abs(samples(clip))
    seen, heard = np.argmax(luma(clip)) * 40, np.argmax(sound > 0.3 * sound.max()) / 48
    assert abs(seen - heard) <= 22, "half a frame is 20 ms"


@pytest.mark.parametrize("seconds", [2, 0.2])
async def test_where_the_picture_has_ended_its_last_frame_stands(seconds: float, tmp_path: Path):
    media = make_media(
        tmp_path / "short.mp4", f"testsrc2=s=320x240:r=25:d={seconds}", "sine=r=48000:d=8",
        options=("-c:v", "libx264", "-preset", "ultrafast", "-pix_fmt", "yuv420p", "-c:a", "aac"),
    )  # fmt: skip
    facts = RecordingFacts(duration_ms=8000, width=320, height=240, rate=Fraction(25))
    assembly = assembly_of(facts, *MANY_CUTS)
    clip = await rendered(assembly, media, tmp_path / "work")
    assert judge_file(await measure_clip(clip), assembly) == ()


@pytest.mark.parametrize("name", ["late.mp4"])
async def test_a_recording_that_starts_late_is_cut_where_it_says(name: str, tmp_path: Path):
    media = make_media(
        tmp_path / name, COUNTED.format(rate="25"), "sine=r=48000:d=8",
        options=("-c:v", "libx264", "-preset", "ultrafast", "-pix_fmt", "yuv420p", "-g", "40", "-c:a", "libopus",
                 "-output_ts_offset", "100"),
    )  # fmt: skip
    facts = RecordingFacts(duration_ms=8000, width=80, height=60, rate=Fraction(25))
    assembly = assembly_of(facts, *MANY_CUTS, NO_CAPTIONS, destination="wide-140", small=True)
    clip = await rendered(assembly, media, tmp_path / "work")
    assert numbers(clip) == planned(assembly)


async def test_a_cut_of_hundreds_of_pieces_is_made(tmp_path: Path):
    """Every second word struck by hand, four hundred of them: more terms than an expression of ffmpeg may have in a row."""
    talk = talk_of("lamp " * 802, word_ms=40, gap_ms=4, start_ms=400)
    struck = tuple(
        Span(start_ms=word.start_ms - 2, end_ms=word.end_ms + 2) for word in talk.words[1:-1] if word.index % 2
    )
    document = new_quote(context_of(talk), 0, 801).model_copy(update={"struck": struck})
    document = apply_edit(document, AddVersion(destination="square-60"), context_of(talk))
    document = apply_edit(document, SoftenJoins(destination="square-60", soften="scale"), context_of(talk))
    media = make_media(
        tmp_path / "long.mp4", "testsrc2=s=320x240:r=25:d=38", "sine=r=48000:d=38",
        options=("-c:v", "libx264", "-preset", "ultrafast", "-pix_fmt", "yuv420p", "-c:a", "aac"),
    )  # fmt: skip
    facts = RecordingFacts(duration_ms=38_000, width=320, height=240, rate=Fraction(25))
    assembly = assemble(document, context_of(talk), facts, quarter(DESTINATIONS["square-60"]))
    assert len(assembly.picture) > 390
    clip = await rendered(assembly, media, tmp_path / "work")
    measured = await measure_clip(clip)
    assert measured.frames == assembly.frames


def test_colours_in_tags_and_with_alpha_are_changed_for_burning_too():
    script = r"Style: &H00112233,&H80AABBCC {\1c&H112233&\3a&H80&} {\4c&HAABBCC&}"
    burnt = script_for_burning(script)
    code = for_old_matrix("#332211")
    changed = f"{code[5:7]}{code[3:5]}{code[1:3]}"
    assert f"&H00{changed}," in burnt
    assert rf"\1c&H{changed}&" in burnt
    assert "&H80&" in burnt, "an alpha is no colour"
    assert "AABBCC" not in burnt


def rises(on: np.ndarray, each_ms: int) -> np.ndarray:
    """The moments at which something begins that was not there for a tenth of a second."""
    quiet = 100 // each_ms
    return np.array([i * each_ms for i in np.flatnonzero(on) if i > quiet and not on[i - quiet : i].any()])


async def test_no_join_clicks(tmp_path: Path):
    """Joins of a steady low tone at any phase leave no step larger than the tone's own."""
    media = make_media(tmp_path / "tone.wav", "aevalsrc=0.5*sin(2*PI*110*t):s=48000:d=8")
    facts = RecordingFacts(duration_ms=8000, width=0, height=0, rate=Fraction(25))
    clip = await rendered(assembly_of(facts, *MANY_CUTS, NO_CAPTIONS, small=True), media, tmp_path / "work")
    sound = samples(clip)
    steepest = 2 * np.pi * 110 / 48000 * np.abs(sound).max()
    assert np.abs(np.diff(sound)).max() < 2.5 * steepest


async def test_a_recording_without_picture_becomes_a_clip_with_captions_on_colour(tmp_path: Path):
    media = make_media(tmp_path / "a.m4a", "sine=r=44100:d=8", options=("-c:a", "aac"))
    facts = RecordingFacts(duration_ms=8000, width=0, height=0, rate=Fraction(25))
    colour = FrameShot(change=FramingChange(colour="#0B6E6E"))
    assembly = assembly_of(facts, colour)
    clip = await rendered(assembly, media, tmp_path / "work")
    assert judge_file(await measure_clip(clip), assembly) == ()
    corner = pixel(clip, 40, 40)
    assert max(abs(a - b) for a, b in zip(corner, (0x0B, 0x6E, 0x6E), strict=True)) <= 3


def pixel(path: Path, x: int, y: int) -> tuple[int, int, int]:
    out = subprocess.run(
        ["ffmpeg", "-v", "error", "-ss", "0.5", "-i", str(path), "-frames:v", "1", "-vf",
         f"crop=8:8:{x}:{y}:exact=1,scale=1:1:in_color_matrix=bt709,format=rgb24", "-f", "rawvideo", "-"],
        capture_output=True, check=True,
    ).stdout  # fmt: skip
    return out[0], out[1], out[2]


async def test_a_fitted_picture_stands_on_its_colour_and_keeps_its_shape(tmp_path: Path):
    media = make_media(
        tmp_path / "red.mp4", "color=red:s=640x360:r=25:d=8,drawbox=x=270:y=130:w=100:h=100:color=white:t=fill", "sine=d=8",
        options=("-vf", "scale=out_color_matrix=bt709", "-colorspace", "bt709", "-c:v", "libx264", "-preset", "ultrafast", "-pix_fmt", "yuv420p"),
    )  # fmt: skip
    facts = RecordingFacts(duration_ms=8000, width=640, height=360, rate=Fraction(25))
    framing = FrameShot(change=FramingChange(layout="whole", backdrop="colour", colour="#3E4C9A"))
    assembly = assembly_of(facts, framing, NO_CAPTIONS)
    clip = await rendered(assembly, media, tmp_path / "work")
    assert max(abs(a - b) for a, b in zip(pixel(clip, 500, 60), (0x3E, 0x4C, 0x9A), strict=True)) <= 3
    raw = subprocess.run(
        ["ffmpeg", "-v", "error", "-i", str(clip), "-frames:v", "1", "-vf", "format=gray", "-f", "rawvideo", "-"],
        capture_output=True, check=True,
    ).stdout  # fmt: skip
    white = np.frombuffer(raw, np.uint8).reshape(1080, 1080) > 200
    across, down = white.any(axis=0).sum(), white.any(axis=1).sum()
    assert abs(int(across) - int(down)) <= 2
    assert 166 <= across <= 172


def test_colours_of_the_styles_survive_the_filters_that_use_the_older_matrix():
    old, new = (np.array(m) for m in ([[0.299, 0.587, 0.114]], [[0.2126, 0.7152, 0.0722]]))
    for style in STYLES.values():
        look = style.look
        behind = look.plate.colour if look.plate else look.outline.colour if look.outline else None
        for code in filter(None, (look.colour, look.spoken.colour, behind)):
            given = for_old_matrix(code)
            wanted, changed = (np.array([int(c[i : i + 2], 16) for i in (1, 3, 5)]) for c in (code, given))
            assert abs(float((old @ changed - new @ wanted)[0])) < 1.5, code


def test_the_graph_names_no_path_and_no_text():
    facts = RecordingFacts(duration_ms=8000, width=640, height=360, rate=Fraction(25))
    assembly = assembly_of(facts)
    (one,) = inputs_of(assembly)
    graph = compile_graph(assembly, [Input(one, Reach.of(one.runs, assembly.rate), Coding())])
    assert "one" not in graph.split("ass=")[0].replace("clone", "")


def test_an_index_at_the_end_is_noticed(tmp_path: Path, clip: Path):
    assert not index_comes_first(clip)
    quick = tmp_path / "quick.mp4"
    subprocess.run(
        ["ffmpeg", "-v", "error", "-i", str(clip), "-c", "copy", "-movflags", "+faststart", str(quick)], check=True
    )
    assert index_comes_first(quick)
    (tmp_path / "junk.mp4").write_bytes(b"\0\0\0\x04junkjunk")
    assert not index_comes_first(tmp_path / "junk.mp4")


@pytest.mark.parametrize("speed", [1.1, 0.95])
async def test_a_version_at_another_speed_shows_the_planned_frames_with_its_pitch_kept(speed: float, tmp_path: Path):
    media = make_media(tmp_path / "tone.mp4", COUNTED.format(rate=25), "sine=f=440:r=48000:d=8", options=("-c:v", "libx264", "-preset", "ultrafast", "-pix_fmt", "yuv420p", "-c:a", "aac"))  # fmt: skip
    facts = RecordingFacts(duration_ms=8000, width=80, height=60, rate=Fraction(25))
    fast = SetSpeed(destination="wide-140", speed=speed)
    assembly = assembly_of(facts, *MANY_CUTS, NO_CAPTIONS, fast, destination="wide-140", small=True)
    clip = await rendered(assembly, media, tmp_path / "work")
    assert numbers(clip) == planned(assembly)
    sound = samples(clip)
    assert abs(len(sound) / 48 - assembly.length_ms) < 30
    loudest = np.argmax(np.abs(np.fft.rfft(sound[:48_000]))) * 48_000 / 48_000
    assert loudest == pytest.approx(440, abs=4)


async def test_every_other_segment_is_shown_a_little_larger_where_jumps_are_eased(tmp_path: Path):
    media = make_media(
        tmp_path / "box.mp4", "color=black:s=640x360:r=25:d=8,drawbox=x=220:y=80:w=200:h=200:color=white:t=fill", "sine=d=8",
        options=("-c:v", "libx264", "-preset", "ultrafast", "-pix_fmt", "yuv420p"),
    )  # fmt: skip
    facts = RecordingFacts(duration_ms=8000, width=640, height=360, rate=Fraction(25))
    eased = SoftenJoins(destination="wide-140", soften="scale")
    assembly = assembly_of(facts, *MANY_CUTS, NO_CAPTIONS, eased, destination="wide-140", small=True)
    clip = await rendered(assembly, media, tmp_path / "work")
    light = luma(clip)
    middles = [light[run.first_frame + run.frames // 2] for run in assembly.picture]
    for number, level in enumerate(middles):
        larger = (level - 16) / (middles[0] - 16)
        assert larger == pytest.approx(1.06**2 if number % 2 else 1.0, abs=0.03)


FLASH = "nullsrc=s={size}:r={rate}:d=10,geq=lum='if(lt(mod(T\\,1)\\,0.12)\\,235\\,16)':cb=128:cr=128{jitter}"
BEEP = "aevalsrc=if(lt(mod(t\\,1)\\,0.12)\\,0.5*sin(6000*t)\\,0):s=48000:d=10"
JITTER = ",setpts='PTS+(random(1)-0.5)*0.03/TB'"


@pytest.mark.parametrize(
    ("name", "rate", "size", "jitter", "options"),
    [
        ("jitter.mp4", 25, "80x60", JITTER, ("-vsync", "vfr")),
        ("jitter.mkv", 30, "80x60", JITTER, ("-vsync", "vfr")),
        ("fast.mp4", 1000, "32x24", "", ()),
        ("turned.mp4", 25, "80x60", "", ("-metadata:s:v", "rotate=90")),
        ("odd.mp4", 25, "82x62", "", ("-pix_fmt", "yuv444p")),
        ("late.mkv", 25, "80x60", "", ("-af", "atrim=start=0.7")),
        ("old.avi", 25, "80x60", "", ("-c:v", "mpeg4", "-c:a", "pcm_s16le")),
    ],
)
async def test_flash_and_beep_of_odd_files_stay_together(
    name: str, rate: int, size: str, jitter: str, options: tuple[str, ...], tmp_path: Path
):
    media = make_media(
        tmp_path / name, FLASH.format(size=size, rate=rate, jitter=jitter), BEEP,
        options=("-c:v", "libx264", "-preset", "ultrafast", "-pix_fmt", "yuv420p", "-g", "60", "-c:a", "aac", *options),
    )  # fmt: skip
    found = await probe_source(media, name)
    facts = RecordingFacts(duration_ms=found.duration_ms, width=found.width, height=found.height, rate=found.rate)
    context = context_of(talk_of(SAID, word_ms=600, gap_ms=150, start_ms=600))
    document = apply_edit(new_quote(context, 0, 11), AddVersion(destination="square-60"), context)
    for edit in (NO_CAPTIONS, *(StrikeWords(first=i, last=i) for i in (3, 6, 8))):
        document = apply_edit(document, edit, context)
    assembly = assemble(document, context, facts, quarter(DESTINATIONS["square-60"]))
    clip = await rendered(assembly, media, tmp_path / "work")
    frame_ms = float(1000 / assembly.rate)
    light = np.array(luma(clip)) > 100
    seen = np.flatnonzero(light[1:] & ~light[:-1]) * frame_ms + frame_ms
    sound = np.abs(samples(clip))
    heard = rises(sound[: len(sound) // 48 * 48].reshape(-1, 48).max(axis=1) > 0.3 * sound.max(), 1)
    joins = np.array([piece.out_ms for piece in assembly.sound.speech])
    apart = [np.abs(heard - at).min() for at in seen if np.abs(joins - at).min() > 130]
    assert len(apart) >= 4
    assert max(apart) <= 22, "half a frame is 20 ms"


# --- cover, end card, music ---------------------------------------------------------------------------------------------


def over(what: What, **shows: object) -> AddOverlay:
    return AddOverlay(what=what, shows=Shows.model_validate(shows))


def counted(folder: Path) -> tuple[Path, RecordingFacts]:
    media = make_media(
        folder / "counted.mp4", COUNTED.format(rate="25"), "sine=r=48000:d=8",
        options=("-c:v", "libx264", "-preset", "ultrafast", "-pix_fmt", "yuv420p", "-g", "40", "-c:a", "aac"),
    )  # fmt: skip
    return media, RecordingFacts(duration_ms=8000, width=80, height=60, rate=Fraction(25))


async def test_a_cover_is_one_frame_and_moves_no_sound(tmp_path: Path):
    media, facts = counted(tmp_path)
    plain = assembly_of(facts, *MANY_CUTS, NO_CAPTIONS, destination="wide-140", small=True)
    cover = over(Cover(shows=CoverPicture(at_ms=6480), text=""))
    covered = assembly_of(facts, *MANY_CUTS, NO_CAPTIONS, cover, destination="wide-140", small=True)
    one, other = await rendered(plain, media, tmp_path / "a"), await rendered(covered, media, tmp_path / "b")
    assert numbers(other) == [162 % 32, *numbers(one)[1:]]
    assert np.array_equal(samples(one), samples(other)), "to the sample"


async def test_a_cover_comes_beside_the_clip_as_two_pictures(tmp_path: Path):
    media, facts = counted(tmp_path)
    cover = over(Cover(shows=CoverPicture(at_ms=6480), text=""))
    assembly = assembly_of(facts, NO_CAPTIONS, cover, destination="wide-140", small=True)
    (tmp_path / "work").mkdir()
    made = await render_cover(assembly, {RECORDING: Source(path=media)}, LETTERING, tmp_path / "work", {})
    assert made is not None
    assert [one.suffix for one in made] == [".png", ".jpg"]
    assert [numbers(one) for one in made] == [[162 % 32], [162 % 32]]
    plain = assembly_of(facts, NO_CAPTIONS, destination="wide-140", small=True)
    assert await render_cover(plain, {RECORDING: Source(path=media)}, LETTERING, tmp_path, {}) is None


async def test_an_end_card_is_silent_and_of_its_colour_for_as_long_as_it_says(tmp_path: Path):
    media, facts = counted(tmp_path)
    card = over(EndCard(colour="#FFFFFF", length_ms=1000))
    assembly = assembly_of(facts, NO_CAPTIONS, card, destination="wide-140", small=True)
    clip = await rendered(assembly, media, tmp_path / "work")
    assert assembly.card_frame is not None
    bright = luma(clip)
    assert len(bright) == assembly.frames == assembly.card_frame + 25
    assert min(bright[assembly.card_frame :]) > 230
    assert numbers(clip)[: assembly.card_frame] == planned(assembly)[: assembly.card_frame]
    sound = samples(clip)
    after = round((assembly.card_frame + 2) / 25 * 48000)
    assert np.abs(sound[after:]).max() < 1e-3
    assert np.abs(sound[: after - 9600]).max() > 0.05


async def test_music_is_under_the_voice_and_all_is_as_loud_as_it_should_be(tmp_path: Path):
    speech = "aevalsrc='0.4*sin(2*PI*180*t)*between(mod(t\\,4)\\,0.5\\,2.5)':s=48000:d=8"
    media = make_media(
        tmp_path / "talk.mp4", COUNTED.format(rate="25"), speech,
        options=("-c:v", "libx264", "-preset", "ultrafast", "-pix_fmt", "yuv420p", "-c:a", "aac"),
    )  # fmt: skip
    _, facts = counted(tmp_path)
    assembly = assembly_of(facts, NO_CAPTIONS, destination="wide-140", small=True)
    voiced = (Span(start_ms=500, end_ms=2500),)
    layer = MusicLayer(
        item=1, sound=1, revision=1, loop=None, loudness_lufs=-20.0, start_ms=0, end_ms=4000, from_ms=0, below_db=6, duck_db=14,
        fall_ms=300, fade_in_ms=0, fade_out_ms=0,
    )  # fmt: skip
    sound = assembly.sound.model_copy(update={"voiced": voiced, "music": (layer,)})
    tone = (0.3 * np.sin(2 * np.pi * 900 * np.arange(48000 * 4) / 48000)).astype(np.float32)
    pieces = {1: np.stack([tone, tone], axis=1)}
    with_it = assembly.model_copy(update={"sound": sound})
    folder = tmp_path / "work"
    folder.mkdir()
    clip = await render(with_it, {RECORDING: Source(path=media)}, LETTERING, folder, no_progress, {}, pieces)
    measured = await measure_clip(clip)
    assert measured.loudness_lufs == pytest.approx(-14, abs=0.5)
    assert not judge_file(measured, with_it)
    heard = samples(clip)

    def music(from_s: float, to_s: float) -> float:
        part = heard[int(from_s * 48000) : int(to_s * 48000)]
        turn = np.exp(2j * np.pi * 900 * np.arange(len(part)) / 48000)
        return float(20 * np.log10(2 * abs((part * turn).mean())))

    assert music(1.0, 2.0) == pytest.approx(music(3.2, 3.8) - 14, abs=1.5), "lowered while somebody speaks"


@pytest.mark.parametrize("strength", ["light", "firm"])
async def test_a_cleaned_voice_hisses_less_and_stays_in_its_place(strength: str, tmp_path: Path):
    rng = np.random.default_rng(2)
    at = np.arange(48000 * 8) / 48000
    since = np.mod(at, 2)
    # Its pitch rises, so that it is like itself at no other time.
    spoken = (
        (since < 1.2) * np.sin(2 * np.pi * (200 + 260 * since) * since) * (0.6 + 0.4 * np.sin(2 * np.pi * 3 * at)) * 0.2
    )
    noisy = spoken + rng.normal(0, 0.006, len(at)) + 0.01 * np.sin(2 * np.pi * 50 * at)
    wav = tmp_path / "noisy.wav"
    with wave.open(str(wav), "wb") as out:
        out.setnchannels(1)
        out.setsampwidth(2)
        out.setframerate(48000)
        out.writeframes((noisy * 32767).astype("<i2").tobytes())
    subprocess.run(["ffmpeg", "-v", "error", "-y", "-i", str(wav), "-af", CLEANING[strength], str(tmp_path / "clean.wav")], check=True)  # fmt: skip
    clean = samples(tmp_path / "clean.wav")
    assert len(clean) == len(noisy), "no sample more or less"

    def over_noise(heard: np.ndarray) -> float:
        voice, gap = (np.mod(at[: len(heard)], 2) < 1.1), (np.mod(at[: len(heard)], 2) > 1.5)
        return float(20 * np.log10(heard[voice].std() / heard[gap].std()))

    assert over_noise(clean[96_000:]) > over_noise(noisy[96_000:].astype(np.float32)) + 4
    lag = int(np.argmax(np.correlate(clean[96_000:144_000], spoken[96_500:143_500], mode="valid"))) - 500
    assert abs(lag) <= 48, "within a millisecond"


async def test_footage_shows_the_frames_of_the_other_recording_and_the_sound_goes_on(tmp_path: Path):
    media, facts = counted(tmp_path)
    footage = Footage(recording=5, from_ms=4000, width=80, height=60, duration_ms=8000)
    insert = over(Insert(footage=footage), kind="start", offset_ms=1000, length_ms=1200)
    plain = assembly_of(facts, NO_CAPTIONS, destination="wide-140", small=True)
    assembly = assembly_of(facts, NO_CAPTIONS, insert, destination="wide-140", small=True)
    one = await rendered(plain, media, tmp_path / "a")
    other = await rendered(assembly, media, tmp_path / "b", **{"recording-5": media})
    expected = numbers(one)
    expected[25:55] = [frame % 32 for frame in range(100, 130)]
    assert numbers(other) == expected
    assert np.array_equal(samples(one), samples(other))


@pytest.mark.parametrize("heard", ["under", "instead"])
async def test_footage_is_heard_while_it_shows(heard: str, tmp_path: Path):
    media, facts = counted(tmp_path)
    other = make_media(
        tmp_path / "other.mp4", COUNTED.format(rate="25"), "aevalsrc=0.02*sin(2*PI*1000*t):s=48000:d=8",
        options=("-c:v", "libx264", "-preset", "ultrafast", "-pix_fmt", "yuv420p", "-c:a", "aac"),
    )  # fmt: skip
    footage = Footage(recording=5, from_ms=4000, width=80, height=60, duration_ms=8000, heard=heard)
    insert = over(Insert(footage=footage), kind="start", offset_ms=1000, length_ms=1200)
    assembly = assembly_of(facts, NO_CAPTIONS, insert, destination="wide-140", small=True)
    sound = samples(await rendered(assembly, media, tmp_path / "a", **{"recording-5": other}))

    def level(at_ms: int, hertz: int) -> float:
        part = sound[at_ms * 48 : (at_ms + 400) * 48]
        around = slice(round((hertz - 15) * len(part) / 48000), round((hertz + 15) * len(part) / 48000) + 1)
        return float(20 * np.log10(np.abs(np.fft.rfft(part * np.hanning(len(part))))[around].max() + 1e-9))

    assert level(300, 1000) < level(300, 440) - 40, "not before it shows"
    assert level(2500, 1000) < level(2500, 440) - 40, "nor after it"
    over_talk = level(1400, 1000) - level(1400, 440)
    assert over_talk > 30 if heard == "instead" else over_talk == pytest.approx(-16, abs=4)


async def test_a_picture_that_fades_is_there_in_its_frames_and_no_other(tmp_path: Path):
    media, facts = counted(tmp_path)
    white = tmp_path / "white.png"
    make_media(white, "color=white:s=64x64", options=("-frames:v", "1"))
    picture = Picture(id=1, name="White", width=64, height=64)
    insert = over(Insert(picture=1, comes="fade"), kind="start", offset_ms=1000, length_ms=1200)
    assembly = assembly_of(facts, NO_CAPTIONS, insert, destination="wide-140", small=True, pictures=(picture,))
    plain = assembly.model_copy(update={"overlays": ()})
    (tmp_path / "a").mkdir()
    folder, sources = tmp_path / "a", {RECORDING: Source(path=media)}
    clip = await render(assembly, sources, LETTERING, folder, no_progress, {1: white.read_bytes()})
    bright, usual = luma(clip), luma(await rendered(plain, media, tmp_path / "b"))
    assert bright[:25] == pytest.approx(usual[:25], abs=2)
    assert bright[55:] == pytest.approx(usual[55:], abs=2)
    assert min(bright[33:47]) > 230, "wholly there in the middle"
    for coming, going in ((25, 54), (26, 53)):
        assert max(bright[coming], bright[going]) < 232, "it comes and goes by and by"
