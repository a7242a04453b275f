"""A talking head in a picture of its own: its edges found, and never looked beyond."""

from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest
from numpy.typing import NDArray

from nimble_quote.core.assembly import RecordingFacts, assemble
from nimble_quote.core.document import Choice, Framing
from nimble_quote.core.edits import new_quote
from nimble_quote.core.framing.insets import inset_of, may_be_inset
from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.framing.subjects import SeenFace, Track
from tests.shipped import DESTINATIONS
from tests.sights import demo_context

ROWS, COLUMNS = 360, 640
FACE = (0.84, 0.76, 0.05, 0.11)


def slide(inset: tuple[int, int, int, int] | None, number: int) -> NDArray[np.float32]:
    """A slide with some text, and somebody moving in a picture at its side (left, top, width, height in pixels)."""
    picture = np.full((ROWS, COLUMNS), 250, np.float32)
    picture[60:80, 40:300] = 40
    if inset:
        left, top, width, height = inset
        picture[top : top + height, left : left + width] = 205
        moved = np.random.default_rng(number).integers(-4, 5)
        picture[270:320, 535 + moved : 575 + moved] = 150
    return picture


def found(inset: tuple[int, int, int, int] | None) -> tuple[float, ...] | None:
    return inset_of([slide(inset, number) for number in range(9)], FACE)


def test_the_edges_of_an_inset_are_found():
    assert found((520, 250, 100, 95)) == pytest.approx((520 / COLUMNS, 250 / ROWS, 100 / COLUMNS, 95 / ROWS), abs=0.004)


def test_an_inset_in_the_very_corner_ends_with_the_picture():
    assert found((520, 250, 120, 110)) == pytest.approx(
        (520 / COLUMNS, 250 / ROWS, 120 / COLUMNS, 110 / ROWS), abs=0.004
    )


def test_somebody_who_stands_before_a_wall_is_in_no_inset():
    assert found(None) is None


def looks(x: float, height: float, count: int = 100) -> Track:
    sample = FaceSample(at_ms=0, x=x, y=0.6, width=height * 0.6, height=height, score=0.9)
    faces = tuple(SeenFace(sample=sample.model_copy(update={"at_ms": n * 200}), turn=0.0) for n in range(count))
    return Track(faces=faces)


def test_only_a_small_face_at_a_side_for_long_is_looked_around():
    assert may_be_inset(looks(0.85, 0.12))
    assert not may_be_inset(looks(0.45, 0.12))
    assert not may_be_inset(looks(0.85, 0.4))
    assert not may_be_inset(looks(0.85, 0.12, count=20))


@pytest.mark.parametrize("destination", ["tall-60", "square-60", "portrait-60"])
def test_who_speaks_beside_a_slide_is_shown_from_the_inset_alone(destination: str):
    context = demo_context("rain-barrels")
    inset = (1040 / 1280, 500 / 720, 200 / 1280, 190 / 720)
    sight = replace(context.sight, tracks=[replace(one, inset=inset) for one in context.sight.tracks], solved={})
    context = replace(context, sight=sight)
    document = new_quote(context, 0, 120).model_copy(update={"framing": Framing(usual=Choice(layout="slide"))})
    facts = RecordingFacts(duration_ms=context.talk.duration_ms, width=1280, height=720, rate=Fraction(25))
    for run in assemble(document, context, facts, DESTINATIONS[destination]).picture:
        for key in run.panels[1].keys:
            window = key.window
            assert window.x >= inset[0] - 1e-6
            assert window.y >= inset[1] - 1e-6
            assert window.x + window.width <= inset[0] + inset[2] + 1e-6
            assert window.y + window.height <= inset[1] + inset[3] + 1e-6
