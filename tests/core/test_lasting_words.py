"""What hangs on a word stays with it through corrections, joins and splits of words, and new times."""

from contextlib import suppress
from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.captions.words import corrected, shown_text
from nimble_quote.core.talk import Talk
from nimble_quote.core.transcript.corrections import CorrectionRefused, CorrectWords, ReplaceAll, correct
from nimble_quote.core.transcript.document import (
    Piece,
    SpokenSentence,
    SpokenWord,
    Transcript,
    numbered,
    numbered_by_time,
    pieces_between,
)
from tests.strategies import WORDS


def transcript(text: str) -> Transcript:
    words = tuple(
        SpokenWord(text=word, start_ms=1000 + 400 * i, end_ms=1300 + 400 * i) for i, word in enumerate(text.split())
    )
    return Transcript(sentences=(SpokenSentence(words=words),)).with_ids()


def rewritten(before: Transcript, first: int, last: int, text: str) -> Transcript:
    return correct(before, CorrectWords(first=first, last=last, text=text))[0]


def talk(of: Transcript) -> Talk:
    return Talk(words=numbered(of.sentences), duration_ms=100_000)


def at(of: Transcript, ref: int) -> str | None:
    word = talk(of).lasting(ref)
    return word.text if word else None


def captions(of: Transcript, corrections: dict[int, str]) -> str:
    return " ".join(text for word in talk(of).words if (text := shown_text(word, corrections)))


def test_a_corrected_word_is_the_same_word():
    after = rewritten(transcript("keep the wik short"), 2, 2, "wick")
    assert [word.ref for word in talk(after).words] == [0, 1, 2, 3]
    assert captions(after, {2: "WICK"}) == "keep the WICK short"


def test_words_written_as_one_are_found_by_either():
    after = rewritten(transcript("by the lamp house now"), 2, 3, "lamphouse")
    assert (at(after, 2), at(after, 3), at(after, 4)) == ("lamphouse", "lamphouse", "now")
    assert captions(after, {2: "Lamp", 3: "RunningApp"}) == "by the Lamp RunningApp now"
    # Only half of it was corrected in the captions before: the newer transcript is believed.
    assert captions(after, {2: "Lump"}) == "by the lamphouse now"


def test_a_word_written_as_two_keeps_its_name_and_its_caption_covers_both():
    after = rewritten(transcript("by the lamphouse now"), 2, 2, "lamp house")
    assert [word.ref for word in talk(after).words] == [0, 1, 2, 4, 3]
    assert captions(after, {2: "LAMPHOUSE"}) == "by the LAMPHOUSE now"
    assert captions(after, {}) == "by the lamp house now"


def test_a_caption_corrected_after_a_split_says_just_what_was_written():
    after = talk(rewritten(transcript("by the lamphouse now"), 2, 2, "lamp house"))
    said = corrected(after.words[2:3], "LAMP", (), after)
    assert " ".join(shown_text(word, {c.word: c.text for c in said}) for word in after.words) == "by the LAMP house now"


def test_words_taken_out_are_found_where_they_were():
    after = rewritten(transcript("keep the um wick short"), 1, 2, "the")
    assert at(after, 2) == "the"
    assert captions(after, {1: "THE"}) == "keep THE wick short"


def test_new_numbers_are_never_those_of_words_that_are_gone():
    before = transcript("one two three")
    after = rewritten(rewritten(before, 1, 2, "two"), 1, 1, "two three")
    refs = [word.ref for word in talk(after).words]
    assert refs == [0, 1, 3]
    assert after.next_id == 4


def test_the_same_correction_everywhere_keeps_every_word():
    before = transcript("old lamp and old wick and old oil")
    after, _ = correct(before, ReplaceAll(find="old", text="very old", places=(0, 3, 6)))
    assert [at(after, ref) for ref in range(8)] == ["very", "lamp", "and", "very", "wick", "and", "very", "oil"]


def test_new_times_change_nothing():
    before = transcript("keep the wick short")
    sentence = before.sentences[0]
    late = tuple(replace(word, start_ms=word.start_ms + 70, end_ms=word.end_ms + 70) for word in sentence.words)
    after = replace(before, sentences=(replace(sentence, words=late),))
    assert captions(after, {2: "WICK"}) == "keep the WICK short"


@given(
    st.lists(st.sampled_from(WORDS), min_size=2, max_size=8),
    st.lists(st.tuples(st.integers(0, 6), st.integers(0, 3), st.lists(st.sampled_from(WORDS), min_size=1, max_size=3))),
)
def test_every_word_has_a_name_of_its_own_whatever_is_corrected(
    said: list[str], steps: list[tuple[int, int, list[str]]]
):
    of = transcript(" ".join(said))
    for first, more, typed in steps:
        last = min(first + more, of.word_count - 1)
        if first <= last:
            with suppress(CorrectionRefused):
                of = rewritten(of, first, last, " ".join(typed))
    refs = [word.ref for word in talk(of).words]
    assert len(set(refs)) == len(refs)
    assert max(refs) < of.next_id


def test_pieces_of_before_there_were_numbers_get_those_of_the_words_that_begin_where_they_did():
    now = rewritten(transcript("by the lamp house now"), 2, 3, "lamphouse")
    bare = tuple(replace(word, id=None) for word in transcript("by the lamp house now").sentences[0].words)
    old = Piece(at=0, removed=now.sentences, added=(SpokenSentence(words=bare),))
    (piece,), next_id = numbered_by_time([old], now)
    assert [word.id for word in piece.added[0].words] == [0, 1, 2, 5, 4]
    assert next_id == 6


def test_pieces_carry_the_numbers():
    before = transcript("by the lamp house now")
    (piece,) = pieces_between(before, rewritten(before, 2, 3, "lamphouse"))
    assert [word.id for word in piece.added[0].words] == [0, 1, 2, 4]
