"""The bands beside a picture that does not fill its shape, and captions in them."""

from fractions import Fraction

import pytest

from nimble_quote.core.assembly import RecordingFacts, assemble
from nimble_quote.core.assembly.bands import Band, bands_of
from nimble_quote.core.assembly.captions import caption_area
from nimble_quote.core.document import Choice, Framing, QuoteDocument
from nimble_quote.core.edits import PlaceCaptions, apply_edit, new_quote
from tests.shipped import DESTINATIONS, STYLES
from tests.sights import demo_context

CONTEXT = demo_context("rain-barrels")
FACTS = RecordingFacts(duration_ms=CONTEXT.talk.duration_ms, width=1280, height=720, rate=Fraction(25))
QUAY = STYLES["quay"].look


def document(choice: Choice) -> QuoteDocument:
    return new_quote(CONTEXT, 0, 100).model_copy(update={"framing": Framing(usual=choice)})


def bands(choice: Choice, destination: str = "tall-60") -> dict[str, Band]:
    place = DESTINATIONS[destination]
    picture = assemble(document(choice), CONTEXT, FACTS, place).picture
    return {one.place: one for one in bands_of(picture, place, QUAY)}


def test_a_whole_picture_in_tall_has_a_band_above_and_one_below():
    both = bands(Choice(layout="whole"))
    assert set(both) == {"above", "below"}
    assert both["above"].bottom == pytest.approx(0.34, abs=0.01)
    assert both["below"].top == pytest.approx(0.66, abs=0.01)


def test_a_picture_that_fills_its_shape_has_none():
    assert bands(Choice(layout="one", closeness=1.0)) == {}


def test_one_at_the_very_top_has_one_band():
    assert set(bands(Choice(layout="whole", height=0.0))) == {"below"}


@pytest.mark.parametrize("place", ["above", "below"])
def test_captions_in_a_band_stand_clear_of_the_picture_and_of_what_the_app_covers(place: str):
    choice = Choice(layout="whole")
    band = bands(choice)[place]
    assert band.captions is not None
    tall = DESTINATIONS["tall-60"]
    made = document(choice)
    if made.version("tall-60") is None:
        made = made.model_copy(update={"versions": (made.versions[0].model_copy(update={"destination": "tall-60"}),)})
    made = apply_edit(made, PlaceCaptions(destination="tall-60", height=band.captions), CONTEXT)
    (track,) = assemble(made, CONTEXT, FACTS, tall).cue_tracks
    fullest = max(track.cues, key=lambda cue: len(cue.lines))
    assert len(fullest.lines) == 2
    area = caption_area(fullest, track, CONTEXT, tall)
    assert band.top < area.y
    assert area.y + area.height < band.bottom
    assert not any(area.meets(one) for one in tall.covered if one.width > 0.5)


def test_a_band_too_low_for_captions_says_so():
    band = bands(Choice(layout="whole", size=1.55), "portrait-60")
    assert all(one.captions is None or one.bottom - one.top > 0.08 for one in band.values())
    assert bands(Choice(layout="whole"), "wide-140") == {}
