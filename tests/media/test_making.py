"""Files as they are wanted: just so large, in every codec, as sound alone, and looked at for their captions."""

import subprocess
from fractions import Fraction
from pathlib import Path

import pytest

from nimble_quote.core.assembly import RECORDING, Assembly, RecordingFacts
from nimble_quote.core.chapters import Chapter
from nimble_quote.core.making import Making, TooSmall
from nimble_quote.core.preflight import judge_file
from nimble_quote.media import burned
from nimble_quote.media.burned import cues_not_shown
from nimble_quote.media.ffmpeg import ffprobe
from nimble_quote.media.measure import measure_clip, measure_sound
from nimble_quote.media.render import Source, probe, render, render_first, render_sound
from nimble_quote.media.render.coders import codecs_there
from nimble_quote.media.stills import still_of_clip
from nimble_quote.media.tags import Tags, chapters_file
from tests.conftest import make_media
from tests.media.test_render import NO_CAPTIONS, assembly_of, no_progress
from tests.shipped import LETTERING

pytestmark = pytest.mark.anyio
FACTS = RecordingFacts(duration_ms=8000, width=320, height=180, rate=Fraction(25))
TAGS = Tags(title="Keep it; = short\nnow", artist="Maren Holt", date="2026-05-03", copyright="The hall")


