import pytest

from nimble_quote.core.destinations import Area, gauge
from tests.shipped import DESTINATIONS


def test_the_built_in_set_is_what_people_post_to():
    assert [(d.name, d.width, d.height, d.limit_ms // 1000) for d in DESTINATIONS.values()] == [
        ("Tall 15", 1080, 1920, 15),
        ("Tall 30", 1080, 1920, 30),
        ("Tall 60", 1080, 1920, 60),
        ("Tall 90", 1080, 1920, 90),
        ("Square 60", 1080, 1080, 60),
        ("Portrait 60", 1080, 1350, 60),
        ("Wide 140", 1920, 1080, 140),
    ]


@pytest.mark.parametrize(
    ("length_ms", "fit", "said"),
    [
        (41_200, "fits", "18.8 s to spare"),
        (60_000, "fits", "0.0 s to spare"),
        (60_001, "over", "0.1 s over Tall 60"),
        (62_300, "over", "2.3 s over Tall 60"),
        (62_301, "over", "2.4 s over Tall 60"),
    ],
)
def test_a_gauge_never_says_that_it_fits_when_it_does_not(length_ms: int, fit: str, said: str):
    found = gauge(length_ms, DESTINATIONS["tall-60"])
    assert (found.fit, found.text) == (fit, said)


def test_areas_that_only_touch_do_not_meet():
    left = Area(x=0, y=0, width=0.5, height=1, name="left")
    right = Area(x=0.5, y=0, width=0.5, height=1, name="right")
    assert not left.meets(right)
    assert left.meets(right.model_copy(update={"x": 0.49}))
