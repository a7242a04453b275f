import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.transcript import cues
from nimble_quote.core.transcript.cues import TimedCue, TimedWord, Token, timed_words
from nimble_quote.core.transcript.sentences import LONGEST_WORDS, into_sentences
from nimble_quote.formats.languages import language


def cue(start_ms: int, end_ms: int, text: str, speaker: str | None = None) -> TimedCue:
    return TimedCue(
        start_ms=start_ms, end_ms=end_ms, tokens=tuple(Token(text=t) for t in text.split()), speaker=speaker
    )


def heard(*cues: TimedCue) -> list[TimedWord]:
    return timed_words(cues)


def sentences_of(words: list[TimedWord]) -> list[str]:
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
    said = [cue(start, start + length, "word " * count) for start, length, count in shapes]
    words = [w.word for w in timed_words(said)]
    assert [w.index for w in words] == list(range(len(words)))
    assert all(w.start_ms < w.end_ms for w in words)
    assert all(a.end_ms <= b.start_ms for a, b in itertools.pairwise(words))


@st.composite
def tokens(draw: st.DrawFn) -> Token:
    start = draw(st.none() | st.integers(0, 9000))
    return Token(text="w" * draw(st.integers(1, 9)), start_ms=start, end_ms=draw(st.none() | st.integers(0, 9000)))


def starts_one_by_one(tokens: tuple[Token, ...], first_ms: int, last_ms: int) -> list[int]:
    """What `cues` works out in one pass, looking anew at every token for what is known after it."""
    known: list[int | None] = [token.start_ms for token in tokens]
    if known and known[0] is None:
        known[0] = first_ms
    known.append(last_ms)
    out: list[int] = []
    for place, value in enumerate(known):
        if value is None:
            before = tokens[place - 1]
            following = next(i for i in range(place, len(known)) if known[i] is not None)
            weights = [len(token.text) + 1 for token in tokens[place - 1 : following]]
            share = round(((known[following] or 0) - out[-1]) * weights[0] / sum(weights)) if out else 0
            value = before.end_ms if before.end_ms is not None else out[-1] + share
        out.append(value)
    return out


@given(st.lists(tokens(), min_size=1, max_size=12).map(tuple), st.integers(0, 5000), st.integers(5001, 9000))
def test_shared_times_are_those_worked_out_one_by_one(run: tuple[Token, ...], first_ms: int, last_ms: int):
    starts, _ = cues._starts(run, first_ms, last_ms)
    assert starts == starts_one_by_one(run, first_ms, last_ms)


@given(st.lists(st.tuples(st.booleans(), st.integers(1, 5)), min_size=1, max_size=10), st.integers(1, 60_000))
def test_paragraphs_share_the_time_to_the_next_that_has_one(shapes: list[tuple[bool, int]], duration_ms: int):
    told = [
        TimedCue(start_ms=i * 3000 if known else None, end_ms=None, tokens=(Token(text="word"),) * count)
        for i, (known, count) in enumerate(shapes)
    ]
    edges = [edge for _, edge in cues._with_edges(told, duration_ms)]
    assert all(start < end for start, end in edges)
    assert all(edge[0] == cue.start_ms for cue, edge in zip(told, edges, strict=True) if cue.start_ms is not None)
    for place, cue in enumerate(told[1:], start=1):
        if cue.start_ms is None:
            assert edges[place][0] == edges[place - 1][1]


def test_paragraphs_of_a_talk_of_unknown_length_take_what_speaking_takes():
    told = [TimedCue(start_ms=None, end_ms=None, tokens=(Token(text="w" * 69),)) for _ in range(3)]
    assert [one.word.end_ms for one in cues.timed_words(told)] == [5000, 10_000, 15_000]


