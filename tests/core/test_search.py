"""A search as typed, what it comes to, and the passages that answer it."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.search.passages import (
    Passage,
    SearchedSentence,
    apart,
    best_passage,
    by_story,
    rarity,
)
from nimble_quote.core.search.query import Part, read_query
from nimble_quote.core.search.wanted import NEAR, Slot, Wanted, condition, marks, merged_marks

COMMON = {"the", "a", "to", "of", "and"}


def told(typed: str, weight: float = 1.0) -> list[Wanted]:
    """The parts of a search whose words stand for themselves."""
    return [
        Wanted(
            part=part,
            slots=tuple(Slot(common=True) if w in COMMON else Slot(lexemes=frozenset([w])) for w in part.words),
            weight=weight,
        )
        for part in read_query(typed).parts
    ]


def stretch(text: str, recording: int = 1, speaker: str = "Ann") -> list[SearchedSentence]:
    """Sentences parted by '|'; a word's lexeme is itself in small letters, without a full stop."""
    out, first = [], 0
    for number, said in enumerate(text.split("|")):
        words = said.split()
        out.append(
            SearchedSentence(
                recording_id=recording, number=number, first_word=first, speaker=speaker, words=words,
                forms=[w.lower().strip(".,") for w in words],
                lexemes=[() if w.lower() in COMMON else (w.lower().strip("."),) for w in words],
                start_ms=number * 5000, end_ms=number * 5000 + 4000,
            )
        )  # fmt: skip
        first += len(words)
    return out


def said(passage: Passage | None) -> str:
    assert passage
    return " | ".join(" ".join(one.words) for one in passage.sentences)


def test_a_search_is_words_phrases_beginnings_and_words_near_each_other():
    query = read_query('lamp "keep the wick" light* storm ~ harbour -oil -"long wick" “open quote')
    assert query.parts == (
        Part(kind="word", words=("lamp",)), Part(kind="phrase", words=("keep", "the", "wick")),
        Part(kind="beginning", words=("light",)), Part(kind="near", words=("storm", "harbour")),
        Part(kind="phrase", words=("open", "quote")),
    )  # fmt: skip
    assert query.without == (Part(kind="word", words=("oil",)), Part(kind="phrase", words=("long", "wick")))


def test_filters_are_read_out_of_what_was_typed_and_the_rest_stays():
    query = read_query('wick by:"Maren Tolley" in:chapel after:2025-3 before:2026 used:no wide:yes lamp http://a.b')
    assert (query.by, query.series, query.after, query.before) == ("Maren Tolley", "chapel", "2025-03-01", "2026-01-01")
    assert (query.used, query.wide, query.bare) == (False, True, "wick lamp http://a.b")


@pytest.mark.parametrize("day", ["soon", "2026-13", "2026-02-30", "2025-02-29", "26", "2026-1-1-1"])
def test_a_day_that_is_none_is_told_and_the_search_goes_on(day: str):
    query = read_query(f"wick after:{day}")
    assert query.problems == (f"“after:{day}” is not a date. Write after:2026, after:2026-11 or after:2026-11-25.",)
    assert query.parts == (Part(kind="word", words=("wick",)),)


def test_a_leap_day_is_a_day():
    assert read_query("before:2024-02-29").before == "2024-02-29"


@given(st.text(max_size=300))
def test_no_search_fails_to_be_read(typed: str):
    query = read_query(typed)
    assert all(part.words and all(any(c.isalnum() for c in word) for word in part.words) for part in query.parts)
    assert len(query.bare) <= 300


@pytest.mark.parametrize(
    ("typed", "asked"),
    [
        ("wick lamp", "((('wick')) & (('lamp')))"),
        ('"keep the wick"', "((('keep') <2> ('wick')))"),
        ("storm ~ lamp", "((('storm') & ('lamp')))"),
        ("the", None),
    ],
)
def test_a_search_comes_to_a_condition(typed: str, asked: str | None):
    assert condition(told(typed), [], every=True) == asked


def test_quotation_marks_and_backslashes_stay_inside_their_lexeme():
    odd = Wanted(part=Part(kind="word", words=("x",)), slots=(Slot(lexemes=frozenset(["a'b\\c"])),))
    assert condition([odd], [odd], every=False) == "((('a''b\\\\c'))) & !(('a''b\\\\c'))"


