from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.destinations import RATES, Unfit, Wanted, shape_for
from nimble_quote.media.files import named_by
from tests.shipped import CATALOGUE, DESTINATIONS


def wanted(width: int = 1080, height: int = 1920, **more: object) -> Wanted:
    told = {"name": "Own", "width": width, "height": height, "limit_ms": 60_000, "largest_mb": 100, **more}
    return Wanted.model_validate(told)


def test_a_size_of_the_same_proportions_shares_the_shape_and_its_framing():
    known = CATALOGUE.destinations
    assert shape_for(720, 1280, known) == shape_for(2160, 3840, known) == "tall"
    assert shape_for(600, 600, known) == "square"
    assert shape_for(1000, 1500, known) == shape_for(2000, 3000, known) == "r2x3"


@given(st.integers(1, 5000), st.integers(1, 5000), st.sampled_from([None, *RATES, "7", "1/0"]))
def test_what_is_let_through_can_be_coded(width: int, height: int, rate: str | None):
    one = wanted(width, height, rate=rate)
    try:
        one.checked(())
    except Unfit as unfit:
        assert len(str(unfit)) > 20
        return
    assert width % 2 == height % 2 == 0
    assert max(width, height) <= 4 * min(width, height)
    assert rate is None or rate in RATES


def test_a_name_is_taken_whatever_its_letters():
    for name in ("TALL 60", "tall 60"):
        try:
            wanted(name=name).checked(DESTINATIONS.values())
        except Unfit as unfit:
            assert "another destination" in str(unfit)
        else:
            raise AssertionError(name)


def test_files_are_called_as_the_house_says_and_fit_on_any_disk():
    told = {"recording": "A talk", "quote": "Why? / because", "destination": "Own"}
    assert named_by("{destination}: {quote}", ".mp4", **told) == "Own  Why because.mp4"
    assert named_by("{quote}" * 9, ".srt", **{**told, "quote": "x" * 90}).count("x") == 150
    assert named_by("..", ".mp4", **told) == "Untitled.mp4"
