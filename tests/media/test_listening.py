from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest

from nimble_quote.core.timebase import Span
from nimble_quote.demo.load import joined
from nimble_quote.media.ffmpeg import MediaFailed
from nimble_quote.media.listening import (
    SOUND_RATE,
    ZOOMS_MS,
    listen,
    peaks_name,
    read_speech,
    samples_of,
    write_speech,
)
from tests.conftest import TONE, make_media
from tests.truth import truth_of

pytestmark = pytest.mark.anyio

BEEP = "aevalsrc=if(between(t\\,2\\,2.5)\\,0.9*sin(2000*t)\\,0):s=44100:d=4"


async def no_progress(part: float) -> None:
    assert 0 <= part <= 1


async def test_peaks_stand_at_their_time_at_every_zoom(tmp_path: Path):
    beep = make_media(tmp_path / "b.wav", BEEP)
    await listen(beep, 0, 4000, tmp_path, no_progress)
    for zoom in ZOOMS_MS:
        levels = np.frombuffer((tmp_path / peaks_name(zoom)).read_bytes(), np.uint8)
        loud = np.nonzero(levels > 150)[0]
        assert len(levels) == 4000 // zoom
        assert loud[0] == 2000 // zoom
        assert loud[-1] in (2490 // zoom, 2500 // zoom)


async def test_loudness_is_that_of_the_whole_and_silence_has_none(tmp_path: Path):
    # A sine at -18 dBFS in both channels reads -18 LUFS at 997 Hz (EBU Tech 3341), here as the louder of two halves.
    tone = make_media(tmp_path / "t.wav", "aevalsrc=0.125893*sin(2*PI*997*t)|0.125893*sin(2*PI*997*t):s=48000:d=12")
    heard = await listen(tone, 0, 12_000, tmp_path, no_progress)
    assert heard.loudness_lufs == pytest.approx(-18, abs=0.2)
    silent = await listen(make_media(tmp_path / "s.wav", "anullsrc=d=3"), 0, 3000, tmp_path, no_progress)
    assert (silent.loudness_lufs, silent.speech) == (None, ())


async def test_the_chosen_track_is_the_one_that_is_heard(tmp_path: Path):
    two = make_media(tmp_path / "two.mka", "anullsrc=d=4", BEEP, options=("-map", "0", "-map", "1", "-c:a", "flac"))
    for track, loudest in ((0, 0), (1, 200)):
        await listen(two, track, 4000, tmp_path, no_progress)
        levels = np.frombuffer((tmp_path / peaks_name(10)).read_bytes(), np.uint8)
        assert (levels.max() > 200) == (loudest > 0)
    with pytest.raises(MediaFailed):
        await listen(two, 2, 4000, tmp_path, no_progress)


async def test_speech_and_pauses_are_where_the_voice_is(tmp_path: Path):
    sound = joined("night-ferry-notes", "original.m4a", tmp_path / "ferry.m4a")
    folder = tmp_path / "odd 'name, [with]; signs="
    folder.mkdir()
    heard = await listen(sound, 0, 100_000, folder, no_progress)
    write_speech(heard, folder / "speech.json")
    assert read_speech(folder / "speech.json") == heard
    words = truth_of("night-ferry-notes")["words"]
    spoken = [any(one.holds((w["start_ms"] + w["end_ms"]) / 2) for one in heard.speech) for w in words]
    assert sum(spoken) / len(spoken) > 0.95
    pauses = [(a["end_ms"] + b["start_ms"]) / 2 for a, b in pairwise(words) if b["start_ms"] - a["end_ms"] > 500]
    silent = [not any(one.holds(at) for one in heard.speech) for at in pauses]
    assert sum(silent) / len(silent) > 0.9


async def test_samples_are_those_of_the_span(tmp_path: Path):
    tone = make_media(tmp_path / "t.m4a", TONE)
    assert len(await samples_of(tone, Span(start_ms=1000, end_ms=3000))) == pytest.approx(2 * SOUND_RATE, abs=600)


async def test_the_sound_of_the_proxy_is_as_long_as_the_recording(tmp_path: Path):
    await listen(make_media(tmp_path / "t.mp3", TONE), 0, 10_000, tmp_path, no_progress)
    samples = await samples_of(tmp_path / "sound.m4a", Span(start_ms=0, end_ms=20_000))
    assert len(samples) / SOUND_RATE == pytest.approx(10, abs=0.1)
