"""A balanced week out of quotes, and two quotes compared."""

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.shortlist.compare import shared_words
from nimble_quote.core.shortlist.week import Candidate, suggest_week, worth
from tests.shipped import DESTINATIONS

T30, T60, S15 = DESTINATIONS["tall-30"], DESTINATIONS["tall-60"], DESTINATIONS["story-15"]


def quote(
    number: int, talk: int = 1, speaker: str = "Ann", length_s: float = 18, merit: float = 0.7, **more: object
) -> Candidate:
    told = {"picked": False, "posted_lately": False, "topic": 0} | more
    return Candidate(
        quote=number, title=f"Quote {number}", talk=talk, talk_title=f"Talk {talk}", speaker=speaker,
        length_ms=int(length_s * 1000), merit=merit, **told,  # type: ignore[arg-type]
    )  # fmt: skip


def test_a_week_takes_from_different_talks_and_speakers_before_a_little_more_merit():
    candidates = [quote(1, merit=0.8), quote(2, merit=0.79), quote(3, talk=2, speaker="Bo", merit=0.65)]
    assert {one.quote for one in suggest_week(candidates, 2, [T30])} == {1, 3}


def test_what_was_picked_comes_first_and_what_was_posted_lately_last():
    candidates = [quote(1, merit=0.6, picked=True), quote(2, merit=0.8), quote(3, merit=0.9, posted_lately=True)]
    week = suggest_week(candidates, 2, [T30])
    assert {one.quote for one in week} == {1, 2}
    assert next(one.reason for one in week if one.quote == 1).startswith("You picked it")


def test_a_quote_is_posted_only_where_it_fits_and_only_once():
    candidates = [quote(1, length_s=50), quote(2, length_s=12)]
    week = suggest_week(candidates, 5, [S15, T60])
    assert {one.quote: one.destination for one in week}[1] == "tall-60"
    assert len(week) == 2
    assert suggest_week([quote(1, length_s=70)], 3, [T60]) == ()


def test_every_post_has_a_reason_and_what_it_could_be_swapped_for():
    candidates = [quote(1), quote(2, talk=2, speaker="Bo", length_s=25), quote(3, merit=0.5), quote(4, length_s=200)]
    week = suggest_week(candidates, 2, [T30])
    assert all(one.reason.endswith(".") and one.reason[0].isupper() for one in week)
    assert all(set(one.instead) == {3} for one in week)
    assert "the only one by Bo" in next(one.reason for one in week if one.quote == 2)


@given(
    st.lists(
        st.tuples(st.integers(1, 3), st.sampled_from("ABC"), st.integers(8, 58), st.integers(0, 100), st.booleans()),
        min_size=1,
        max_size=6,
    ),
    st.integers(1, 3),
)
def test_the_week_is_worth_as_much_as_the_best_of_all_weeks(told: list[tuple[int, str, int, int, bool]], posts: int):
    candidates = [
        quote(n, talk, speaker, length, merit / 100, picked=picked)
        for n, (talk, speaker, length, merit, picked) in enumerate(told)
    ]
    destinations = [T30, T60]
    pairs = [(one, to) for one in candidates for to in destinations if one.length_ms <= to.limit_ms]
    best = max(
        worth(week, posts, destinations)
        for size in range(posts + 1)
        for week in itertools.combinations(pairs, size)
        if len({one.quote for one, _ in week}) == size
    )
    chosen = suggest_week(candidates, posts, destinations)
    by_quote = {one.quote: one for one in candidates}
    week = [(by_quote[one.quote], DESTINATIONS[one.destination]) for one in chosen]
    assert worth(week, posts, destinations) == pytest.approx(best, abs=1e-4)


def test_shared_words_are_those_that_tell_something_in_both():
    assert shared_words(["lamp", None, "wick"], [None, "wick", "oil", "wick"]) == ([2], [1, 3])
    assert shared_words([], ["lamp"]) == ([], [])
