import numpy as np

from nimble_quote.core.framing.lasting import renumbered
from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.framing.subjects import SeenFace, Track
from tests.sights import followed


def track(subject: int, x: float, start_ms: int, end_ms: int, *, late_ms: int = 0) -> Track:
    faces = [
        SeenFace(sample=FaceSample(at_ms=at + late_ms, x=x, y=0.3, width=0.1, height=0.15, score=0.9), turn=0.0)
        for at in range(start_ms, end_ms, 200)
    ]
    return Track(faces=tuple(faces), subject=subject)


def numbers(found: list[Track], before: list[Track]) -> list[int]:
    return [one.subject for one in renumbered(found, [followed(one) for one in before])]


def test_who_is_seen_again_at_the_same_place_keeps_their_number():
    before = [track(0, 0.2, 0, 4000), track(1, 0.7, 0, 4000), track(1, 0.5, 5000, 9000)]
    found = [track(0, 0.71, 0, 4000, late_ms=80), track(1, 0.21, 0, 4000), track(0, 0.5, 5000, 9000)]
    assert numbers(found, before) == [1, 0, 1]


def test_somebody_new_gets_a_number_that_nobody_had():
    before = [track(0, 0.2, 0, 4000), track(4, 0.7, 0, 4000)]
    assert numbers([track(0, 0.45, 0, 4000), track(1, 0.2, 0, 4000), track(2, 0.7, 0, 1000)], before) == [5, 0, 4]


def test_what_was_one_before_and_is_two_now_goes_on_as_the_one_it_was_longer():
    before = [track(3, 0.2, 0, 6000)]
    assert numbers([track(0, 0.2, 0, 4000), track(1, 0.2, 4000, 6000)], before) == [3, 4]


def test_where_nothing_was_seen_before_numbers_are_those_found():
    assert numbers([track(0, 0.2, 0, 4000)], []) == [0]
    assert numbers([], [track(0, 0.2, 0, 400)]) == []
    assert np.isclose(renumbered([track(0, 0.2, 0, 400)], [])[0].faces[0].sample.x, 0.2)
