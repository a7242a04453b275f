import itertools

from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.transcript.cues import HeardWord, TimedCue, Token, timed_words
from nimble_quote.core.transcript.sentences import LONGEST_WORDS, into_sentences


def cue(start_ms: int, end_ms: int, text: str, speaker: str | None = None) -> TimedCue:
    return TimedCue(
        start_ms=start_ms, end_ms=end_ms, tokens=tuple(Token(text=t) for t in text.split()), speaker=speaker
    )


def heard(*cues: TimedCue) -> list[HeardWord]:
    return timed_words(cues)


def sentences_of(words: list[HeardWord]) -> list[str]:
    return [" ".join(w.word.text for w in words[s.first : s.end]) for s in into_sentences(words)]


def test_words_without_times_share_the_cue_by_their_length():
    words = [w.word for w in heard(cue(0, 1000, "a lamplighter"))]
    assert [(w.text, w.start_ms, w.end_ms) for w in words] == [("a", 0, 143), ("lamplighter", 143, 1000)]


def test_given_times_are_kept_and_the_rest_is_shared_between_them():
    tokens = (Token(text="one"), Token(text="two"), Token(text="three", start_ms=900, end_ms=1000), Token(text="four"))
    words = [w.word for w in timed_words([TimedCue(start_ms=100, end_ms=1500, tokens=tokens)])]
    assert [(w.start_ms, w.end_ms) for w in words] == [(100, 500), (500, 900), (900, 1000), (1000, 1500)]


@given(st.lists(st.tuples(st.integers(0, 5000), st.integers(1, 4000), st.integers(1, 6)), max_size=12))
def test_words_never_overlap_whatever_the_cues_do(shapes: list[tuple[int, int, int]]):
    cues = [cue(start, start + length, "word " * count) for start, length, count in shapes]
    words = [w.word for w in timed_words(cues)]
    assert [w.index for w in words] == list(range(len(words)))
    assert all(w.start_ms < w.end_ms for w in words)
    assert all(a.end_ms <= b.start_ms for a, b in itertools.pairwise(words))


def test_sentences_end_at_marks_and_not_at_abbreviations():
    words = heard(cue(0, 4000, "I met Mr. Tolley. “Is it late?” No! It is St. Anna's day"))
    assert sentences_of(words) == ["I met Mr. Tolley.", "“Is it late?”", "No!", "It is St. Anna's day"]


def test_a_change_of_speaker_ends_a_sentence():
    words = heard(cue(0, 1000, "so I went", "Ann"), cue(1000, 2000, "did you", "Bo"))
    assert sentences_of(words) == ["so I went", "did you"]


def test_without_marks_long_pauses_end_sentences():
    words = heard(*(cue(i * 5000, i * 5000 + 3000, "and then we went on and on") for i in range(12)))
    assert len(into_sentences(words)) == 12


def test_no_sentence_is_endless():
    words = heard(cue(0, 600_000, "and " * 1500))
    found = into_sentences(words)
    assert max(s.end - s.first for s in found) <= LONGEST_WORDS
    assert [s.first for s in found[1:]] == [s.end for s in found[:-1]]