@pytest.mark.parametrize(("following_ms", "ends_ms"), [(7_000, 7_000), (20_000, 5_000), (3_000, 3_000)])
def test_a_paragraph_with_a_start_alone_is_spoken_until_the_next_unless_far_more_time_is_left(
    following_ms: int, ends_ms: int
):
    starts = (0, following_ms)
    told = [TimedCue(start_ms=at, end_ms=None, tokens=(Token(text="w" * 69),)) for at in starts]
    first, _ = cues.timed_words(told, 60_000)
    assert first.word.end_ms == ends_ms


def test_even_gaps_are_cut_into_sentences_of_a_like_length():
    words = heard(cue(0, 600_000, "lamp " * 1800))
    assert {s.end - s.first for s in into_sentences(words)} <= {LONGEST_WORDS // 2, LONGEST_WORDS}


def test_sentences_end_at_marks_and_not_at_abbreviations():
    words = heard(cue(0, 4000, "I met Mr. Tolley. “Is it late?” No! It is St. Anna's day"))
    assert sentences_of(words) == ["I met Mr. Tolley.", "“Is it late?”", "No!", "It is St. Anna's day"]


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("“Is it late?” she asked. It was.", ["“Is it late?” she asked.", "It was."]),
        ("“It is late.” She went.", ["“It is late.”", "She went."]),
        ("And … then nothing. Well… Yes.", ["And … then nothing.", "Well…", "Yes."]),
        ("There are two rules. 1. Wait. 2. Wait longer.", ["There are two rules.", "1. Wait.", "2. Wait longer."]),
        ("We saw 14. Then 3.5 more.", ["We saw 14.", "Then 3.5 more."]),
        ("See Fig. 3 and approx. ten more.", ["See Fig. 3 and approx. ten more."]),
        ("هل الوقت متأخر؟ نعم.", ["هل الوقت متأخر؟", "نعم."]),
        ("यह दीपक है। वह समुद्र है।", ["यह दीपक है।", "वह समुद्र है।"]),
        ("これはランプです。 海は遠い！ 本当？", ["これはランプです。", "海は遠い！", "本当？"]),
    ],
)
def test_sentences_end_as_their_script_ends_them(text: str, expected: list[str]):
    assert sentences_of(heard(cue(0, 9000, text))) == expected


def test_text_without_marks_and_times_is_cut_where_a_sentence_may_begin():
    text = "we keep the lamp low on the ledge and the tide comes in and we wait " * 12
    words = heard(cue(0, 60_000, text))
    for one in into_sentences(words, language("en"))[:-1]:
        assert words[one.end].word.text in ("we", "and"), "and not after “the”, wherever half of the way is"


def test_a_change_of_speaker_ends_a_sentence():
    words = heard(cue(0, 1000, "so I went", "Ann"), cue(1000, 2000, "did you", "Bo"))
    assert sentences_of(words) == ["so I went", "did you"]


def test_without_marks_long_pauses_end_sentences():
    words = heard(*(cue(i * 5000, i * 5000 + 3000, "and then we went on and on") for i in range(12)))
    assert len(into_sentences(words)) == 12


def test_pauses_of_known_times_are_believed_sooner_but_not_after_a_word_that_leads_on():
    starts = [0, 300, 600, 1500, 1800, 2100, 3200]
    spoken = zip("we keep the lamp low now wait".split(), starts, strict=True)
    tokens = tuple(Token(text=text, start_ms=start, end_ms=start + 250) for text, start in spoken)
    words = timed_words([TimedCue(start_ms=0, end_ms=3500, tokens=tokens)])
    found = [" ".join(w.word.text for w in words[s.first : s.end]) for s in into_sentences(words, language("en"))]
    assert found == ["we keep the lamp low now", "wait"]


def test_no_sentence_is_endless():
    words = heard(cue(0, 600_000, "and " * 1500))
    found = into_sentences(words)
    assert max(s.end - s.first for s in found) <= LONGEST_WORDS
    assert [s.first for s in found[1:]] == [s.end for s in found[:-1]]
