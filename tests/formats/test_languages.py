"""The word lists of the finder: each language is whole, and entries are found as they are written."""

import pytest

from nimble_quote.core.soundbites.merits import FEATURES
from nimble_quote.formats.languages import LANGUAGES, finder_model, language


@pytest.mark.parametrize("code", LANGUAGES)
def test_entries_are_small_letters_without_signs_and_none_stands_twice(code: str):
    for name, entries in language(code):
        if isinstance(entries, tuple) and name != "endings":
            assert entries, name
            assert len(set(entries)) == len(entries), name
            for entry in entries:
                assert entry == " ".join(entry.lower().split()), (name, entry)
                assert not any(sign in entry for sign in ".,;:!?"), (name, entry)
    assert all(0 <= value <= 1 for value in language(code).pointing.values())


def test_a_language_that_does_not_ship_has_no_lists():
    assert language("fi").name == "Finnish"
    assert not language("fi").fillers


def test_every_feature_has_a_weight_and_the_figures_are_kept_with_them():
    model = finder_model("en")
    assert len(model.weights.row) == len(FEATURES)
    assert all(weight > 0 for weight in model.weights.row)
    assert model.figures["auc"] > 0.75
    assert finder_model("de").weights == model.weights


def test_the_longest_entry_is_found_first_and_none_is_counted_twice():
    english = language("en")
    assert english.opening(["and", "that", "is", "why", "we"], "dangling") == "and that is why"
    assert english.opening(["lamps"], "dangling") is None
    assert english.opening([], "dangling") is None
    assert english.closing(["we", "mended", "so", "yeah"], "trailing") == "so yeah"
    assert english.within(["um", "you", "know", "uh", "lamps"], "fillers") == ["um", "you know", "uh"]
    assert english.within(["lamps"], "fillers") == []
    assert english.tally(["um", "you", "know", "people", "lamps"], ("fillers", "general", "address")) == [2, 1, 1]
