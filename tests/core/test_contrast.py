"""Contrast of captions against what is behind them: as WCAG reckons it, and close to a slow exact measurement."""

from fractions import Fraction

import numpy as np
import pytest

from nimble_quote.core.assembly import RecordingFacts, assemble
from nimble_quote.core.assembly.captions import line_areas
from nimble_quote.core.caption_contrast import BINS, MIDDLES, Pictures, contrast_of
from nimble_quote.core.captions.contrast import luminance, mends, ratio, score, worst_contrast
from nimble_quote.core.document import CaptionLook, Choice, Framing
from nimble_quote.core.edits import ChangeCaptionLook, apply_edit, new_quote
from tests.shipped import CATALOGUE, DESTINATIONS, STYLES
from tests.talks import context_of, talk_of

BARE = STYLES["quay"].look.with_changes({"plate": None, "colour": "#FFFFFF"})
FACTS = RecordingFacts(duration_ms=20_000, width=1920, height=1080, rate=Fraction(25))


def all_of(light: float) -> np.ndarray:
    counts = np.zeros(BINS)
    counts[min(BINS - 1, int(light * BINS))] = 1000
    return counts


def test_luminance_and_ratio_are_those_of_the_guideline():
    assert luminance("#FFFFFF") == pytest.approx(1)
    assert ratio(luminance("#FFFFFF"), luminance("#000000")) == pytest.approx(21)
    assert ratio(luminance("#777777"), luminance("#FFFFFF")) == pytest.approx(4.48, abs=0.01)


def test_white_on_a_white_slide_can_t_be_read_and_what_would_do_is_told():
    counts = all_of(0.99)
    assert score(BARE, "#FFFFFF", MIDDLES, counts) == pytest.approx(1.0, abs=0.02)
    told = mends(BARE, "#FFFFFF", MIDDLES, counts, CATALOGUE.palette)
    assert [one.says for one in told] == ["A plate of 60 %", "A line around the letters", "Letters in #1C2330"]
    for one in told:
        changed = BARE.with_changes(one.changes)
        assert score(changed, changed.colour, MIDDLES, counts) >= 4.5


@pytest.mark.parametrize(
    ("changes", "least", "most"),
    [
        ({}, 1.0, 1.1),
        ({"outline": {"colour": "#161A22", "width": 0.09}}, 15, 21),
        ({"plate": {"colour": "#161A22", "opacity": 0.5}}, 2.5, 4.2),
        ({"plate": {"colour": "#161A22", "opacity": 1.0}}, 15, 21),
        ({"shadow": {"blur": 0.08, "down": 0.0, "opacity": 1.0}}, 5, 12),
    ],
)
def test_an_outline_a_plate_or_a_shadow_sets_letters_apart(changes: dict[str, object], least: float, most: float):
    look = BARE.with_changes(changes)
    assert least <= score(look, look.colour, MIDDLES, all_of(0.99)) <= most


def test_the_worst_twentieth_counts_and_a_speck_does_not():
    counts = all_of(0.02)
    counts[BINS - 1] = 30
    assert worst_contrast(1.0, MIDDLES, counts) > 10
    counts[BINS - 1] = 90
    assert worst_contrast(1.0, MIDDLES, counts) < 1.1


def pictures(value: float, bright_from: int | None = None) -> Pictures:
    light = np.full((40, 180, 320), value, np.float32)
    if bright_from is not None:
        light[bright_from:] = 0.97
    return Pictures(at_ms=np.arange(40) * 500.0, light=light)


TALK = talk_of("Keep the wick short. | There is no secret.")
CONTEXT = context_of(TALK)


def quote(**look: object):
    document = new_quote(CONTEXT, 0, len(TALK.words) - 1)
    changes = {"plate": None, "spoken": {"mark": "none"}, "colour": "#FFFFFF", **look}
    document = apply_edit(document, ChangeCaptionLook(look=changes), CONTEXT)
    document = document.model_copy(update={"framing": Framing(usual=Choice(layout="one"))})
    return assemble(document, CONTEXT, FACTS, DESTINATIONS["tall-60"])


def test_a_doubtful_cue_shows_its_worst_moment():
    found = contrast_of(quote(), CONTEXT, pictures(0.02, bright_from=6), CATALOGUE.palette)
    first, second = (found[frame] for frame in sorted(found))
    assert not first.doubtful
    assert second.unreadable
    assert second.says.startswith("light letters on a light picture, 1.0 to 1. A plate of 60 % makes it")
    assert second.mend is not None


def test_the_box_under_the_letters_alone_is_looked_at():
    assembly = quote()
    (track,) = assembly.cue_tracks
    (area, *_) = line_areas(track.cues[0], track, CONTEXT, assembly.destination)
    light = np.full((40, 180, 320), 0.97, np.float32)
    run = assembly.run_at(0)
    window = run.panels[0].window_at(0)
    top = int((window.y + area.y * window.height) * 180)
    bottom = int((window.y + (area.y + area.height) * window.height) * 180) + 1
    light[:, top - 1 : bottom + 1] = 0.01
    one = contrast_of(assembly, CONTEXT, Pictures(at_ms=np.arange(40) * 500.0, light=light))
    assert one[track.cues[0].first_frame].contrast > 10


def test_it_is_close_to_what_every_pixel_of_every_frame_says():
    """Against all pixels under the box in all pictures, without bins or a choice of points."""
    rng = np.random.default_rng(5)
    rough = rng.uniform(0.0, 0.35, (40, 18, 32)).astype(np.float32)
    light = np.repeat(np.repeat(rough, 10, axis=1), 10, axis=2)
    assembly = quote()
    (track,) = assembly.cue_tracks
    found = contrast_of(assembly, CONTEXT, Pictures(at_ms=np.arange(40) * 500.0, light=light))
    for cue in track.cues:
        under = []
        for area in line_areas(cue, track, CONTEXT, assembly.destination):
            for frame in range(cue.first_frame, cue.end_frame):
                window = assembly.run_at(frame).panels[0].window_at(frame)
                picture = light[int(np.argmin(np.abs(np.arange(40) * 500.0 - assembly.source_ms(frame))))]
                left, right = (window.x + x * window.width for x in (area.x, area.x + area.width))
                top, bottom = (window.y + y * window.height for y in (area.y, area.y + area.height))
                under.append(
                    picture[int(top * 180) : int(bottom * 180) + 1, int(left * 320) : int(right * 320) + 1].ravel()
                )
        pixels = np.concatenate(under)
        exact = np.percentile(1.05 / (pixels + 0.05), 5)
        assert found[cue.first_frame].contrast == pytest.approx(exact, rel=0.05)


def test_a_look_that_is_given_more_opacity_keeps_the_rest_of_its_plate():
    look = CaptionLook.model_validate(
        {**BARE.model_dump(), "plate": {"colour": "#FAF7F0", "opacity": 0.2, "behind": "block"}}
    )
    (plate, *_) = mends(look, "#FFFFFF", MIDDLES, all_of(0.0), ())[:1] or [None]
    assert plate is None or plate.changes["plate"]["behind"] == "block"  # type: ignore[index]