def test_a_word_that_no_talk_has_answers_nothing_together_with_others_but_the_others_alone():
    unknown = Wanted(part=Part(kind="word", words=("x",)), slots=(Slot(),))
    assert condition([*told("wick"), unknown], [], every=True) is None
    assert condition([*told("wick"), unknown], [], every=False) == "((('wick')))"


def test_a_phrase_is_marked_whole_and_common_words_in_it_match_any():
    text = [("keep",), (), ("wick",), ("short",)]
    (phrase,) = told('"keep the wick"')
    assert marks(text, phrase) == [(0, 3)]
    assert marks([("keep",), ("oil",), ("short",)], phrase) == []
    assert merged_marks([(4, 6), (0, 2), (1, 3), (0, 2)]) == [(0, 3), (4, 6)]


def test_words_near_each_other_are_marked_and_those_far_apart_are_not():
    (near,) = told("storm ~ lamp")
    between = [("x",)] * (NEAR - 1)
    assert marks([("storm",), *between, ("lamp",)], near) == [(0, 1), (NEAR, NEAR + 1)]
    assert marks([("lamp",), ("x",), *between, ("storm",)], near) == []


def test_a_passage_is_whole_sentences_around_what_answers_rounded_off_where_it_is_short():
    talk = stretch("One two three. | The lamp burns. | A wick smokes. | Four five six. | Seven eight.")
    passage = best_passage(talk, told("lamp wick"))
    assert said(passage) == "One two three. | The lamp burns. | A wick smokes. | Four five six. | Seven eight."
    assert passage
    assert [" ".join(w for one in passage.sentences for w in one.words).split()[a:b] for a, b in passage.marks] == [
        ["lamp"], ["wick"],
    ]  # fmt: skip


def test_closer_and_in_order_answers_better_and_what_is_missing_is_told():
    together = best_passage(stretch("The lamp wick burns."), told("lamp wick"))
    turned = best_passage(stretch("The wick lamp burns."), told("lamp wick"))
    far = best_passage(stretch("The lamp of a long evening by the sea had a wick."), told("lamp wick"))
    half = best_passage(stretch("The lamp burns."), told("lamp wick"))
    assert together
    assert turned
    assert far
    assert half
    assert together.score > turned.score > far.score > half.score
    assert half.missing == ("wick",)


def test_a_rare_part_counts_for_more_than_a_common_one():
    wanted = [*told("lamp", rarity(3, 1000)), *told("keep", rarity(400, 1000))]
    rare, common = best_passage(stretch("A lamp."), wanted), best_passage(stretch("To keep."), wanted)
    assert rare
    assert common
    assert rare.score > common.score


def test_only_what_somebody_says_answers_where_it_is_asked_for():
    talk = [*stretch("The lamp burns.", speaker="Ivo Brandt"), *stretch("Nothing.", speaker="Ann")]
    assert best_passage(talk, told("lamp"), by="ivo")
    assert best_passage(talk, told("lamp"), by="ann") is None


def test_passages_that_overlap_are_one():
    whole = best_passage(stretch("The lamp burns. | A wick."), told("lamp"))
    again = best_passage(stretch("The lamp burns."), told("lamp"))
    elsewhere = best_passage(stretch("The lamp burns.", recording=2), told("lamp"))
    assert whole
    assert again
    assert elsewhere
    assert apart([whole, again, elsewhere]) == [whole, elsewhere]


def test_the_same_story_in_another_talk_is_put_under_the_first():
    story = "When I was nineteen the old keeper handed me small scissors with bent handle and laughed."
    first = best_passage(stretch(story), told("scissors"))
    second = best_passage(stretch(f"Well, {story}", recording=2), told("scissors"))
    other = best_passage(
        stretch("My brother had four pairs of lovely scissors in one drawer.", recording=3), told("scissors")
    )
    assert first
    assert second
    assert other
    grouped = by_story([first, other, second])
    assert [one.recording_id for one in grouped] == [1, 3]
    assert [one.recording_id for one in grouped[0].also] == [2]
