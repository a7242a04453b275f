"""Words that no list knows, and what may be meant; names of the house are known and come first."""

import pytest

from nimble_quote.core.captions.spelling import WordList, misspelt
from nimble_quote.formats.word_lists import word_list

LISTED = WordList(frozenset("keep the wick short and it burns harbour harbor light house don't her".split()))


def found(text: str, *names: str) -> dict[str, tuple[str, ...]]:
    return {one.text: one.meant for one in misspelt(text.split(), LISTED, names)}


def test_known_words_are_known_in_any_case_with_marks_and_in_parts():
    assert found("Keep the wick’s “light”, and light-house; don’t keep its") == {"its": ("it",)}


def test_what_may_be_meant_is_told_the_likeliest_first_and_cased_alike():
    assert found("the hrabour")["hrabour"][0] == "harbour"
    assert "Harbour" in found("Harbuor")["Harbuor"]


def test_names_of_the_house_are_known_and_suggested_first():
    assert found("Maren Tolley’s wick", "Maren Tolley") == {}
    assert found("Tolly", "Maren Tolley")["Tolly"][0] == "Tolley"


@pytest.mark.parametrize("text", ["42nd", "BBC", "灯台", "–", "a"])
def test_figures_capitals_and_other_scripts_are_left_alone(text: str):
    assert found(text) == {}


def test_english_has_a_list_of_both_spellings_and_another_language_none():
    english = word_list("en")
    assert english is not None
    assert english.knows("colour")
    assert english.knows("color")
    assert not english.knows("colur")
    assert word_list("xx") is None
