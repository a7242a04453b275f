"""Where a face is not seen although its shot goes on: which of these stretches somebody is followed through, and how."""

import pytest

from nimble_quote.core.framing.gaps import FOLLOWED, body_under, bridged, gaps_of
from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.framing.subjects import SeenFace, Track
from nimble_quote.core.timebase import Span

SHOT = Span(start_ms=0, end_ms=60_000)


def face(at_ms: int, x: float = 0.4) -> FaceSample:
    return FaceSample(at_ms=at_ms, x=x, y=0.3, width=0.1, height=0.16, score=0.9)


def seen(start_ms: int, end_ms: int, x: float = 0.4, subject: int = 0) -> Track:
    faces = tuple(SeenFace(sample=face(at, x), turn=0.0) for at in range(start_ms, end_ms + 1, 200))
    return Track(faces=faces, subject=subject)


def spans(tracks: list[Track]) -> list[tuple[int, int, bool]]:
    return [(gap.leaves.sample.at_ms, gap.until_ms, gap.backwards) for gap in gaps_of(tracks, [SHOT])]


def test_who_turns_away_and_comes_back_is_followed_meanwhile():
    assert spans([seen(0, 20_000), seen(26_000, 59_800)]) == [(20_000, 26_000, False)]


def test_a_short_gap_is_left_to_the_straight_line():
    assert spans([seen(0, 20_000), seen(22_600, 59_800)]) == []


def test_who_is_not_seen_again_in_the_shot_is_followed_to_its_end_and_who_is_seen_late_from_its_beginning():
    assert spans([seen(0, 40_000)]) == [(40_000, 59_999, False)]
    assert spans([seen(8000, 59_800)]) == [(8000, 0, True)]


def test_nobody_is_followed_out_of_the_picture_or_for_having_passed_by():
    assert spans([seen(0, 20_000, x=0.88)]) == []
    assert spans([seen(30_000, 32_000)]) == []


def test_each_shot_and_each_person_is_by_itself():
    shots = [Span(start_ms=0, end_ms=20_000), Span(start_ms=20_000, end_ms=60_000)]
    tracks = [seen(0, 12_000), seen(20_000, 59_800), seen(0, 19_800, x=0.7, subject=1)]
    assert [(gap.track.subject, gap.until_ms) for gap in gaps_of(tracks, shots)] == [(0, 19_999)]


def body(at_ms: int, x: float) -> FaceSample:
    """The body under a face at a place."""
    left, top, width, height = body_under(face(at_ms, x))
    return FaceSample(at_ms=at_ms, x=left, y=top, width=width, height=height, score=0.7)


def test_the_face_stands_over_the_body_that_was_followed():
    (gap,) = gaps_of([seen(0, 40_000)], [SHOT])
    (followed,) = bridged(gap, [body(40_200, 0.43)])
    assert followed.sample.x == pytest.approx(0.43)
    assert followed.sample.y == pytest.approx(0.3)
    assert followed.sample.score == FOLLOWED


def test_what_it_is_off_by_where_the_face_is_seen_again_is_taken_back_evenly():
    (gap,) = gaps_of([seen(0, 20_000), seen(26_000, 59_800, x=0.5)], [SHOT])
    faces = bridged(gap, [body(20_000 + 200 * n, 0.4 + 0.002 * n) for n in range(1, 30)])
    assert faces[-1].sample.x == pytest.approx(0.5, abs=0.005)
    assert faces[0].sample.x == pytest.approx(0.402, abs=0.005)


def test_somebody_else_followed_by_mistake_is_not_taken_for_them():
    (gap,) = gaps_of([seen(0, 20_000), seen(26_000, 59_800, x=0.4)], [SHOT])
    assert bridged(gap, [body(20_000 + 200 * n, 0.4 + 0.015 * n) for n in range(1, 30)]) == ()
    assert bridged(gap, [body(20_200, 0.4)]) == (), "lost long before they come back"
    assert bridged(gap, []) == ()
