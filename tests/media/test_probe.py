from fractions import Fraction
from pathlib import Path

import pytest

from nimble_quote.media.ffmpeg import MediaFailed, run, run_with_progress
from nimble_quote.media.probe import SourceRefused, probe_source
from tests.conftest import CODED, PICTURE, TONE, make_media

pytestmark = pytest.mark.anyio


async def test_the_facts_of_a_source(clip: Path):
    facts = await probe_source(clip, "clip.mp4")
    assert (facts.width, facts.height, facts.rate, facts.duration_ms) == (640, 360, Fraction(25), 10_000)
    assert (facts.video_codec, facts.audio_codec) == ("h264", "aac")


async def test_a_recording_with_sound_only(tmp_path: Path):
    facts = await probe_source(make_media(tmp_path / "a.wav", TONE), "a.wav")
    assert (facts.width, facts.height, facts.video_codec) == (0, 0, None)


async def test_a_picture_stretched_by_its_pixels_is_measured_as_displayed(tmp_path: Path):
    wide = make_media(tmp_path / "w.mp4", PICTURE.replace("640", "480"), TONE, options=("-vf", "setsar=4/3", *CODED))
    facts = await probe_source(wide, "w.mp4")
    assert (facts.width, facts.height) == (640, 360)


X264 = ("-c:v", "libx264", "-preset", "ultrafast")


@pytest.mark.parametrize(
    ("name", "inputs", "options", "size", "sounds"),
    [
        ("a.mov", (PICTURE, TONE), CODED, (640, 360), 1),
        ("a.mkv", (PICTURE, TONE), (*X264, "-c:a", "libopus"), (640, 360), 1),
        ("a.webm", (PICTURE, TONE), ("-c:v", "libvpx", "-deadline", "realtime", "-c:a", "libopus"), (640, 360), 1),
        ("a.m4a", (TONE,), ("-c:a", "aac"), (0, 0), 1),
        ("a.mp3", (TONE,), (), (0, 0), 1),
        ("a.wav", (TONE,), (), (0, 0), 1),
        ("a.flac", (TONE,), (), (0, 0), 1),
        ("a.ogg", (TONE,), ("-c:a", "libvorbis"), (0, 0), 1),
        ("old.avi", (PICTURE, TONE), ("-c:v", "mpeg4", "-c:a", "mp3"), (640, 360), 1),
        ("camera.mts", (PICTURE, TONE), (*X264, "-c:a", "ac3", "-f", "mpegts"), (640, 360), 1),
        ("stick.ts", (PICTURE, TONE), CODED, (640, 360), 1),
        ("stream.flv", (PICTURE, TONE), ("-c:v", "flv1", "-ar", "44100"), (640, 360), 1),
        ("older.wmv", (PICTURE, TONE), (), (640, 360), 1),
        ("a.mpg", (PICTURE, TONE), (), (640, 360), 1),
        ("a.aiff", (TONE,), (), (0, 0), 1),
        ("silent.mp4", (PICTURE,), X264, (640, 360), 0),
        ("two.mkv", (PICTURE, TONE, TONE), (*X264, "-map", "0", "-map", "1", "-map", "2"), (640, 360), 2),
        ("deep.mkv", (PICTURE, TONE), (*X264, "-pix_fmt", "yuv420p10le"), (640, 360), 1),
        ("4k.mp4", ("testsrc2=s=3840x2160:r=25:d=2", TONE), (*CODED, "-shortest"), (3840, 2160), 1),
    ],
)
async def test_what_people_really_have_is_read(
    name: str, inputs: tuple[str, ...], options: tuple[str, ...], size: tuple[int, int], sounds: int, tmp_path: Path
):
    facts = await probe_source(make_media(tmp_path / name, *inputs, options=options), name)
    assert (facts.width, facts.height, len(facts.sound_tracks)) == (*size, sounds)


@pytest.mark.parametrize("name", ["a.au", "a.nut"])
async def test_a_kind_that_is_not_taken_is_told_as_that(name: str, tmp_path: Path):
    made = make_media(tmp_path / name, TONE)
    with pytest.raises(SourceRefused, match=r"^a\.\w+: recordings of this kind are not taken\. Bring an mp4"):
        await probe_source(made, name)


async def test_a_phone_that_was_turned_is_measured_upright(tmp_path: Path):
    flat = make_media(tmp_path / "f.mp4", PICTURE, TONE, options=CODED)
    turned = tmp_path / "t.mp4"
    await run(["ffmpeg", "-v", "error", "-i", str(flat), "-c", "copy", "-metadata:s:v", "rotate=90", str(turned)])
    facts = await probe_source(turned, "t.mp4")
    assert (facts.width, facts.height) == (360, 640)


@pytest.mark.parametrize("left_out", ["eq(mod(n\\,10)\\,3)", "between(t\\,2\\,4)"])
@pytest.mark.parametrize("name", ["v.mp4", "v.mkv"])
async def test_the_rate_of_an_uneven_file_is_that_of_most_of_its_frames(name: str, left_out: str, tmp_path: Path):
    film = f"testsrc2=s=320x180:r=30:d=6,select='not({left_out})'"
    media = make_media(tmp_path / name, film, "sine=d=6", options=("-vsync", "vfr", *CODED))
    facts = await probe_source(media, name)
    assert not facts.serves
    assert facts.rate == 30


