"""The seek that decodes just what a clip needs, on the frame grid."""

from fractions import Fraction
from itertools import accumulate

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.assembly import RECORDING, Behind, PictureRun
from nimble_quote.media.reach import Reach


def runs(*spans: tuple[int, int]) -> list[PictureRun]:
    behind = Behind(kind="colour", colour="#000000")
    ends = [0, *accumulate(frames for _, frames in spans)]
    return [
        PictureRun(first_frame=at, frames=frames, source=RECORDING, source_frame=first, behind=behind)
        for at, (first, frames) in zip(ends, spans, strict=False)
    ]


def test_a_clip_from_the_start_of_a_recording_seeks_nowhere():
    reach = Reach.of(runs((3, 10)), Fraction(25))
    assert (reach.first_frame, reach.frames, reach.early_s) == (0, 13, 0)
    assert reach.seek == ("-ss", "0.000000", "-t", "0.560000")


def test_a_clip_further_in_seeks_a_little_before_its_first_frame():
    reach = Reach.of(runs((1000, 30), (2000, 30)), Fraction(30000, 1001))
    assert (reach.first_frame, reach.frames) == (988, 1042)
    start = float(reach.seek[1])
    assert start == pytest.approx(988 * 1001 / 30000 - 0.001, abs=1e-6)


@given(
    st.lists(st.tuples(st.integers(0, 500_000), st.integers(1, 5000)), min_size=1, max_size=8),
    st.sampled_from([Fraction(24000, 1001), Fraction(25), Fraction(30000, 1001), Fraction(60)]),
)
def test_every_frame_of_every_segment_is_within_reach(spans: list[tuple[int, int]], rate: Fraction):
    reach = Reach.of(runs(*spans), rate)
    start, length = float(reach.seek[1]), float(reach.seek[3])
    for first, frames in spans:
        assert reach.first_frame <= first
        assert first + frames <= reach.first_frame + reach.frames
        # The stated times, rounded as they are, still hold the first frame and the whole of the last.
        assert start <= float(first / rate)
        assert float((first + frames) / rate) <= start + length
    assert start >= 0