@pytest.fixture(scope="module")
def media(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return make_media(
        tmp_path_factory.mktemp("making") / "talk.mp4", "testsrc2=s=320x180:r=25:d=8", "sine=r=48000:d=8",
        options=("-c:v", "libx264", "-preset", "ultrafast", "-pix_fmt", "yuv420p", "-c:a", "aac", "-metadata", "comment=private"),
    )  # fmt: skip


def small() -> Assembly:
    return assembly_of(FACTS, destination="square-60", small=True)


async def made(assembly: Assembly, media: Path, folder: Path, **how: object) -> Path:
    folder.mkdir(exist_ok=True)
    making = Making.model_validate(how)
    return await render(
        assembly, {RECORDING: Source(path=media)}, LETTERING, folder, no_progress, making=making, tags=TAGS
    )


@pytest.mark.parametrize(("size_mb", "codec"), [(0.3, "h264"), (0.7, "h264"), (0.3, "h265"), (0.3, "av1")])
async def test_a_size_is_met_within_two_per_cent(size_mb: float, codec: str, media: Path, tmp_path: Path):
    assembly = small()
    clip = await made(assembly, media, tmp_path / "a", size_mb=size_mb, codec=codec)
    assert clip.stat().st_size == pytest.approx(size_mb * 1e6, rel=0.02)
    facts = await measure_clip(clip)
    making = Making.model_validate({"size_mb": size_mb, "codec": codec})
    assert judge_file(facts, assembly, making) == ()
    wrong = judge_file(facts, assembly, making.model_copy(update={"size_mb": size_mb * 1.1}))
    assert [one.check for one in wrong] == ["wanted-size"]


async def test_a_size_that_can_not_be_met_is_refused(media: Path, tmp_path: Path):
    with pytest.raises(TooSmall):
        await made(small(), media, tmp_path / "a", size_mb=0.06)


async def test_a_clip_over_what_its_destination_takes_is_made_again_to_fit(media: Path, tmp_path: Path):
    assembly = assembly_of(FACTS, destination="square-60")
    place = assembly.destination.model_copy(update={"largest_mb": 1})
    assembly = assembly.model_copy(update={"destination": place})
    clip = await made(assembly, media, tmp_path / "a", quality="crisp")
    assert 900_000 < clip.stat().st_size <= 1_000_000


async def test_qualities_differ_and_a_probe_tells_them_before(media: Path, tmp_path: Path):
    assembly = small()
    (tmp_path / "probe").mkdir()
    found = await probe(assembly, {RECORDING: Source(path=media)}, LETTERING, tmp_path / "probe", {}, "h264")
    assert found["small"] < found["usual"] < found["crisp"]
    sizes = [(await made(assembly, media, tmp_path / name, quality=name)).stat().st_size for name in found]
    assert sizes == sorted(sizes)


async def test_a_file_tells_what_it_is_and_nothing_of_this_machine(media: Path, tmp_path: Path):
    clip = await made(small(), media, tmp_path / "a")
    tags = (await ffprobe(clip, "-show_format"))["format"]["tags"]
    told = {name: tags[name] for name in ("title", "artist", "date", "copyright")}
    assert told == {
        "title": "Keep it; = short now",
        "artist": "Maren Holt",
        "date": "2026-05-03",
        "copyright": "The hall",
    }
    assert set(tags) == {*told, "major_brand", "minor_version", "compatible_brands"}
    content = clip.read_bytes()
    assert b"private" not in content
    assert b"Lavf" not in content


@pytest.mark.parametrize("kind", ["m4a", "mp3"])
async def test_the_sound_alone_has_chapters_and_a_cover(kind: str, media: Path, tmp_path: Path):
    assembly = small()
    sources = {RECORDING: Source(path=media)}
    _, cover = await render_first(assembly, sources, LETTERING, tmp_path, {})
    chapters = (
        Chapter(start_ms=0, end_ms=2000, title="One; two = three"),
        Chapter(start_ms=2000, end_ms=4000, title="Four"),
    )
    made_of = await render_sound(assembly, sources, tmp_path, {}, kind, TAGS, chapters, cover)  # type: ignore[arg-type]
    found = await ffprobe(made_of, "-show_chapters", "-show_streams")
    assert [one["tags"]["title"] for one in found["chapters"]] == ["One; two = three", "Four"]
    # Chapters may be a track of text besides.
    heard, shown = (one for one in found["streams"] if one["codec_type"] != "data")
    assert (heard["codec_type"], shown["codec_type"], shown["disposition"]["attached_pic"]) == ("audio", "video", 1)
    facts = await measure_sound(made_of)
    assert judge_file(facts, assembly, Making.model_validate({"kind": kind})) == ()
    assert facts.audio_ms == pytest.approx(assembly.length_ms, abs=80)
    await still_of_clip(cover, 0, tmp_path / "still.jpg")
    assert (tmp_path / "still.jpg").stat().st_size > 0


@pytest.mark.parametrize("codec", ["h264", "h265", "av1"])
async def test_captions_are_looked_for_where_they_were_planned(codec: str, media: Path, tmp_path: Path):
    """A clip made with captions shows them; one made without, or with others, is found out."""
    assembly = small()
    cues = assembly.cue_tracks[0].cues
    shown = await made(assembly, media, tmp_path / "with", codec=codec)
    assert await cues_not_shown(shown, assembly, tmp_path / "with") == []
    bare = await made(assembly_of(FACTS, NO_CAPTIONS, destination="square-60", small=True), media, tmp_path / "without")
    assert await cues_not_shown(bare, assembly, tmp_path / "with") == list(cues)
    (finding,) = judge_file(await measure_clip(bare), assembly, missing=cues)
    assert (finding.check, finding.severity) == ("burned-in", "stop")
    lower = assembly.model_copy(update={"cue_tracks": ()})
    assert await cues_not_shown(bare, lower, tmp_path / "with") == []


async def test_one_caption_of_many_that_is_missing_is_named(
    media: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
):
    """Key frames, and frames that need others, of more captions than are sought at once: each is compared with its own."""
    monkeypatch.setattr(burned, "_AT_ONCE", 1)
    assembly = small()
    (track,) = assembly.cue_tracks
    cues = track.cues
    assert len(cues) > 1
    clip = await made(assembly, media, tmp_path / "with")
    keys = await burned._key_frames(clip, assembly.rate)
    assert keys[0] == 0
    looked_at = [burned._frame_of(cue, keys) for cue in cues]
    assert all(cue.first_frame < frame < cue.end_frame for cue, frame in zip(cues, looked_at, strict=True))
    assert not set(looked_at) <= set(keys), "some are no key frames"
    for number, missing in enumerate(cues):
        others = track.model_copy(update={"cues": tuple(cue for cue in cues if cue != missing)})
        folder = tmp_path / str(number)
        bare = await made(assembly.model_copy(update={"cue_tracks": (others,)}), media, folder)
        assert await cues_not_shown(bare, assembly, tmp_path / "with") == [missing]


async def test_the_codecs_of_this_machine_are_known():
    listed = subprocess.run(["ffmpeg", "-v", "error", "-encoders"], capture_output=True, text=True, check=True).stdout
    assert ("h265" in await codecs_there()) == (" libx265 " in listed)
    assert (await codecs_there())[0] == "h264"


def test_chapters_are_written_so_that_nothing_of_a_title_is_read_as_more():
    hostile = Chapter(start_ms=0, end_ms=10, title="a\n[CHAPTER]\nSTART=5;#=\\")
    written = chapters_file([hostile])
    assert written.count("[CHAPTER]") == 2
    assert written.splitlines()[-1] == "title=a [CHAPTER] START\\=5\\;\\#\\=\\\\"