@pytest.mark.parametrize("name", ["late.mkv", "late.mp4"])
async def test_a_recording_that_starts_late_is_as_long_as_it_runs(name: str, tmp_path: Path):
    media = make_media(tmp_path / name, PICTURE, TONE, options=(*CODED, "-g", "25", "-output_ts_offset", "100"))
    facts = await probe_source(media, name)
    assert facts.duration_ms == pytest.approx(10_000, abs=60)
    assert not facts.serves


@pytest.mark.parametrize(("picture", "sound"), [(20, 6), (6, 20), (6, 0.02)])
@pytest.mark.parametrize("name", ["short.mp4", "short.mkv"])
async def test_sound_or_picture_may_end_long_before_the_other(name: str, picture: float, sound: float, tmp_path: Path):
    inputs = (f"testsrc2=s=320x180:r=25:d={picture}", f"sine=d={sound}")
    facts = await probe_source(make_media(tmp_path / name, *inputs, options=CODED), name)
    assert facts.duration_ms == pytest.approx(1000 * max(picture, sound), abs=60)
    assert len(facts.sound_tracks) == 1


async def test_a_sound_track_without_any_sound_is_none(tmp_path: Path):
    empty = (
        "-filter_complex",
        "[1:a]atrim=end=0[nothing]",
        "-map",
        "0:v",
        "-map",
        "[nothing]",
        *X264,
        "-c:a",
        "pcm_s16le",
    )
    media = make_media(tmp_path / "e.mkv", PICTURE, TONE, options=empty)
    facts = await probe_source(media, "e.mkv")
    assert (facts.sound_tracks, facts.width) == ((), 640)


async def test_sound_tracks_are_told_by_language_and_title(tmp_path: Path):
    media = make_media(
        tmp_path / "two.mkv", TONE, TONE,
        options=("-map", "0", "-map", "1", "-metadata:s:a:1", "language=fin", "-metadata:s:a:1", "title=Desk"),
    )  # fmt: skip
    facts = await probe_source(media, "two.mkv")
    assert [(track.language, track.title) for track in facts.sound_tracks] == [(None, None), ("fin", "Desk")]


async def test_an_original_that_any_browser_plays_and_scrubs_serves_as_it_is(tmp_path: Path):
    for keys, serves in (("25", True), ("250", False)):
        media = make_media(tmp_path / f"{keys}.mp4", PICTURE, TONE, options=(*CODED, "-g", keys))
        assert (await probe_source(media, "a.mp4")).serves is serves


@pytest.mark.parametrize(
    ("kind", "why"),
    [
        ("text", "not a recording that can be read"),
        ("picture", "this is a picture, not a recording"),
        ("playlist", "a playlist, which only points at other files"),
        ("concat", "a playlist, which only points at other files"),
        ("unfinished", "cut off before it was finished"),
        ("cut off", "it was cut off: it should be 0.2 minutes long"),
        ("subtitles", "neither sound nor picture"),
        ("encrypted", "it is encrypted"),
        ("empty", "the file is empty"),
    ],
)
async def test_what_is_no_recording_is_refused_by_name_and_reason(kind: str, why: str, clip: Path, tmp_path: Path):
    file = tmp_path / "talk.mp4"
    whole = clip.read_bytes()
    if kind == "picture":
        make_media(tmp_path / "p.png", PICTURE, options=("-frames:v", "1")).rename(file)
    elif kind == "subtitles":
        (tmp_path / "s.srt").write_text("1\n00:00:01,000 --> 00:00:05,000\nhi\n")
        await run(["ffmpeg", "-v", "error", "-i", str(tmp_path / "s.srt"), "-f", "matroska", str(file)])
    elif kind == "cut off":
        fast = tmp_path / "fast.mp4"
        await run(["ffmpeg", "-v", "error", "-i", str(clip), "-c", "copy", "-movflags", "+faststart", str(fast)])
        file.write_bytes(fast.read_bytes()[: fast.stat().st_size // 2])
    elif kind == "encrypted":
        key = ("-encryption_scheme", "cenc-aes-ctr", "-encryption_key", "00" * 16, "-encryption_kid", "11" * 16)
        await run(["ffmpeg", "-v", "error", "-i", str(clip), "-c", "copy", *key, str(file)])
    else:
        secret = tmp_path / "secret.txt"
        secret.write_text("secret")
        file.write_bytes({
            "text": b"not a recording at all",
            "playlist": b"#EXTM3U\n#EXT-X-TARGETDURATION:10\n#EXTINF:10,\n" + str(secret).encode() + b"\n#EXT-X-ENDLIST\n",
            "concat": b"ffconcat version 1.0\nfile '" + str(secret).encode() + b"'\n",
            "unfinished": whole[: whole.index(b"moov") - 4] if b"moov" in whole else whole[:3000],
            "empty": b"",
        }[kind])  # fmt: skip
    with pytest.raises(SourceRefused, match=rf"^talk\.mp4: .*{why}"):
        await probe_source(file, "talk.mp4")


async def test_a_failed_tool_says_its_last_words():
    with pytest.raises(MediaFailed, match=r"No such file|does not exist"):
        await run(["ffmpeg", "-v", "error", "-i", "/nowhere.mp4", "-f", "null", "-"])


async def test_work_whose_progress_raises_is_stopped(clip: Path, tmp_path: Path):
    async def stop(part: float) -> None:
        raise KeyError("stopped")

    command = ["ffmpeg", "-v", "error", "-re", "-i", str(clip), "-progress", "pipe:1", "-y", str(tmp_path / "o.mp4")]
    with pytest.raises(KeyError, match="stopped"):
        await run_with_progress(command, 10_000, stop)
