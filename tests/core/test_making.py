"""What files are made as: bit rates for a size, chapters of a sound, samples that stand for a clip, and the plain cut."""

from itertools import pairwise

import pytest
from pydantic import ValidationError

from nimble_quote.core.assembly import assemble
from nimble_quote.core.assembly.captions import caption_words
from nimble_quote.core.chapters import chapters_of
from nimble_quote.core.cutting.kept import kept_spans
from nimble_quote.core.cutting.playing import played_in
from nimble_quote.core.document import EndCard
from nimble_quote.core.edits import AddOverlay, AddVersion, Shows, StrikeWords, apply_edit, new_quote
from nimble_quote.core.making import Making, TooSmall, expected_bytes, overhead_bytes, picture_kilobits
from nimble_quote.core.plain import NoPicture, plain_cut
from nimble_quote.core.sampling import sample_of
from nimble_quote.core.timebase import total_ms
from nimble_quote.core.transcript.words import Sentence
from tests.shipped import DESTINATIONS
from tests.talks import HD, context_of, talk_of

LONG = " | ".join("Keep the wick short and ask early what you want." for _ in range(8))


def test_a_size_says_which_bit_rate_its_picture_may_have():
    kilobits = picture_kilobits(10e6, 60_000, 1_200_000, 1500)
    made = kilobits * 125 * 60 + 1_200_000 + overhead_bytes(1500, 60_000)
    assert made == pytest.approx(10e6, rel=1e-6)


def test_a_size_that_would_be_a_smear_is_refused_and_says_what_would_do():
    with pytest.raises(TooSmall, match=r"as small as 1\.0 MB.*Ask for 2\.2 MB or more"):
        picture_kilobits(1e6, 60_000, 1_200_000, 1500)


def test_what_makes_no_sense_is_no_making():
    for wrong in ({"size_mb": 0.0}, {"size_mb": float("inf")}, {"codec": "vp8"}, {"kind": "gif"}):
        with pytest.raises(ValidationError):
            Making.model_validate(wrong)
    assert [Making(kind=kind).ending for kind in ("clip", "cut", "m4a", "mp3")] == [".mp4", ".mp4", ".m4a", ".mp3"]


def test_a_probe_tells_the_size_of_the_whole():
    size = expected_bytes(60_000, 3000, 1500, 30, 60_000)
    assert size == 30 * 60_000 + 1470 * 3000 + 1_200_000 + overhead_bytes(1500, 60_000)


def test_chapters_begin_at_sentences_and_are_long_enough_to_be_found():
    sentences = [Sentence(first=at, end=at + 10, speaker=None) for at in range(0, 80, 10)]
    talk = talk_of(LONG, word_ms=400, sentences=sentences)
    document = new_quote(context_of(talk), 0, len(talk.words) - 1)
    stretches = played_in(document)
    words = caption_words(document, talk, stretches)
    length = stretches[-1].out_end_ms
    chapters = chapters_of(words, talk, length)
    assert len(chapters) > 1
    assert chapters[0].start_ms == 0
    assert chapters[-1].end_ms == round(length)
    assert all(one.end_ms == other.start_ms for one, other in pairwise(chapters))
    assert min(one.end_ms - one.start_ms for one in chapters) >= 8000
    assert chapters[0].title.startswith("Keep the wick short")
    assert max(len(one.title) for one in chapters) <= 49
    starts = {round(word.start_ms) for word in words if talk.sentence_of(word.index).first == word.index}  # type: ignore[union-attr]
    assert {one.start_ms for one in chapters[1:]} <= starts


def test_a_short_sound_is_one_chapter_and_one_without_words_has_none():
    talk = talk_of("Keep the wick short.")
    document = new_quote(context_of(talk), 0, 3)
    stretches = played_in(document)
    assert len(chapters_of(caption_words(document, talk, stretches), talk, 2000)) == 1
    assert chapters_of((), talk, 2000) == ()


def test_a_sample_is_three_stretches_of_the_cut_without_its_card():
    talk = talk_of(LONG, word_ms=400)
    context = context_of(talk)
    document = apply_edit(new_quote(context, 0, len(talk.words) - 1), StrikeWords(first=3, last=6), context)
    document = apply_edit(
        document, AddOverlay(what=EndCard(text="More", length_ms=5000), shows=Shows(kind="end")), context
    )
    sample = sample_of(document, "tall-60", context.catalogue)
    kept = kept_spans(sample, "tall-60")
    assert total_ms(kept) == pytest.approx(3600, abs=3)
    assert all(
        any(one.start_ms <= span.start_ms and span.end_ms <= one.end_ms for one in kept_spans(document, "tall-60"))
        for span in kept
    )
    assembly = assemble(sample, context, HD, DESTINATIONS["tall-60"])
    assert assembly.card_frame is None
    assert assembly.cue_tracks[0].cues, "with its captions"


def test_all_of_a_short_clip_is_its_own_sample():
    talk = talk_of("Keep the wick short.")
    context = context_of(talk)
    document = apply_edit(new_quote(context, 0, 3), AddVersion(destination="tall-60"), context)
    assert kept_spans(sample_of(document, "tall-60", context.catalogue), "tall-60") == kept_spans(document, "tall-60")


def test_the_plain_cut_is_the_recording_and_nothing_else():
    talk = talk_of("Keep the wick short.")
    context = context_of(talk)
    document = apply_edit(new_quote(context, 0, 3), AddVersion(destination="tall-60"), context)
    made = plain_cut(document, context, HD.model_copy(update={"width": 1279, "height": 721}))
    assert made.destination.size == (1278, 720)
    assert made.cue_tracks == ()
    assert made.overlays == ()
    (run,) = made.picture
    (panel,) = run.panels
    assert panel.box[2] >= 1270
    with pytest.raises(NoPicture, match="Export its sound"):
        plain_cut(document, context, HD.model_copy(update={"width": 0, "height": 0}))
