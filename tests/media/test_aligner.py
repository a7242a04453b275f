"""The aligner and the recogniser against the true times of the demo's voices."""

from pathlib import Path

import numpy as np
import pytest

from nimble_quote.core.timebase import Span
from nimble_quote.demo.load import joined
from nimble_quote.media.aligner import align, known_share
from nimble_quote.media.listening import SOUND_RATE, Samples, samples_of
from nimble_quote.media.recogniser import RecogniserMissing, model_folder, recognise
from tests.truth import truth_of

pytestmark = pytest.mark.anyio

SPAN = Span(start_ms=0, end_ms=13_200)


@pytest.fixture
async def ferry_sound(tmp_path: Path) -> Samples:
    return await samples_of(joined("night-ferry-notes", "original.m4a", tmp_path / "f.m4a"), SPAN)


async def test_words_are_found_where_they_are_said(ferry_sound: Samples):
    words = [w for w in truth_of("night-ferry-notes")["words"] if w["end_ms"] < SPAN.end_ms - 300]
    found = align(ferry_sound, [w["said"] for w in words])
    errors = [abs(told.start_ms - w["start_ms"]) for told, w in zip(found, words, strict=True) if told]
    assert len(errors) == len(words) == 34
    assert np.median(errors) < 40
    assert np.percentile(errors, 95) < 130


async def test_a_dash_is_no_word_and_an_unknown_name_is_one(ferry_sound: Samples):
    texts = ["It", "is", "—", "ten", "to", "midnight,", "Xylquorp"]
    found = align(ferry_sound[: SOUND_RATE * 5], texts)
    assert [told is None for told in found] == [False, False, True, False, False, False, False]


def test_no_sound_aligns_nothing():
    assert align(np.zeros(100, np.float32), ["word"]) == [None]
    assert align(np.zeros(SOUND_RATE, np.float32), ["—"]) == [None]


def test_another_language_is_known_by_its_words():
    assert known_share("the last ferry is not a boat".split()) == 1
    assert known_share("viimeinen lautta ei ole enää vene vaan tapa".split()) < 0.6


async def test_the_recogniser_hears_most_words_and_says_how_sure_it_is(ferry_sound: Samples):
    cues = recognise(ferry_sound, model_folder(None), "en")
    heard = " ".join(token.text for cue in cues for token in cue.tokens).lower()
    assert "i am the only one on the upper deck" in heard
    assert all(0 <= (token.sure or 0) <= 1 for cue in cues for token in cue.tokens)


def test_a_folder_without_weights_is_told(tmp_path: Path):
    with pytest.raises(RecogniserMissing, match=r"There is no model\.bin in"):
        model_folder(tmp_path)
