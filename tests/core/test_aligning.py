"""Reckoning for alignment: windows that cover the words, anchors from a recogniser, times that never run back."""

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.timebase import Span
from nimble_quote.core.transcript.aligning import (
    LONGEST_WINDOW_MS,
    AlignedWord,
    Window,
    anchored,
    retimed,
    windows,
)
from nimble_quote.core.transcript.document import SpokenWord
from nimble_quote.core.transcript.pronouncing import number_words, sounded_out, spoken_forms


def word(text: str, start_ms: int, end_ms: int, timing: str = "e") -> SpokenWord:
    return SpokenWord(text=text, start_ms=start_ms, end_ms=end_ms, timing=timing)


def evenly(text: str, step_ms: int = 500) -> list[SpokenWord]:
    return [word(one, i * step_ms, i * step_ms + step_ms) for i, one in enumerate(text.split())]


def test_a_window_ends_in_the_pause_before_a_sentence():
    # Three sentences of 8 s, each followed by a pause of 2 s; the rough times know nothing of the pauses' edges.
    words = [
        w
        for n in range(3)
        for w in (word(f"w{n}{i}", n * 10_000 + i * 1000, n * 10_000 + i * 1000 + 1000) for i in range(8))
    ]
    speech = [Span(start_ms=n * 10_000 + 100, end_ms=n * 10_000 + 8000) for n in range(3)]
    found = windows(words, {0, 8, 16}, speech, 30_000)
    assert [(w.first, w.end) for w in found] == [(0, 8), (8, 16), (16, 24)]
    assert [(w.span.start_ms, w.span.end_ms) for w in found] == [(0, 9050), (9050, 19050), (19050, 29000)]


@st.composite
def rough_talks(draw: st.DrawFn) -> tuple[list[SpokenWord], list[Span], int]:
    at, words = draw(st.integers(0, 2000)), []
    for i in range(draw(st.integers(1, 60))):
        start = at + draw(st.sampled_from([0, 0, 0, 50, 400, 3000]))
        at = start + draw(st.integers(1, 1500))
        words.append(word(f"w{i}", start, at))
    edges = sorted(set(draw(st.lists(st.integers(0, at + 1000), max_size=30))))
    speech = [Span(start_ms=a, end_ms=b) for a, b in zip(edges[0::2], edges[1::2], strict=False)]
    return words, speech, at + draw(st.integers(1, 3000))


@given(rough_talks())
def test_windows_take_every_word_once_in_order_and_are_short(talk: tuple[list[SpokenWord], list[Span], int]):
    words, speech, duration = talk
    found = windows(words, {0}, speech, duration)
    assert [w.first for w in found] == [0, *(w.end for w in found[:-1])]
    assert found[-1].end == len(words)
    assert all(w.first < w.end and w.span.length_ms <= LONGEST_WINDOW_MS + 4000 for w in found)


def test_words_that_were_heard_anchor_those_between_them():
    text = evenly("keep the wick short and keep the glass clean")
    heard = [
        word("Keep", 10_000, 10_300),
        word("the", 10_300, 10_500),
        word("weak", 10_500, 10_900),
        word("clean.", 14_000, 14_400),
    ]
    found = anchored(text, heard)
    assert [(w.text, w.start_ms) for w in found[:3]] == [("keep", 10_000), ("the", 10_300), ("wick", 10_500)]
    assert (found[-1].text, found[-1].start_ms) == ("clean", 14_000)
    assert all(a.end_ms <= b.start_ms for a, b in pairwise(found))
    assert anchored(text, [word("nothing", 0, 10)]) == text, "with no word in common, rough times stay"


def test_a_phrase_said_twice_is_not_taken_for_the_other():
    text = evenly("keep it short he said and then again keep it short")
    heard = [
        word(w, 5000 + i * 300, 5300 + i * 300) for i, w in enumerate("he said and then again keep it short".split())
    ]
    found = anchored(text, heard)
    assert [w.start_ms for w in found[8:]] == [6500, 6800, 7100]


def test_what_the_aligner_could_not_tell_is_spread_between_what_it_could():
    words = evenly("one two three four", 1000)
    window = Window(first=0, end=4, span=Span(start_ms=2000, end_ms=6000))
    times = [AlignedWord(start_ms=100, end_ms=400), None, None, AlignedWord(start_ms=3000, end_ms=3500)]
    found = retimed(words, [(window, times)])
    assert [(w.start_ms, w.end_ms, w.timing) for w in found] == [
        (2100, 2400, "a"), (2400, 3440, "e"), (3440, 5000, "e"), (5000, 5500, "a")]  # fmt: skip
    unknown = retimed(words, [(window, [None] * 4)])
    assert unknown == words


@given(rough_talks(), st.data())
def test_retimed_words_never_run_back(talk: tuple[list[SpokenWord], list[Span], int], data: st.DataObject):
    words, speech, duration = talk
    found = []
    for window in windows(words, {0}, speech, duration):
        times = [
            data.draw(st.one_of(st.none(), st.builds(lambda a, b: AlignedWord(start_ms=a, end_ms=a + b), st.integers(0, 9000), st.integers(1, 900))))
            for _ in range(window.first, window.end)
        ]  # fmt: skip
        found.append((window, times))
    out = retimed(words, found)
    assert [w.text for w in out] == [w.text for w in words]
    assert all(w.start_ms < w.end_ms for w in out)
    assert all(a.end_ms <= b.start_ms for a, b in pairwise(out))


@pytest.mark.parametrize(
    ("text", "forms"),
    [
        ("well-known,", ["well", "known"]),
        ("don’t", ["don't"]),
        ("1952", ["nineteen", "fifty", "two"]),
        ("2,014", ["two", "thousand", "and", "fourteen"]),
        ("£3.50", ["pounds", "three", "point", "five", "zero"]),
        ("—", []),
        ("R&D", ["r", "and", "d"]),
        ("110", ["one", "hundred", "and", "ten"]),
    ],
)
def test_words_are_spoken_as_people_say_them(text: str, forms: list[str]):
    assert spoken_forms(text) == forms


@given(st.integers(0, 999_999_999))
def test_every_number_can_be_said(value: int):
    assert all(part.isalpha() for part in number_words(str(value)))


@given(st.text(max_size=20))
def test_every_word_can_be_sounded_out(text: str):
    assert sounded_out(text)
    assert sounded_out("Tolley") == "T AA L IY"
