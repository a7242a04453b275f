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


@pytest.mark.parametrize("kind", ["text", "picture", "playlist", "truncated", "silent", "empty"])
async def test_what_is_no_recording_is_refused_by_name_and_reason(kind: str, clip: Path, tmp_path: Path):
    file = tmp_path / "talk.mp4"
    if kind == "picture":
        make_media(tmp_path / "p.png", PICTURE, options=("-frames:v", "1")).rename(file)
    elif kind == "silent":
        make_media(file, PICTURE, options=("-c:v", "libx264", "-preset", "ultrafast"))
    else:
        secret = tmp_path / "secret.txt"
        secret.write_text("secret")
        file.write_bytes({
            "text": b"not a recording at all",
            "playlist": b"#EXTM3U\n#EXT-X-TARGETDURATION:10\n#EXTINF:10,\n" + str(secret).encode() + b"\n#EXT-X-ENDLIST\n",
            "truncated": clip.read_bytes()[:3000],
            "empty": b"",
        }[kind])  # fmt: skip
    with pytest.raises(SourceRefused, match=r"^talk\.mp4: "):
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
