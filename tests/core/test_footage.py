"""Footage of another recording over the picture: for how long, where, and as what it is drawn."""

import pytest
from pydantic import ValidationError

from nimble_quote.core.assembly import Assembly, assemble
from nimble_quote.core.document import Footage, Insert, TitleLines, What
from nimble_quote.core.edits import AddOverlay, Shows, apply_edit, new_quote
from nimble_quote.core.finishes import items_of
from nimble_quote.media.reach import Reach
from nimble_quote.media.render.compiling import Input, compile_graph, footage_of, inputs_of
from tests.shipped import DESTINATIONS
from tests.talks import HD, context_of, talk_of

SAID = "So people ask me, there is no secret. Keep the wick short. A long wick smokes and the glass goes black."
BOATS = Footage(recording=7, from_ms=2000, width=1280, height=720, duration_ms=60_000)


def made(what: What, destination: str = "tall-60", **shows: object) -> Assembly:
    context = context_of(talk_of(SAID))
    document = new_quote(context, 0, len(context.talk.words) - 1)
    document = apply_edit(document, AddOverlay(what=what, shows=Shows.model_validate(shows)), context)
    return assemble(document, context, HD, DESTINATIONS[destination])


def test_it_shows_for_its_time_in_the_window_that_fills_its_box():
    (one,) = made(Insert(footage=BOATS, covers="half"), kind="start", length_ms=2000).footage
    assert (one.first_frame, one.end_frame, one.source_frame, one.source) == (0, 50, 50, "recording-7")
    assert (one.x_px, one.y_px, one.width_px, one.height_px) == (0, 0, 1080, 960)
    assert one.window.height == pytest.approx(1)
    assert one.window.width == pytest.approx(1080 / 960 * 720 / 1280)
    (wide,) = made(Insert(footage=BOATS), "wide-140").footage
    assert (wide.window.width, wide.window.height) == (1, 1)


def test_it_shows_no_longer_than_there_is_of_it():
    near_its_end = BOATS.model_copy(update={"from_ms": 59_000})
    (one,) = made(Insert(footage=near_its_end), kind="start", length_ms=4000).footage
    assert one.end_frame - one.first_frame == 25


def test_in_a_corner_it_keeps_its_shape_and_stands_where_it_is_free():
    (one,) = made(Insert(footage=BOATS, covers="corner", comes="fade")).footage
    assert one.width_px / one.height_px == pytest.approx(1280 / 720, rel=0.02)
    assert one.fade_frames == 8
    assert one.area.x > 0.5


def test_an_insert_shows_one_thing_and_a_finish_none_of_a_talk():
    for odd in ({}, {"picture": 1, "footage": BOATS}):
        with pytest.raises(ValidationError, match="a picture of the house's, or another recording"):
            Insert.model_validate(odd)
    context = context_of(talk_of(SAID))
    document = new_quote(context, 0, 5)
    for what in (Insert(footage=BOATS), TitleLines(text="One")):
        document = apply_edit(document, AddOverlay(what=what), context)
    assert [one.what.kind for one in items_of(document.overlays)] == ["title"]


def test_the_graph_reads_it_after_the_recording_and_lays_it_over_in_its_time():
    assembly = made(Insert(footage=BOATS, covers="half"), kind="start", offset_ms=1000, length_ms=2000)
    inputs = [Input(one, Reach.of(one.runs, assembly.rate)) for one in inputs_of(assembly)]
    footage = [Input(one, Reach.of(one.runs, assembly.rate)) for one in footage_of(assembly)]
    graph = compile_graph(assembly, inputs, footage)
    assert f"[{len(inputs)}:v:0]" in graph
    assert "enable='between(t,0.980000,2.980000)'" in graph
    assert footage[0].read.frames == 50
