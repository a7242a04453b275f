"""How framing becomes runs, panels and keys on the one clock of the output."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.assembly import Assembly, assemble
from nimble_quote.core.assembly.runs import lay_out
from nimble_quote.core.context import Shot
from nimble_quote.core.cutting.playing import played
from nimble_quote.core.document import (
    Choice,
    Framing,
    Lines,
    Overlay,
    QuoteDocument,
    ShotChoice,
    Treatment,
    Version,
    When,
)
from nimble_quote.core.framing.layouts import Move, Tiles, tile_boxes
from nimble_quote.core.framing.views import view_at
from nimble_quote.core.timebase import Span
from tests.framings import held, moving, tiled
from tests.shipped import DESTINATIONS
from tests.strategies import spans
from tests.talks import HD, context_of, talk_of

TALK = talk_of("one two three four five six seven eight nine ten eleven twelve", word_ms=400, gap_ms=100)
LEFT, RIGHT = held(0.2), held(0.8)


def span(start_ms: int, end_ms: int) -> Span:
    return Span(start_ms=start_ms, end_ms=end_ms)


def made(framing: Framing, *, shots: tuple[Span, ...] = (), speed: float = 1.0, **more: object) -> Assembly:
    document = QuoteDocument.model_validate(
        {
            "title": "A quote",
            "span": span(1000, 7000),
            "treatments": {"tall": Treatment(framing=framing)},
            "versions": (Version(destination="tall-60", speed=speed),),
            **more,
        }
    )
    context = context_of(TALK, shots=[Shot(span=one) for one in shots])
    return assemble(document, context, HD, DESTINATIONS["tall-60"])


def shown(assembly: Assembly) -> list[tuple[int, int, float]]:
    """Where each run begins in the output and in the source, and the left edge of its first window."""
    return [(run.first_frame, run.source_frame, round(run.panels[0].keys[0].window.x, 3)) for run in assembly.picture]


def test_a_framing_is_that_of_the_shot_that_it_lies_in():
    framing = Framing(usual=LEFT, shots=(ShotChoice(span=span(2900, 5100), choice=RIGHT),))
    # The first shot and the last are touched by it, and are other shots all the same.
    assembly = made(framing, shots=(span(0, 3000), span(3000, 5000), span(5000, 9000)))
    assert [at for at, _, _ in shown(assembly)] == [0, 50, 100]
    # A cut that was found in the middle of its shot parts the shot, not the framing.
    parted = made(framing, shots=(span(0, 3000), span(3000, 4000), span(4000, 5000), span(5000, 9000)))
    assert [at for at, _, _ in shown(parted)] == [0, 50, 100]


def test_runs_part_where_the_layout_changes_and_not_elsewhere():
    framing = Framing(usual=LEFT, shots=(ShotChoice(span=span(3000, 5000), choice=RIGHT),))
    assembly = made(framing, shots=(span(0, 2000), span(2000, 3000), span(3000, 5000), span(5000, 9000)))
    left, right = (round(0.2 - 0.31640625 / 2, 3), round(0.8 - 0.31640625 / 2, 3))
    assert shown(assembly) == [(0, 25, round(max(0, left), 3)), (50, 75, min(right, 0.684)), (100, 125, max(0, left))]


def test_without_shots_that_were_seen_the_framings_themselves_are_the_shots():
    framing = Framing(usual=LEFT, shots=(ShotChoice(span=span(3000, 5000), choice=RIGHT),))
    assert [(at, source) for at, source, _ in shown(made(framing))] == [(0, 25), (50, 75), (100, 125)]


def test_at_another_speed_shots_part_where_the_source_does():
    framing = Framing(usual=LEFT, shots=(ShotChoice(span=span(3000, 5000), choice=RIGHT),))
    assembly = made(framing, speed=1.1)
    first, second, _ = assembly.picture
    assert second.step == Fraction(11, 10)
    assert first.source_at(first.end_frame - 1) < 75 <= second.source_frame <= 76
    assert assembly.picture[-1].end_frame == assembly.frames


def test_tiles_fill_the_output_in_their_shares_each_with_its_camera():
    (run,) = made(Framing(usual=tiled("stacked", 0.3, 0.7, share=2 / 3))).picture
    assert [panel.box for panel in run.panels] == [(0, 0, 1080, 1280), (0, 1280, 1080, 640)]
    upper, lower = (panel.keys[0].window for panel in run.panels)
    assert (upper.width * 1920) / (upper.height * 1080) == pytest.approx(1080 / 1280)
    assert (lower.width * 1920) / (lower.height * 1080) == pytest.approx(1080 / 640)


shares = st.lists(st.floats(0.2, 5), min_size=2, max_size=4)


@given(shares, st.sampled_from(["stacked", "beside"]), st.sampled_from(list(DESTINATIONS.values())))
def test_boxes_of_tiles_are_even_and_leave_no_gap(some: list[float], arrangement: str, destination):
    layout = Tiles.model_validate({"arrangement": arrangement, "tiles": [{"share": one} for one in some]})
    boxes = tile_boxes(layout, (destination.width, destination.height))
    assert all(value % 2 == 0 and value >= 0 for box in boxes for value in box)
    assert sum(width * height for _, _, width, height in boxes) == destination.width * destination.height


def test_a_moving_camera_rests_and_goes_from_rest_to_rest():
    camera = Move(rests=moving((0, 2000, 0.3, 1.0), (4000, 5000, 0.7, 2.0)).rests)
    assert [view_at(camera, ms).x for ms in (0, 2000, 3000, 4000, 9000)] == pytest.approx([0.3, 0.3, 0.5, 0.7, 0.7])
    assert view_at(camera, 3000).zoom == pytest.approx(1.5)
    assert view_at(camera, 2500).x < 0.38, "it begins gently"


def test_the_keys_of_a_move_follow_it_closely():
    placed = moving((0, 2000, 0.3, 1.0), (4000, 5000, 0.7, 1.4))
    (run,) = made(Framing(usual=Choice(layout="one", placed=(placed,)))).picture
    (panel,) = run.panels
    camera = Move(rests=placed.rests)
    for frame in range(run.frames):
        view = view_at(camera, (run.source_frame + frame) * 40)
        window = panel.window_at(frame)
        assert window.x + window.width / 2 == pytest.approx(
            min(max(view.x, window.width / 2), 1 - window.width / 2), abs=0.0003
        )


def test_a_still_camera_has_one_key():
    (run,) = made(Framing(usual=RIGHT)).picture
    assert len(run.panels[0].keys) == 1
    assert len(made(Framing(usual=Choice(layout="whole"))).picture[0].panels[0].keys) == 1


@given(st.lists(spans(30_000), min_size=1, max_size=8), st.sampled_from([0.95, 1.0, 1.08, 1.15]))
def test_segments_tile_the_output_at_any_speed(some: list[Span], speed: float):
    segments = lay_out(played(some, speed=speed), Fraction(25))
    at = 0
    for one in segments:
        assert one.first_frame == at
        assert one.frames > 0
        at += one.frames


def overlay(number: int, **when: object) -> Overlay:
    return Overlay(id=number, when=When.model_validate(when), what=Lines(text=f"line {number}"))


def test_overlays_show_at_the_start_the_end_all_the_time_or_with_their_words():
    assembly = made(
        Framing(),
        overlays=(
            overlay(1, kind="start", length_ms=1000),
            overlay(2, kind="end", length_ms=1000),
            overlay(3, kind="whole"),
            overlay(4, kind="words", first=2, last=3),
            overlay(5, kind="words", first=2, last=3, offset_ms=200, length_ms=400),
        ),
    )
    frames = {one.lines[0]: (one.first_frame, one.end_frame) for one in assembly.overlays}
    assert frames == {
        "line 1": (0, 25),
        "line 2": (125, 150),
        "line 3": (0, 150),
        "line 4": (25, 48),
        "line 5": (30, 40),
    }


def test_an_overlay_whose_words_are_struck_sleeps():
    words = overlay(1, kind="words", first=2, last=3)
    assert made(Framing(), overlays=(words,), struck=(span(1950, 3050),)).overlays == ()
