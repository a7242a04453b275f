"""The judged talks are what they say, and what was learned from some of them holds on others."""

from collections import Counter
from pathlib import Path

import numpy as np
import pytest

from nimble_quote.core.soundbites.finder import finder_of
from nimble_quote.formats.languages import finder_model, language
from nimble_quote.store.database import Connection
from tests.judged import talks as reading
from tests.judged.learn_ends import best_threshold, cross_validated, figures, learned
from tests.judged.learn_finder import FOR, area_of, worth_learned
from tests.judged.logistic import area_under_curve, f1, fitted
from tests.judged.ready import made_ready
from tests.judged.talks import judged_talks, stripped, true_ends, words_of


def test_there_are_enough_talks_long_enough_half_of_them_without_marks():
    talks = judged_talks()
    assert len(talks) >= 16
    assert len({one.register for one in talks}) >= 10
    assert sum(one.stripped for one in talks) == len(talks) / 2
    assert 6 <= sum(not one.learned_from for one in talks) <= len(talks) / 2
    for one in talks:
        assert len(words_of(one.text)) >= 1500, one.name
        verdicts = Counter(passage.verdict for passage in one.passages)
        assert verdicts["post"] >= 4, one.name
        assert verdicts["never"] >= 1, one.name


def test_passages_are_whole_sentences_and_none_is_in_another():
    for one in judged_talks():
        ends = true_ends(words_of(one.text))
        at = 0
        for passage in one.passages:
            assert passage.first >= at
            assert passage.first == 0 or passage.first - 1 in ends, passage
            assert passage.end - 1 in ends, passage
            at = passage.end


def test_a_talk_is_stripped_to_what_a_recogniser_gives():
    assert stripped("ANN: So, it's Fred.\n\nBO: Yes?") == "so it's fred yes"


@pytest.mark.parametrize(
    "body", ["A {+why| passage that is not closed.", "A {?why| sign.} that there is not.", "A } too many."]
)
def test_a_talk_that_is_not_written_as_told_is_refused(body: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch):
    (tmp_path / "talk.txt").write_text(f"title: T\nregister: r\nfor: learning\nmarks: kept\n\n{body}")
    monkeypatch.setattr(reading, "FOLDER", tmp_path)
    with pytest.raises(ValueError, match="not closed"):
        judged_talks()


def test_logistic_weights_are_found_and_drawn():
    dice = np.random.default_rng(1)
    rows = np.c_[dice.normal(size=(4000, 2)), np.ones(4000)]
    goal = (dice.random(4000) < 1 / (1 + np.exp(-rows @ [2.0, 0.0, -1.0]))).astype(float)
    found = fitted(rows, goal, np.array([0.1, 0.1, 0.0]))
    assert found == pytest.approx([2.0, 0.0, -1.0], abs=0.2)
    assert fitted(rows, goal, np.array([1e9, 1e9, 1e9]), None, np.array([0.5, 0.5, 0.5])) == pytest.approx(
        [0.5] * 3, abs=1e-4
    )


def test_figures_are_what_they_are_called():
    goal = np.array([1.0, 0.0, 1.0, 0.0])
    assert area_under_curve(np.array([4.0, 3.0, 2.0, 1.0]), goal) == 0.75
    assert area_under_curve(np.array([1.0, 1.0, 1.0, 1.0]), goal) == 0.5
    assert f1(np.array([True, True, False, False]), goal) == 0.5


def test_ends_are_learned_from_a_few_talks():
    said = ["so we lit the lamps", "and the boats came home", "it was late", "so we went to bed", "and i slept"] * 40
    words = " ".join(said).split()
    goal = np.zeros(len(words) - 1)
    goal[np.cumsum([len(one.split()) for one in said])[:-1] - 1] = 1
    model = learned([(words, goal)])
    assert figures(model, [(words, goal)])["f1"] > 0.95
    assert cross_validated([(words, goal)] * 5)[1] > 0.95
    assert -2.5 <= best_threshold(goal - 0.5, goal) < 0.5


@pytest.mark.anyio
async def test_what_was_learned_holds_on_talks_it_was_not_learned_from(conn: Connection):
    """In small what the bench measures in whole."""
    chosen = [one for one in judged_talks() if one.name in ("interview-night-bus", "tutorial-restore-photo")]
    assert not any(one.learned_from for one in chosen)
    model = finder_model("en")
    for one in await made_ready(conn, chosen):
        assert area_of(model)(one) > 0.6, one.talk.name
        offered = finder_of(one.to_judge, language("en"), model).offer(FOR, model.weights, 8).soundbites
        firsts, lasts = (np.array([getattr(bite, end) for bite in offered]) for end in ("first", "last"))
        assert (one.marks(firsts[:3], lasts[:3]) == 2).any(), one.talk.name
        assert not one.nevers(firsts, lasts).any(), one.talk.name
        worth = worth_learned([one])
        assert worth.weights["hesitations"] < 0
