import itertools
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from nimble_quote.core.timebase import Span, frame_at, merged, ms_at, output_rate, total_ms, without
from tests.strategies import spans


def covers(pieces: tuple[Span, ...], ms: float) -> bool:
    return any(piece.holds(ms) for piece in pieces)


def test_a_span_that_ends_before_it_starts_is_no_span():
    with pytest.raises(ValidationError, match="must end after it starts"):
        Span(start_ms=10, end_ms=10)


@given(spans(), st.lists(spans(), max_size=8), st.integers(0, 100_000))
def test_what_is_left_is_the_whole_less_the_holes(whole: Span, holes: list[Span], ms: int):
    left = without(whole, holes)
    assert covers(left, ms) == (whole.holds(ms) and not covers(tuple(holes), ms))


@given(spans(), st.lists(spans(), max_size=8))
def test_what_is_left_and_what_is_out_make_the_whole(whole: Span, holes: list[Span]):
    left = without(whole, holes)
    assert total_ms(left) + total_ms(without(whole, left)) == whole.length_ms


@given(st.lists(spans(), max_size=10))
def test_merged_spans_are_in_order_and_apart(some: list[Span]):
    result = merged(some)
    assert all(a.end_ms < b.start_ms for a, b in itertools.pairwise(result))


@pytest.mark.parametrize(
    ("source", "made"),
    [
        (Fraction(25), Fraction(25)),
        (Fraction(30000, 1001), Fraction(30000, 1001)),
        (Fraction(24000, 1001), Fraction(24000, 1001)),
        (Fraction(60), Fraction(60)),
        (Fraction(15), Fraction(24000, 1001)),
        (Fraction(120), Fraction(60)),
        (Fraction(2997, 100), Fraction(30000, 1001)),
        (Fraction(2951, 100), Fraction(30000, 1001)),
    ],
)
def test_clips_are_made_at_the_sources_rate_or_the_nearest_standard_one(source: Fraction, made: Fraction):
    assert output_rate(source) == made


@given(st.integers(0, 10_000_000), st.sampled_from([Fraction(24000, 1001), Fraction(25), Fraction(60)]))
def test_a_moment_goes_to_its_nearest_frame(ms: int, rate: Fraction):
    assert abs(ms_at(frame_at(ms, rate), rate) - ms) <= float(500 / rate) + 1e-6
