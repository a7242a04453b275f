import subprocess
from fractions import Fraction
from pathlib import Path

import numpy as np
import pytest

from nimble_quote.demo.load import MEDIA, joined
from nimble_quote.media.analysis import find_faces, make_peaks, make_proxy
from nimble_quote.media.faces import blended
from nimble_quote.media.probe import SourceFacts, probe_source
from nimble_quote.settings import Settings
from tests.conftest import make_media

pytestmark = pytest.mark.anyio


async def no_progress(part: float) -> None:
    assert 0 <= part <= 1


async def test_peaks_stand_at_their_time(tmp_path: Path):
    beep = "aevalsrc=if(between(t\\,2\\,2.5)\\,0.9*sin(2000*t)\\,0):s=44100:d=4"
    peaks = tmp_path / "peaks"
    await make_peaks(make_media(tmp_path / "b.wav", beep), peaks)
    levels = np.frombuffer(peaks.read_bytes(), np.uint8)
    loud = np.nonzero(levels > 150)[0]
    assert len(levels) == 400
    assert loud[0] == 200
    assert loud[-1] in (249, 250)


async def test_a_proxy_is_small_and_has_a_key_frame_each_second(tmp_path: Path):
    big = make_media(
        tmp_path / "big.mkv",
        "testsrc2=s=1280x720:r=30:d=3",
        "sine=r=44100:d=3",
        options=("-c:v", "libx264", "-preset", "ultrafast"),
    )
    proxy = tmp_path / "proxy.mp4"
    await make_proxy(big, proxy, await probe_source(big, "big.mkv"), no_progress)
    told = subprocess.run(
        ["ffprobe", "-v", "error", "-select_streams", "v", "-skip_frame", "nokey", "-show_entries",
         "frame=pts_time,width,height", "-of", "csv=p=0", str(proxy)],
        capture_output=True, text=True, check=True,
    ).stdout.split()  # fmt: skip
    assert [row.rstrip(",").split(",")[-2:] for row in told] == [["960", "540"]] * 3
    assert [round(float(row.split(",")[0]), 2) for row in told] == [0, 1, 2]


async def test_the_speakers_face_is_found_in_nearly_every_second_of_the_demo(tmp_path: Path):
    proxy = joined("keep-the-wick-short", "proxy.mp4", tmp_path / "proxy.mp4")
    facts = SourceFacts(
        duration_ms=440_000,
        width=1920,
        height=1080,
        rate=Fraction(25),
        video_codec="h264",
        audio_codec="aac",
        size_bytes=1,
    )
    faces = await find_faces(proxy, Settings().face_model, facts, no_progress)
    moments = {face.at_ms for face in faces}
    assert len(moments) >= 0.98 * len(range(0, 440_000, 1000))
    # Drawn at 1150 px of 1920, swaying by 67 px and turning by 10.
    middles = [face.middle[0] * 1920 for face in faces]
    assert 1030 < min(middles) <= max(middles) < 1270


def test_shipped_media_that_are_damaged_are_noticed(tmp_path: Path, monkeypatch: pytest.MonkeyPatch):
    from nimble_quote.demo import load

    copy = tmp_path / "media" / "keep-the-wick-short"
    copy.mkdir(parents=True)
    (copy / "sums.json").write_text((MEDIA / "keep-the-wick-short" / "sums.json").read_text())
    (copy / "proxy.mp4.00").write_bytes(b"damaged")
    monkeypatch.setattr(load, "MEDIA", tmp_path / "media")
    with pytest.raises(load.DemoDamaged, match="damaged"):
        load.joined("keep-the-wick-short", "proxy.mp4", tmp_path / "out.mp4")


def test_boxes_for_one_face_are_blended_and_others_kept_apart():
    boxes = np.array([[0, 0, 1, 1], [0.1, 0, 1.1, 1], [3, 3, 4, 4]], np.float32)
    found = blended(boxes, np.array([0.9, 0.9, 0.7], np.float32))
    assert [box.tolist() for box, _ in found] == [pytest.approx([0.05, 0, 1.05, 1]), [3, 3, 4, 4]]
