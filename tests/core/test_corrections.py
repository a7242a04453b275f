"""Corrections of a transcript: what changes, what stays, and that every one can be taken back."""

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.transcript.corrections import (
    AssignSpeaker,
    Correction,
    CorrectionRefused,
    CorrectWords,
    EndSentence,
    JoinSentences,
    RecolourSpeaker,
    RenameSpeaker,
    ReplaceAll,
    correct,
    find_occurrences,
    rewritten,
)
from nimble_quote.core.transcript.document import (
    Piece,
    SpokenSentence,
    SpokenWord,
    Transcript,
    pieces_between,
    undoing,
)


def words(text: str, start_ms: int = 0, sure: int | None = 40) -> tuple[SpokenWord, ...]:
    return tuple(
        SpokenWord(text=word, start_ms=start_ms + i * 400, end_ms=start_ms + i * 400 + 300, timing="a", sure=sure)
        for i, word in enumerate(text.split())
    )


def transcript_of(*sentences: tuple[str | None, str]) -> Transcript:
    made = [SpokenSentence(words=words(text, i * 60_000), speaker=who) for i, (who, text) in enumerate(sentences)]
    return Transcript(sentences=()).with_sentences(made)


TALK = transcript_of(
    ("Ann", "My name is Maren Tully, and I have"), ("Ann", "kept the lamp running."), ("Bo", "Late, Tully?")
)


def told(word: SpokenWord) -> tuple[str, int, int, str | None]:
    return word.text, word.start_ms, word.end_ms, word.heard


def test_a_word_for_a_word_keeps_its_time_and_remembers_what_was_heard():
    after, said = correct(TALK, CorrectWords(first=4, last=4, text="Tolley,"))
    word = after.sentences[0].words[4]
    assert (word.text, word.start_ms, word.end_ms, word.timing, word.sure, word.heard) == (
        "Tolley,", 1600, 1900, "a", None, "Tully,")  # fmt: skip
    assert said == "Corrected “Tully,” to “Tolley,”"
    back, _ = correct(after, CorrectWords(first=4, last=4, text="Tully,"))
    assert back.sentences[0].words[4].heard is None, "put back to what was heard, it counts as never corrected"


def test_words_joined_share_their_time_and_words_split_share_it_by_length():
    joined = rewritten(words("the lamp house stands"), ["the", "lamphouse", "stands"])
    assert [told(word) for word in joined] == [
        ("the", 0, 300, None), ("lamphouse", 400, 1100, "lamp house"), ("stands", 1200, 1500, None)]  # fmt: skip
    split = rewritten(words("a lamphouse"), ["a", "lamp", "house"])
    assert [told(word) for word in split] == [
        ("a", 0, 300, None), ("lamp", 400, 536, "lamphouse"), ("house", 536, 700, "")]  # fmt: skip


def test_words_put_in_take_a_gap_or_share_with_the_word_beside_them():
    gap = rewritten(words("keep short"), ["keep", "it", "short"])
    assert [told(word) for word in gap] == [("keep", 0, 300, None), ("it", 300, 400, ""), ("short", 400, 700, None)]
    tight = (SpokenWord(text="keep", start_ms=0, end_ms=400), SpokenWord(text="short", start_ms=400, end_ms=700))
    shared = rewritten(tight, ["keep", "it", "short"])
    assert [told(word) for word in shared] == [
        ("keep", 0, 250, "keep"), ("it", 250, 400, ""), ("short", 400, 700, None)]  # fmt: skip


def test_words_taken_out_are_remembered_on_the_word_before():
    after, said = correct(TALK, CorrectWords(first=1, last=2, text=""))
    assert [told(word)[0] for word in after.sentences[0].words] == ["My", "Maren", "Tully,", "and", "I", "have"]
    assert said == "Took out “name is”"
    kept = rewritten(words("well you know then"), ["well", "then"])
    assert [(word.text, word.heard) for word in kept] == [("well", "well you know"), ("then", None)]


def test_everything_cannot_be_taken_out():
    one = transcript_of((None, "Only this."))
    with pytest.raises(CorrectionRefused, match="Keep at least one"):
        correct(one, CorrectWords(first=0, last=1, text=" "))


def test_a_correction_over_two_sentences_of_one_speaker_joins_them_and_over_two_speakers_is_refused():
    after, _ = correct(TALK, CorrectWords(first=7, last=8, text="have kept"))
    assert [sentence.text for sentence in after.sentences] == [
        "My name is Maren Tully, and I have kept the lamp running.", "Late, Tully?"]  # fmt: skip
    with pytest.raises(CorrectionRefused, match="more than one speaker"):
        correct(TALK, CorrectWords(first=11, last=12, text="x"))


def test_replacing_everywhere_lists_each_place_first_and_keeps_the_marks_around_it():
    places = find_occurrences(TALK, "tully")
    assert [(p.first, p.text, p.before, p.after) for p in places] == [
        (4, "Tully,", "My name is Maren", "and I have kept the lamp"),
        (13, "Tully?", "have kept the lamp running. Late,", ""),
    ]
    after, said = correct(TALK, ReplaceAll(find="tully", text="Tolley", places=(4, 13)))
    assert after.sentences[2].text == "Late, Tolley?"
    assert said == "Corrected “tully” to “Tolley” at 2 places"
    with pytest.raises(CorrectionRefused, match="not said at word 2 any more"):
        correct(TALK, ReplaceAll(find="tully", text="x", places=(1,)))


