"""The demo talk is what a practice talk needs: long enough, quotable, with real mistakes and true times."""

import json

import pytest

from nimble_quote.core.assembly import RecordingFacts, cut_ms
from nimble_quote.core.edits import new_quote
from nimble_quote.core.talk import Talk
from nimble_quote.core.transcript.cues import timed_words
from nimble_quote.core.transcript.sentences import into_sentences
from nimble_quote.demo.load import MEDIA
from nimble_quote.formats.transcripts import read_transcript
from tests.conftest import find_words
from tests.shipped import DESTINATIONS
from tests.talks import HD, context_of

FOLDER = MEDIA / "keep-the-wick-short"
FACTS: RecordingFacts = HD.model_copy(update={"duration_ms": 441_360})
READING = read_transcript("transcript.vtt", (FOLDER / "transcript.vtt").read_bytes())
HEARD = timed_words(READING.cues)
TALK = Talk(words=[heard.word for heard in HEARD], duration_ms=FACTS.duration_ms)
TEXTS = [word.text for word in TALK.words]


def passage_ms(opens: str, ends: str) -> int:
    first, last = find_words(TEXTS, opens)[0], find_words(TEXTS, ends)[1]
    return cut_ms(new_quote(context_of(TALK), first, last), FACTS)


def test_the_transcript_is_read_whole():
    assert READING.mended == READING.left_out == ()
    assert {heard.speaker for heard in HEARD} == {"Maren Tolley"}
    assert len(into_sentences(HEARD)) == 93
    assert TALK.words[-1].end_ms > 6 * 60_000


@pytest.mark.parametrize(
    ("opens", "ends", "shortest_s", "longest_s"),
    [
        ("So people ask me,", "still burning at dawn.", 12, 55),
        ("You do not have to mend", "reach that too.", 11, 55),
        ("Here is something that I have", "never having got it wrong.", 12, 55),
        ("When I was young, I thought", "put out the fire.", 12, 55),
        ("So, what would I like", "when they come.", 12, 55),
    ],
)
def test_there_are_strong_passages_for_every_limit(opens: str, ends: str, shortest_s: int, longest_s: int):
    assert shortest_s * 1000 <= passage_ms(opens, ends) <= longest_s * 1000


def test_one_passage_must_be_cut_to_fit_a_minute():
    long = passage_ms("It was in November,", "look after all of them.")
    assert 70_000 < long < 80_000
    assert long > DESTINATIONS["tall-60"].limit_ms


def test_a_number_is_corrected_aloud_and_there_are_fillers():
    text = " ".join(TEXTS)
    assert "No, sorry, I said forty, I mean fourteen." in text
    assert sum(text.lower().count(filler) for filler in ("um,", "uh,", "you know,", "i think")) >= 10


def test_the_times_are_those_of_the_voice_and_a_few_words_are_misheard():
    truth = json.loads((FOLDER / "truth.json").read_text())["words"]
    said = [(token, word["start_ms"]) for word in truth for token in word["heard"].split()]
    assert [token for token, _ in said] == TEXTS
    exact = [word for (_, start), word in zip(said, TALK.words, strict=True) if start == word.start_ms]
    assert len(exact) >= len(TEXTS) - 4, "only the second halves of split words share a time"
    misheard = [(word["said"], word["heard"]) for word in truth if word["said"] != word["heard"]]
    assert misheard == [
        ("Tolley,", "Tully,"), ("Skerry", "Scary"), ("lamphouse", "lamp house"), ("Patient", "patience"),
        ("lamphouse,", "lamp house,"),
    ]  # fmt: skip
