"""Passages by what they mean: the thoughts of a talk, the windows over them, and answers by words and by meaning as one."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.search.meaning import (
    THOUGHT_WORDS,
    WINDOW_WORDS,
    Near,
    TalkVectors,
    Thoughts,
    packed,
    thoughts,
)
from nimble_quote.core.search.passages import Passage, near_passage, with_near
from tests.core.test_search import stretch, told

WIDTH = 8


def towards(*places: int) -> np.ndarray:  # type: ignore[type-arg]
    """A vector of length 1 that points between some axes."""
    vector = np.zeros(WIDTH, np.float32)
    vector[list(places)] = 1
    return vector / np.linalg.norm(vector)  # type: ignore[no-any-return]


def a_talk(*axes: int, words: int = 25) -> TalkVectors:
    """A talk whose thoughts have a sentence each and mean one thing each."""
    count = len(axes)
    return TalkVectors(
        firsts=range(count), ends=range(1, count + 1), words=[words] * count, vectors=packed(np.stack([towards(a) for a in axes]))
    )  # fmt: skip


@given(st.lists(st.integers(1, 60), max_size=60))
def test_thoughts_are_whole_sentences_that_cover_the_talk(words: list[int]):
    runs = thoughts(words)
    assert [place for first, end in runs for place in range(first, end)] == list(range(len(words)))
    said = [sum(words[first:end]) for first, end in runs]
    assert all(count >= THOUGHT_WORDS for count in said[:-1])
    assert not said[1:] or said[-1] >= THOUGHT_WORDS / 2, "a short rest belongs to the thought before it"


def test_a_short_talk_is_one_thought():
    assert thoughts([3, 4]) == [(0, 2)]
    assert thoughts([]) == []


def test_packed_vectors_point_where_they_did():
    vectors = np.random.default_rng(4).normal(size=(20, 384)).astype(np.float32)
    small = packed(vectors).astype(np.float32)
    alike = (vectors * small).sum(axis=1) / np.linalg.norm(vectors, axis=1) / np.linalg.norm(small, axis=1)
    assert alike.min() > 0.999
    assert not packed(np.zeros((1, 4), np.float32)).any()


def test_the_window_that_says_it_most_is_nearest_and_none_lies_over_a_nearer_one():
    talks = {7: a_talk(0, 0, 0, 0, 1, 2, 2, 2, 2), 8: a_talk(3, 3, 3, 3)}
    near = Thoughts(talks).nearest(towards(2), None, 5)
    assert (near[0].recording_id, near[0].first_sentence, near[0].last_sentence) == (7, 5, 8)
    assert near[0].score == pytest.approx(1.5, abs=0.01)
    taken = [(one.recording_id, s) for one in near for s in range(one.first_sentence, one.last_sentence + 1)]
    assert len(taken) == len(set(taken))
    assert [one.score for one in near] == sorted((one.score for one in near), reverse=True)


def test_a_window_reaches_over_words_enough_and_a_short_talk_is_one():
    (near,) = Thoughts({1: a_talk(0, 1, words=WINDOW_WORDS // 5)}).nearest(towards(1), None, 5)
    assert (near.first_sentence, near.last_sentence) == (0, 1)
    assert near.score == pytest.approx(2**-0.5 + 0.5, abs=0.01), "half of it, and one thought wholly"
    near = Thoughts({1: a_talk(0, 0, 1, 1, words=WINDOW_WORDS // 2)}).nearest(towards(1), None, 1)[0]
    assert (near.first_sentence, near.last_sentence) == (2, 3)


def test_only_some_talks_are_searched_where_a_search_is_narrowed():
    found = Thoughts({1: a_talk(0, 0, 0, 0), 2: a_talk(0, 0, 0, 0)})
    assert [one.recording_id for one in found.nearest(towards(0), {2}, 5)] == [2]
    assert found.nearest(towards(0), set(), 5) == []


def test_no_talks_answer_nothing():
    assert Thoughts({}).nearest(towards(0), None, 5) == []
    assert (
        Thoughts(
            {1: TalkVectors(firsts=[], ends=[], words=[], vectors=packed(np.zeros((0, WIDTH), np.float32)))}
        ).nearest(towards(0), None, 5)
        == []
    )


@given(st.lists(st.lists(st.integers(0, 5), min_size=1, max_size=14), min_size=1, max_size=4), st.integers(0, 5))
def test_scores_are_those_of_the_formula(axes: list[list[int]], asked: int):
    talks = {number: a_talk(*one) for number, one in enumerate(axes)}
    for near in Thoughts(talks).nearest(towards(asked), None, 3):
        assert near.score == pytest.approx(by_hand(talks[near.recording_id], near, asked), abs=0.01)


def by_hand(talk: TalkVectors, near: Near, asked: int) -> float:
    rows = talk.vectors[near.first_sentence : near.last_sentence + 1].astype(float)
    rows /= np.linalg.norm(rows, axis=1, keepdims=True)
    whole = (rows * np.sqrt(25)).sum(axis=0)
    query = towards(asked)
    return float(whole @ query / np.linalg.norm(whole) + 0.5 * (rows @ query).max())


def passage(first: int, last: int, has: float = 1.0, by_meaning: bool = False) -> Passage:
    sentences = tuple(stretch("|".join(["one two three"] * 30))[first : last + 1])
    return Passage(sentences=sentences, marks=(), score=0.0, has=has, by_meaning=by_meaning)


def test_passages_with_the_words_go_before_those_that_mean_it_and_those_before_what_has_some_of_the_words():
    said = [passage(4, 5), passage(14, 15, has=0.4), passage(22, 22, has=0.3)]
    near = [passage(20, 25, by_meaning=True), passage(3, 8, by_meaning=True)]
    assert with_near(said, near) == [said[0], near[0], said[1]], "none lies over one before it"
    assert with_near([], near) == near
    assert with_near(said, []) == said


def test_a_passage_near_in_meaning_shows_the_words_it_has_and_is_said_by_whom_was_asked():
    said = stretch("Keep the wick short|and the glass clean")
    found = near_passage(said, told("wick smoke"))
    assert found is not None
    assert (found.marks, found.missing, found.by_meaning) == (((2, 3),), (), True)
    assert near_passage(said, told("wick"), by="bo") is None
    assert near_passage(said, told("wick"), by="an") is not None
