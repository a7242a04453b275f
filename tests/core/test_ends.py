"""Where sentences end in words without marks: by wording, by pauses, and by what a recogniser hears."""

import numpy as np
import pytest

from nimble_quote.core.language import Language, bare
from nimble_quote.core.transcript import sentences
from nimble_quote.core.transcript.aligning import marked
from nimble_quote.core.transcript.cues import TimedWord, Timing
from nimble_quote.core.transcript.document import SpokenWord
from nimble_quote.core.transcript.ends import LIKELIHOODS, TEMPLATES, EndModel, kind_of, signs_of
from nimble_quote.core.transcript.sentences import into_sentences
from nimble_quote.core.transcript.words import Word
from nimble_quote.formats.languages import end_model, language
from nimble_quote.media.likelihoods import ends_by_wording, english_likelihoods

EN = language("en")
BY_WORDING = ends_by_wording("en")


def words_of(text: str, gaps_ms: dict[str, int] | None = None, timing: Timing = "estimated") -> list[TimedWord]:
    """Words that follow one another, with a longer gap after some."""
    out, at = [], 0
    for index, said in enumerate(text.split()):
        word = Word(index=index, text=said, start_ms=at, end_ms=at + 300)
        out.append(TimedWord(word=word, speaker=None, timing=timing))
        at += 300 + (gaps_ms or {}).get(said, 0)
    return out


def cut(words: list[TimedWord], **more: object) -> list[str]:
    found = into_sentences(words, EN, BY_WORDING, **more)  # type: ignore[arg-type]
    return [" ".join(word.word.text for word in words[one.first : one.end]) for one in found]


def test_wording_tells_ends_that_no_mark_tells():
    assert cut(words_of("thank you so much for coming i am going to show you how it works")) == [
        "thank you so much for coming",
        "i am going to show you how it works",
    ]
    assert cut(words_of("he never came back")) == ["he never came back"]


def test_a_pause_that_is_known_counts_more_than_wording_and_none_known_counts_against():
    text = "we kept the lamps lit all night the harbour was quiet"
    assert cut(words_of(text, {"night": 900}, "aligned")) == [
        "we kept the lamps lit all night",
        "the harbour was quiet",
    ]
    assert cut(words_of(text, {"the": 900}, "aligned")) == [text], "no sentence ends with “the”"
    assert len(cut(words_of("it burned down we left", timing="aligned"))) == 1, "said without a breath"


def test_marks_that_a_recogniser_heard_are_ends_and_much_speaks_for_others_too():
    words = words_of("We kept the lamps lit. and the boats came in", timing="aligned")
    assert cut(words, marks_by_ear=True) == ["We kept the lamps lit.", "and the boats came in"]
    long = words_of("We kept the lamps lit. thank you so much good night everybody", {"much": 1500}, "aligned")
    assert cut(long, marks_by_ear=True)[-1] == "good night everybody"


def test_marks_and_capitals_are_taken_where_the_same_words_were_heard():
    def spoken(text: str) -> list[SpokenWord]:
        return [SpokenWord(text=word, start_ms=0, end_ms=1) for word in text.split()]

    given = spoken("we saw maren she kept the whick short did she")
    heard = spoken("We saw Maren. She kept the wick short, did she?")
    assert [word.text for word in marked(given, heard)] == "We saw Maren. She kept the whick short, did she?".split()
    assert marked(given, []) == given
    assert [w.text for w in marked(spoken("don't go"), spoken("“Don't go!"))] == ["don't", "go!"], (
        "quotes are not taken"
    )


def test_the_learned_model_looks_at_what_stands_around_a_gap():
    signs = list(signs_of(["we", "left", "so", "it", "ended"], EN))
    assert len(signs) == 4
    assert all(len(one) == len(TEMPLATES) for one in signs)
    assert "w-1 w+0=left so" in signs[1]
    assert "t-1=past" in signs[1]
    assert "w-2=^" in signs[0], "before the first word is nothing"


@pytest.mark.parametrize(
    ("word", "kind"),
    [("the", "determiner"), ("walked", "-ed"), ("7th", "number"), ("lamp", "other"), ("couldn't", "auxiliary")],
)
def test_words_have_a_kind_by_list_or_ending(word: str, kind: str):
    assert kind_of(word, EN) == kind


def test_likelihoods_are_a_row_for_each_gap_and_the_model_says_how_well_it_did():
    assert english_likelihoods(["thank", "you", "so"]).shape == (2, LIKELIHOODS)
    assert english_likelihoods(["thank"]).shape == (0, LIKELIHOODS)
    ended = english_likelihoods("thank you i am here".split())
    assert ended[1, 0] > ended[0, 0], "“thank you” ends, “thank” does not"
    model = end_model("en")
    assert model is not None
    assert model.figures["f1"] > 0.65
    assert end_model("de") is None
    assert ends_by_wording("de") is None


def test_a_very_long_talk_is_cut_by_lists_alone(monkeypatch: pytest.MonkeyPatch):
    monkeypatch.setattr(sentences, "MOST_BY_WORDING", 5)

    def never(texts: object) -> np.ndarray:  # type: ignore[type-arg]
        raise AssertionError("asked for the wording of a very long talk")

    assert into_sentences(words_of("one two three four five six seven"), EN, never)


def test_a_sign_that_is_not_known_counts_nothing():
    model = EndModel(
        language="en", threshold=0.5, means=(0.0,) * 7, spreads=(1.0,) * 7, likelihoods=(0.0,) * 21, signs={"w+0=so": 2.0},
        figures={},
    )  # fmt: skip
    nothing = lambda words: np.zeros((len(words) - 1, LIKELIHOODS))  # noqa: E731
    assert model.odds(["we", "so", "go"], Language(code="", name=""), nothing).tolist() == [1.5, -0.5]
    assert model.odds([bare("Only")], EN, nothing).tolist() == []
