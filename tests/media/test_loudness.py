"""Loudness by the meter, for sounds of every kind that comes in."""

from pathlib import Path

import pytest

from nimble_quote.media.loudness import levelled, measure
from tests.conftest import make_media

pytestmark = pytest.mark.anyio

SPEECH = "aevalsrc='{gain}*sin(2*PI*180*t)*(0.3+0.7*gt(sin(2*PI*1.7*t)\\,0))':s=48000:d=12"
PEAKY = "aevalsrc='0.03*sin(2*PI*220*t)+0.9*sin(2*PI*500*t)*lt(mod(t\\,2)\\,0.02)':s=48000:d=12"
SHORT = "sine=f=300:r=48000:d=1"


@pytest.mark.parametrize(
    "sound",
    [SPEECH.format(gain=0.6), SPEECH.format(gain=0.02), SPEECH.format(gain=1.0), PEAKY, SHORT],
    ids=["as usual", "very quiet", "very loud", "with sharp peaks", "a second long"],
)
async def test_sounds_are_brought_to_their_loudness_under_the_ceiling(sound: str, tmp_path: Path):
    source = make_media(tmp_path / "in.wav", sound, options=("-ac", "2"))
    await levelled(source, tmp_path / "out.wav", -14.0)
    now = await measure(tmp_path / "out.wav")
    assert now.lufs == pytest.approx(-14.0, abs=0.5)
    assert now.peak_dbtp is not None
    assert now.peak_dbtp < -1


async def test_silence_stays_silence(tmp_path: Path):
    source = make_media(tmp_path / "in.wav", "anullsrc=r=48000:cl=stereo:d=2")
    assert (await measure(source)).lufs is None
    await levelled(source, tmp_path / "out.wav", -14.0)
    assert (await measure(tmp_path / "out.wav")).peak_dbtp in (None, pytest.approx(-120, abs=60))


async def test_levelling_changes_no_length(tmp_path: Path):
    source = make_media(tmp_path / "in.wav", SHORT, options=("-ac", "2"))
    await levelled(source, tmp_path / "out.wav", -14.0)
    sizes = [(path.stat().st_size - 44) // width for path, width in ((source, 4), (tmp_path / "out.wav", 6))]
    assert abs(sizes[0] - sizes[1]) < 60
