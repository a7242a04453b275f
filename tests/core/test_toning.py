"""Colour and light: what a choice makes of tones, what exposes a face well, where light falls, and how it is chosen."""

from fractions import Fraction
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.assembly import RecordingFacts, assemble
from nimble_quote.core.document import Choice
from nimble_quote.core.edits import (
    EditRefused,
    ExposeFaces,
    FrameShot,
    FramingChange,
    GiveFraming,
    ResetFraming,
    apply_edit,
    new_quote,
)
from nimble_quote.core.framing.exposing import faces_to_measure
from nimble_quote.core.framing.toning import Tone, exposure_for, tone_of
from nimble_quote.core.ranges import RANGES
from tests.sights import demo_context

exposures = st.floats(RANGES.exposure.least, RANGES.exposure.most)
contrasts = st.floats(RANGES.contrast.least, RANGES.contrast.most)


@given(exposures, contrasts)
def test_black_stays_black_and_white_white_and_nothing_between_is_turned_round(exposure: float, contrast: float):
    tone = tone_of(Choice(exposure=exposure, contrast=contrast))
    tones = [tone.luma(light / 50) for light in range(51)]
    assert tones[0] == 0.0
    assert tones[-1] == 1.0
    assert all(a < b for a, b in pairwise(tones))


def test_nothing_chosen_changes_nothing():
    assert tone_of(Choice()) == Tone()
    assert not tone_of(Choice(exposure=0.0, saturation=1.0)).changes


def test_a_stop_makes_dark_tones_lighter_by_what_a_stop_is_where_they_are_coded():
    assert tone_of(Choice(exposure=1.0)).luma(0.02) / 0.02 == pytest.approx(2 ** (1 / 2.2), rel=0.02)


def test_contrast_leaves_the_tone_of_a_face():
    steep = tone_of(Choice(contrast=0.5))
    assert steep.luma(0.45) == pytest.approx(0.45, abs=1e-3)
    assert steep.luma(0.3) < 0.3
    assert steep.luma(0.7) > 0.7


def test_warm_is_less_blue_and_more_red_and_no_saturation_is_no_colour():
    warm = tone_of(Choice(warmth=1.0))
    assert warm.blue < 0 < warm.red
    assert tone_of(Choice(saturation=0.0)).chroma == 0.0


@given(st.floats(0.02, 0.98))
def test_a_face_is_brought_to_where_it_is_well_exposed_and_no_further(face: float):
    stops = exposure_for(face)
    after = tone_of(Choice(exposure=stops)).luma(face)
    if 0.32 <= face <= 0.75:
        assert stops == 0
    elif abs(stops) < 1.5:
        assert after == pytest.approx(0.32 if face < 0.32 else 0.75, abs=0.01)
    else:
        assert min(abs(after - 0.32), abs(after - 0.75)) < min(abs(face - 0.32), abs(face - 0.75))


CONTEXT = demo_context("two-kettles")
FACTS = RecordingFacts(duration_ms=CONTEXT.talk.duration_ms, width=1280, height=720, rate=Fraction(25))
DOCUMENT = new_quote(CONTEXT, 0, 260)
TALL = CONTEXT.catalogue.destination(DOCUMENT.versions[0].destination)
MOMENTS = [(run.source_at(run.first_frame) * 40 + 200) for run in assemble(DOCUMENT, CONTEXT, FACTS, TALL).picture]


def tones_of(document) -> list[Tone]:  # type: ignore[no-untyped-def]
    return [run.tone for run in assemble(document, CONTEXT, FACTS, TALL).picture]


def test_a_shot_has_its_tone_and_a_reset_of_its_framing_leaves_it():
    change = FrameShot(at_ms=MOMENTS[1], change=FramingChange(exposure=0.5, closeness=1.3))
    made = apply_edit(DOCUMENT, change, CONTEXT)
    assert [one.changes for one in tones_of(made)[:3]] == [False, True, False]
    reset = apply_edit(made, ResetFraming(at_ms=MOMENTS[1]), CONTEXT)
    assert tones_of(reset)[1] == tones_of(made)[1]
    assert reset.framing.shots[0].choice.closeness is None
    assert tones_of(apply_edit(made, ResetFraming(), CONTEXT)) == tones_of(made)


def test_a_tone_for_every_shot_is_over_that_of_one_and_survives_a_shot_that_is_the_programs_again():
    one = apply_edit(DOCUMENT, FrameShot(at_ms=MOMENTS[0], change=FramingChange(exposure=0.5)), CONTEXT)
    whole = apply_edit(one, FrameShot(change=FramingChange(exposure=-0.3)), CONTEXT)
    reset = apply_edit(whole, ResetFraming(at_ms=MOMENTS[1]), CONTEXT)
    assert {tone.odds for tone in tones_of(reset)} == {tone_of(Choice(exposure=-0.3)).odds}


def test_colour_is_given_on_its_own():
    change = FramingChange(exposure=0.5, warmth=0.2, closeness=1.4)
    made = apply_edit(DOCUMENT, FrameShot(at_ms=MOMENTS[0], change=change), CONTEXT)
    given_to = GiveFraming(at_ms=MOMENTS[0], to_ms=(MOMENTS[2],), what=("tone",))
    shots = apply_edit(made, given_to, CONTEXT).framing.shots
    assert [(one.choice.warmth, one.choice.closeness) for one in shots] == [(0.2, 1.4), (0.2, None)]


def test_faces_are_exposed_by_set_up_and_only_where_that_changes_something():
    groups = faces_to_measure(DOCUMENT, CONTEXT, None)
    assert 1 < len(groups) <= 3
    assert len({at for one in groups for at in one.at_ms}) == sum(len(one.at_ms) for one in groups)
    assert all(1 <= len(one.faces) <= 5 for one in groups)
    dark, good = groups[0].measured([0.2, 0.22, 0.9]), groups[1].measured([0.5])
    assert dark.exposure > 0.5
    made = apply_edit(DOCUMENT, ExposeFaces(shots=(dark, good)), CONTEXT)
    assert {one.choice.exposure for one in made.framing.shots} == {dark.exposure}
    with pytest.raises(EditRefused, match="No face is followed"):
        apply_edit(DOCUMENT, ExposeFaces(shots=()), CONTEXT)


def test_the_light_stays_on_the_face():
    made = apply_edit(DOCUMENT, FrameShot(change=FramingChange(lift=1.0)), CONTEXT)
    assembly = assemble(made, CONTEXT, FACTS, TALL)
    lit = [(run, panel) for run in assembly.picture for panel in run.panels if panel.light]
    assert lit
    for run, panel in lit:
        light = panel.light
        assert light
        frame = run.first_frame + run.frames // 2
        ms = run.source_at(frame) * 40
        x = float(np.interp(frame, [key.frame for key in light.keys], [key.x for key in light.keys]))
        window = panel.window_at(frame)
        there = window.x + x / panel.width_px * window.width
        near = [
            abs(float(np.interp(ms, one.at_ms, one.x + one.width / 2)) - there) / float(np.median(one.width))
            for one in CONTEXT.sight.tracks
            if one.start_ms <= ms <= one.end_ms
        ]
        assert min(near) < 0.25
