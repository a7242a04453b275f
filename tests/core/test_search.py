from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.search.query import marks, read_query


def test_a_search_is_words_and_phrases():
    query = read_query('lamp "keep the wick"  “open quote')
    assert query.words == ("lamp",)
    assert query.phrases == ("keep the wick", "open quote")


def test_a_word_to_leave_out_is_not_marked():
    assert read_query("lamp -oil").words == ("lamp",)


@given(st.text(max_size=300))
def test_no_search_fails_to_be_read(typed: str):
    assert all(part.strip() for part in read_query(typed).parts)


def test_words_are_marked_by_their_stems():
    sentence = ["keep", None, "wick", "short", "keep"]
    assert marks(sentence, [["keep"]]) == [(0, 1), (4, 5)]
    assert marks(sentence, [["wick"], ["oil"]]) == [(2, 3)]


def test_a_phrase_is_marked_whole_and_common_words_in_it_match_any():
    assert marks(["keep", None, "wick", "short"], [["keep", None, "wick"]]) == [(0, 3)]
    assert marks(["keep", "oil", "short"], [["keep", None, "wick"]]) == []


def test_marks_that_overlap_are_one():
    assert marks(["a", "b", "c"], [["a", "b"], ["b", "c"]]) == [(0, 3)]
