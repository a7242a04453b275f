"""The quote document refuses what no edit should ever make, and loads what earlier revisions stored."""

import pytest
from pydantic import ValidationError

from nimble_quote.core.cutting.kept import kept_spans, kept_words, struck_words
from nimble_quote.core.document import Choice, Framing, QuoteDocument, Version
from nimble_quote.core.timebase import Span
from tests.talks import talk_of


def span(start_ms: int, end_ms: int) -> Span:
    return Span(start_ms=start_ms, end_ms=end_ms)


def document(**fields: object) -> QuoteDocument:
    return QuoteDocument.model_validate({"title": "A quote", "span": span(1000, 5000), **fields})


REST = {"from_ms": 10, "to_ms": 20, "at": {}}


@pytest.mark.parametrize(
    ("fields", "why"),
    [
        ({"title": "  "}, "at least 1 character"),
        ({"title": "x" * 201}, "at most 200 characters"),
        ({"struck": (span(500, 1500),)}, "inside the quote"),
        ({"struck": (span(4000, 6000),)}, "inside the quote"),
        ({"struck": (span(3000, 4000), span(2000, 2500))}, "in order"),
        ({"struck": (span(2000, 3000), span(3000, 4000))}, "in order"),
        ({"struck": (span(1000, 5000),)}, "keep something"),
        ({"versions": (Version(destination="tall-60"), Version(destination="tall-60"))}, "one version for each"),
        ({"colour": "red"}, "Extra inputs"),
    ],
)
def test_a_document_that_makes_no_sense_is_refused(fields: dict[str, object], why: str):
    with pytest.raises(ValidationError, match=why):
        document(**fields)


@pytest.mark.parametrize(
    "framing",
    [
        {"usual": {"placed": [{"rests": [{**REST, "at": {"x": 1.2}}]}]}},
        {"usual": {"size": 0.2}},
        {"usual": {"size": float("inf")}},
        {"usual": {"placed": [{"rests": []}]}},
        {"usual": {"placed": [{"rests": [REST, {**REST, "to_ms": 5}]}]}},
        {"usual": {"placed": [{"panel": 1, "rests": [REST]}, {"panel": 1, "rests": [REST]}]}},
        {"usual": {"layout": "melt"}},
        {"usual": {"subjects": []}},
        {"usual": {"colour": "red"}},
    ],
)
def test_a_framing_out_of_bounds_is_refused(framing: dict[str, object]):
    with pytest.raises(ValidationError):
        Framing.model_validate(framing)


def test_colours_are_kept_in_one_spelling():
    assert Choice(colour="#0b6e6e").colour == "#0B6E6E"


def test_words_are_kept_struck_or_outside_and_never_two_of_these():
    talk = talk_of("zero one two three four five six seven eight nine", word_ms=400, gap_ms=100, start_ms=0)
    cut = document(span=span(900, 4100), struck=(span(1900, 2950),))
    assert [w.text for w in kept_words(cut, talk)] == ["two", "three", "six", "seven"]
    assert [w.text for w in struck_words(cut, talk)] == ["four", "five"]
    assert kept_spans(cut) == (span(900, 1900), span(2950, 4100))
