"""Marks that stay on what they mark, and go along with whom they follow."""

from dataclasses import replace

import numpy as np
import pytest

from nimble_quote.core.assembly import assemble
from nimble_quote.core.assembly.placed import PlacedSpotlight, PlacedStrokes, Shift
from nimble_quote.core.context import Context, Shot
from nimble_quote.core.document import At, Mark, QuoteDocument
from nimble_quote.core.edits import AddOverlay, AddVersion, Edit, Shows, apply_edit, new_quote
from nimble_quote.core.framing.following import Track
from nimble_quote.core.timebase import Span
from nimble_quote.formats.ass.drawn import strokes
from tests.shipped import DESTINATIONS
from tests.talks import HD, context_of, talk_of

SAID = "So people ask me, there is no secret. Keep the wick short. A long wick smokes and the glass goes black."
POINTS = (At(x=0.45, y=0.4), At(x=0.55, y=0.6))


def walking(subject: int = 3, until_ms: int = 12_000) -> Track:
    """Something that goes from the left to the right of the picture in ten seconds."""
    at = np.arange(0, until_ms, 200, dtype=np.float64)
    size = np.full(len(at), 0.1)
    return Track(
        subject=subject, at_ms=at, x=0.4 + at / 100_000, y=np.full(len(at), 0.4), width=size, height=size, turn=size * 0,
        score=size * 9, thing=True,
    )  # fmt: skip


def placed(
    mark: Mark, *, track: Track | None = None, shots: tuple[Shot, ...] = ()
) -> list[PlacedStrokes | PlacedSpotlight]:
    context: Context = context_of(talk_of(SAID), shots=shots)
    if track is not None:
        context = replace(context, sight=replace(context.sight, tracks=(track,)))
    document: QuoteDocument = new_quote(context, 0, len(context.talk.words) - 1)
    edits: tuple[Edit, ...] = (
        AddVersion(destination="wide-140"),
        AddOverlay(what=mark, shows=Shows(kind="start", length_ms=4000)),
    )
    for edit in edits:
        document = apply_edit(document, edit, context)
    made = assemble(document, context, HD, DESTINATIONS["wide-140"])
    return [one for one in made.overlays if isinstance(one, PlacedStrokes | PlacedSpotlight)]


def test_a_mark_on_a_still_picture_stays():
    (one,) = placed(Mark(form="ring", points=POINTS))
    assert one.path == ()
    assert (one.first_frame, one.end_frame) == (0, 100)


def test_a_mark_goes_along_with_what_it_follows():
    (one,) = placed(Mark(form="ring", points=POINTS, follows=3), track=walking())
    assert one.path[0] == Shift(frame=0, x=0, y=0)
    assert len(one.path) == 2, "straight ways need no keys between"
    seconds = (one.path[-1].frame - one.path[0].frame) / 25
    width = DESTINATIONS["wide-140"].width
    assert one.path[-1].x == pytest.approx(seconds * 0.01 * width, rel=0.05)
    assert one.path[-1].y == pytest.approx(0, abs=0.5)


def test_a_mark_ends_with_what_it_follows_and_at_a_cut():
    (short,) = placed(Mark(form="ring", points=POINTS, follows=3), track=walking(until_ms=3000))
    assert short.end_frame < 60
    cut = (Shot(span=Span(start_ms=0, end_ms=2500)), Shot(span=Span(start_ms=2500, end_ms=600_000)))
    (parted,) = placed(Mark(form="ring", points=POINTS), shots=cut)
    assert abs(parted.end_frame - round((2500 - 1000) / 40)) <= 2


def test_whoever_is_not_seen_is_not_followed():
    (one,) = placed(Mark(form="ring", points=POINTS, follows=9), track=walking())
    assert one.path == ()


def test_a_spotlight_is_an_oval_that_moves():
    (one,) = placed(Mark(form="spotlight", points=POINTS, follows=3, darkness=0.7, draws_ms=400), track=walking())
    assert isinstance(one, PlacedSpotlight)
    output = DESTINATIONS["wide-140"]
    assert (one.darkness, one.fade_frames) == (0.7, 10)
    assert one.across_px == pytest.approx(0.05 * output.width, rel=0.02)
    assert one.down_px == pytest.approx(0.1 * output.height, rel=0.02)
    assert one.path


def test_the_script_moves_a_mark_where_its_path_goes():
    (one,) = placed(Mark(form="ring", points=POINTS, follows=3, draws_ms=0), track=walking())
    assert isinstance(one, PlacedStrokes)
    bent = one.model_copy(
        update={"path": (Shift(frame=0, x=0, y=0), Shift(frame=50, x=100, y=0), Shift(frame=100, x=100, y=40))}
    )
    events = list(strokes(bent))
    assert [(first, end) for first, end, _, _ in events] == [(0, 50), (50, 100)]
    # Half a frame before each: an event begins so much before its first frame.
    assert r"\move(0.00,0.00,99.00,0.00)" in events[0][2]
    assert r"\move(99.00,0.00,100.00,39.60)" in events[1][2]
    still = list(strokes(one.model_copy(update={"path": ()})))
    assert r"\pos(0,0)" in still[0][2]
