"""What is written reads back as what it was."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.transcript.cues import TimedWord, timed_words
from nimble_quote.core.transcript.sentences import into_sentences
from nimble_quote.core.transcript.words import Word
from nimble_quote.formats.reading.cuetext import clean
from nimble_quote.formats.transcripts import read_transcript
from nimble_quote.formats.written import TRANSCRIPT_WRITERS, Written


def written(sentences: list[list[TimedWord]], kind: str) -> str:
    return TRANSCRIPT_WRITERS[kind](Written(title="A talk & more", sentences=sentences))


def sentence(text: str, speaker: str | None, at_ms: int, first: int = 0) -> list[TimedWord]:
    return [
        TimedWord(
            word=Word(index=first + i, text=word, start_ms=at_ms + i * 400, end_ms=at_ms + i * 400 + 250),
            speaker=speaker, timing="aligned", sure=0.5,
        )
        for i, word in enumerate(text.split())
    ]  # fmt: skip


TALK = [sentence("Keep the wick short.", "Maren & co", 1000), sentence("Why <so>?", "Bo", 3_600_000, 4)]


def test_webvtt_names_speakers_and_times_each_word():
    assert written(TALK, "vtt").split("\n\n")[1:] == [
        "00:00:01.000 --> 00:00:02.450\n<v Maren &amp; co><00:00:01.000>Keep<00:00:01.250> <00:00:01.400>the"
        "<00:00:01.650> <00:00:01.800>wick<00:00:02.050> <00:00:02.200>short.</v>",
        "01:00:00.000 --> 01:00:00.650\n<v Bo><01:00:00.000>Why<01:00:00.250> <01:00:00.400>&lt;so&gt;?</v>\n",
    ]


def test_subrip_and_plain_text_say_who_speaks_where_it_changes():
    assert written(TALK, "srt").startswith("1\n00:00:01,000 --> 00:00:02,450\nMaren & co: Keep the wick short.\n\n2\n")
    assert "Bo: Why ‹so›?" in written(TALK, "srt")
    assert written(TALK, "txt") == "[0:00:01] Maren & co: Keep the wick short.\n\n[1:00:00] Bo: Why <so>?\n"


# Notes are read as music, not as words.
SIGNS = st.characters(codec="utf-8", categories=("L", "N", "P", "S"), exclude_characters="♪♫♬")
TEXTS = st.text(SIGNS, min_size=1, max_size=9).map(clean)


@given(st.lists(st.tuples(st.lists(TEXTS, min_size=1, max_size=30), st.sampled_from(["Ann", "Bo <3"])), min_size=1))
@pytest.mark.parametrize("kind", ["vtt", "ttml", "json"])
def test_words_times_and_speakers_come_back(kind: str, talk: list[tuple[list[str], str]]):
    sentences = [sentence(" ".join(words), who, 1000 + number * 60_000) for number, (words, who) in enumerate(talk)]
    reading = read_transcript(f"talk.{kind}", written(sentences, kind).encode())
    back = timed_words(reading.cues)
    assert reading.left_out == ()
    flat = [w for s in sentences for w in s]
    assert [(w.word.text, w.word.start_ms, w.speaker) for w in back] == [
        (w.word.text, w.word.start_ms, w.speaker) for w in flat
    ]
    assert into_sentences(back)


@pytest.mark.parametrize("kind", ["srt", "txt"])
def test_the_words_come_back_from_the_simpler_formats(kind: str):
    reading = read_transcript(f"talk.{kind}", written(TALK, kind).encode())
    said = " ".join(token.text for cue in reading.cues for token in cue.tokens)
    assert (
        said.replace("Maren & co: ", "").replace("Bo: ", "").replace("‹so›", "<so>") == "Keep the wick short. Why <so>?"
    )


def test_a_word_that_begins_with_a_dash_keeps_it_where_a_tag_tells_who_speaks():
    talk = [sentence("-A or –B", "Ann", 1000)]
    back = timed_words(read_transcript("talk.vtt", written(talk, "vtt").encode()).cues)
    assert [w.word.text for w in back] == ["-A", "or", "–B"]
    turns = b"WEBVTT\n\n00:01.000 --> 00:03.000\n-Is it live?\n- It was.\n"
    assert [w.word.text for w in timed_words(read_transcript("talk.vtt", turns).cues)] == [
        "Is",
        "it",
        "live?",
        "It",
        "was.",
    ]
