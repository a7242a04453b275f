"""Graphics that stand still over the picture: found in shots that are not alike, and kept whole or out."""

from dataclasses import replace

import numpy as np
import pytest
from numpy.typing import NDArray

from nimble_quote.core.cutting.kept import kept_spans
from nimble_quote.core.document import Choice, Framing, Placed, Rest, View
from nimble_quote.core.edits import new_quote
from nimble_quote.core.framing.graphics import find_graphics
from nimble_quote.core.framing.versions import framed_shots
from tests.shipped import DESTINATIONS
from tests.sights import demo_context

ROWS, COLUMNS = 360, 640
LOGO = (560, 20, 50, 30)


def room(number: int, logo: tuple[int, int, int, int] | None) -> NDArray[np.float32]:
    """A room like no other, with two light letters on dark in a corner where there is a logo (left, top, width, height in pixels)."""
    noise = np.random.default_rng(number).uniform(20, 235, (ROWS // 20, COLUMNS // 20)).astype(np.float32)
    picture = np.kron(noise, np.ones((20, 20), np.float32))
    if logo:
        left, top, width, height = logo
        for x in (left, left + width - 20):
            picture[top : top + height, x : x + 20] = 20
            picture[top + 4 : top + height - 4, x + 4 : x + 16] = 240
    return picture


def found(count: int, logo: tuple[int, int, int, int] | None) -> list[tuple[float, ...]]:
    return [tuple(one) for one in find_graphics([room(number, logo) for number in range(count)])]


def test_a_logo_over_several_rooms_is_found_as_one():
    (one,) = found(8, LOGO)
    assert one == pytest.approx((564 / COLUMNS, 24 / ROWS, 42 / COLUMNS, 22 / ROWS), abs=0.01)


def test_rooms_without_a_logo_have_none():
    assert found(8, None) == []


def test_two_rooms_tell_nothing():
    assert found(2, LOGO) == []


KETTLES = demo_context("two-kettles")


def shown(graphic: tuple[float, float, float, float], choice: Choice | None = None):
    """The shots of a quote in the tall shape, of a recording with a graphic."""
    context = replace(KETTLES, sight=replace(KETTLES.sight, graphics=[graphic], solved={}))
    document = new_quote(context, 0, 60)
    if choice:
        document = document.model_copy(update={"framing": Framing(usual=choice)})
    kept = kept_spans(document, "tall-60")
    return framed_shots(document, context, (1280, 720), DESTINATIONS["tall-60"], kept)


def singles(graphic: tuple[float, float, float, float]):
    return [shot for shot in shown(graphic) if shot.layout.kind == "single"]


def test_a_window_goes_aside_for_a_graphic_where_it_loses_nobody():
    before = singles((0.0, 0.0, 0.001, 0.001))[0]
    camera = before.layout.camera
    wide = (9 / 16) ** 2 / camera.at.zoom
    edge = camera.at.x + wide / 2
    graphic = (edge - 0.02, 0.02, 0.1, 0.1)
    after = singles(graphic)[0].layout.camera
    assert after.at.x + wide / 2 == pytest.approx(graphic[0], abs=1e-4)
    assert singles(graphic)[0].heads_inside == before.heads_inside
    assert "graphic" not in {doubt.code for doubt in singles(graphic)[0].doubts}


def test_one_that_can_t_be_cleared_is_told_and_can_be_found_good():
    placed = (Placed(panel=0, rests=(Rest(from_ms=0, to_ms=0, at=View(x=0.5)),)),)
    cut = (0.5, 0.02, 0.49, 0.1)
    (first, *_) = shown(cut, Choice(layout="one", placed=placed))
    (doubt,) = [one for one in first.doubts if one.code == "graphic"]
    assert "graphic" in doubt.says
    fine = shown(cut, Choice(layout="one", placed=placed, fine=("graphic",)))[0]
    assert "graphic" not in {one.code for one in fine.doubts}