def test_a_selection_given_to_somebody_parts_the_sentence():
    after, said = correct(TALK, AssignSpeaker(first=5, last=8, speaker="Cy"))
    assert [(sentence.speaker, sentence.text) for sentence in after.sentences] == [
        ("Ann", "My name is Maren Tully,"), ("Cy", "and I have"), ("Cy", "kept"), ("Ann", "the lamp running."),
        ("Bo", "Late, Tully?"),
    ]  # fmt: skip
    assert after.colours == {"Ann": 0, "Bo": 1, "Cy": 2}
    assert said == "“and I have kept” is said by Cy"


def test_speakers_are_renamed_joined_and_recoloured():
    renamed, said = correct(TALK, RenameSpeaker(name="Bo", to="Bodil"))
    assert (renamed.sentences[2].speaker, renamed.colours["Bodil"], said) == ("Bodil", 1, "Renamed Bo to Bodil")
    joined, said = correct(TALK, RenameSpeaker(name="Bo", to="Ann"))
    assert ({sentence.speaker for sentence in joined.sentences}, said) == ({"Ann"}, "Joined Bo with Ann")
    recoloured, _ = correct(TALK, RecolourSpeaker(name="Bo", colour=7))
    assert recoloured.colours == {"Ann": 0, "Bo": 7}
    for wrong in (RenameSpeaker(name="Nobody", to="x"), RecolourSpeaker(name="Nobody", colour=1)):
        with pytest.raises(CorrectionRefused, match="Nobody called “Nobody”"):
            correct(TALK, wrong)


def test_words_that_are_not_there_are_told():
    with pytest.raises(CorrectionRefused, match="The talk has no word number 100"):
        correct(TALK, CorrectWords(first=99, last=99, text="x"))


@st.composite
def transcripts(draw: st.DrawFn) -> Transcript:
    at, sentences = 0, []
    for _ in range(draw(st.integers(1, 6))):
        run = []
        for _ in range(draw(st.integers(1, 6))):
            start = at + draw(st.sampled_from([0, 0, 30, 200]))
            at = start + draw(st.integers(1, 500))
            text = draw(st.sampled_from(["a", "wick", "lamp,", "short.", "Tully"]))
            run.append(SpokenWord(text=text, start_ms=start, end_ms=at))
        sentences.append(SpokenSentence(words=tuple(run), speaker=draw(st.sampled_from(["Ann", "Bo", None]))))
    return Transcript(sentences=()).with_sentences(sentences)


WORD = st.integers(0, 30)
CORRECTIONS: st.SearchStrategy[Correction] = st.one_of(
    st.builds(CorrectWords, first=WORD, last=WORD, text=st.sampled_from(["", "lamp", "a b c", "wick lamp, short."])),
    st.builds(AssignSpeaker, first=WORD, last=WORD, speaker=st.sampled_from(["Ann", "Cy", None])),
    st.builds(RenameSpeaker, name=st.sampled_from(["Ann", "Bo"]), to=st.sampled_from(["Bo", "Cy"])),
    st.builds(
        ReplaceAll, find=st.sampled_from(["a", "tully"]), text=st.sampled_from(["", "x y"]), places=st.tuples(WORD)
    ),
)


def spliced(transcript: Transcript, pieces: list[Piece]) -> tuple[SpokenSentence, ...]:
    sentences = list(transcript.sentences)
    for piece in reversed(pieces):
        assert tuple(sentences[piece.at : piece.at + len(piece.removed)]) == piece.removed
        sentences[piece.at : piece.at + len(piece.removed)] = piece.added
    return tuple(sentences)


@given(transcripts(), CORRECTIONS)
def test_times_run_forwards_after_any_correction_and_its_pieces_lead_there_and_back(
    before: Transcript, correction: Correction
):
    try:
        after, said = correct(before, correction)
    except CorrectionRefused:
        return
    flat = [word for sentence in after.sentences for word in sentence.words]
    assert said
    assert all(word.text and word.start_ms < word.end_ms for word in flat)
    assert all(a.end_ms <= b.start_ms for a, b in pairwise(flat))
    assert {s.speaker for s in after.sentences if s.speaker} <= set(after.colours)
    pieces = pieces_between(before, after)
    assert spliced(before, pieces) == after.sentences
    assert spliced(after, undoing(pieces)) == before.sentences


def test_words_put_in_at_both_ends_of_one_that_has_no_room_share_its_time():
    made = rewritten([SpokenWord(text="wick", start_ms=0, end_ms=300)], "the wick burns".split())
    assert [word.text for word in made] == ["the", "wick", "burns"]
    assert [made[0].start_ms, made[-1].end_ms] == [0, 300]
    assert all(a.end_ms <= b.start_ms for a, b in pairwise(made))


def test_a_sentence_is_ended_and_joined_by_hand_with_every_word_as_it_is():
    ended, said = correct(TALK, EndSentence(after=4))
    assert [one.text for one in ended.sentences[:2]] == ["My name is Maren Tully,", "and I have"]
    assert said == "Ended a sentence at “Tully,”"
    joined, said = correct(ended, JoinSentences(after=4))
    assert [one.text for one in joined.sentences] == [one.text for one in TALK.sentences]
    assert said == "Joined two sentences after “Tully,”"
    both, _ = correct(TALK, JoinSentences(after=7))
    assert [len(one.words) for one in both.sentences] == [12, 2]
    assert [w.text for one in both.sentences for w in one.words] == [
        w.text for one in TALK.sentences for w in one.words
    ]


@pytest.mark.parametrize(
    ("correction", "why"),
    [
        (EndSentence(after=7), "ends there already"),
        (JoinSentences(after=3), "No sentence ends there"),
        (JoinSentences(after=11), "said by somebody else"),
        (JoinSentences(after=13), "the last sentence"),
    ],
)
def test_ends_that_can_not_be_moved_are_refused(correction: Correction, why: str):
    with pytest.raises(CorrectionRefused, match=why):
        correct(TALK, correction)
