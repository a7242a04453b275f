from collections.abc import Sequence
from fractions import Fraction

import pytest

from nimble_quote.core.assembly import Assembly, assemble
from nimble_quote.core.caption_checks import Checked
from nimble_quote.core.context import Context
from nimble_quote.core.edits import (
    AddVersion,
    Edit,
    FrameShot,
    FramingChange,
    PlaceCaptions,
    PlaceWindow,
    SoftenJoins,
    StrikeWords,
    apply_edit,
    new_quote,
)
from nimble_quote.core.finding import Finding
from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.preflight import FileFacts, judge_file, preflight
from tests.shipped import DESTINATIONS
from tests.talks import HD, context_of, face_at, talk_of

CALM = "So people ask me, | there is no secret. | Keep the wick short."
FACES = [face_at(t * 1000, 0.45) for t in range(9)]


CONTEXTS: dict[int, Context] = {}
"""The context of each Assembly that was made here."""


def assembly_of(text: str = CALM, *edits: Edit, destination: str = "story-15", **speech: int) -> Assembly:
    talk = talk_of(text, **speech)
    context = context_of(talk, faces=FACES)
    document = new_quote(context, 0, len(talk.words) - 1)
    for edit in edits:
        document = apply_edit(document, edit, context)
    made = assemble(document, context, HD, DESTINATIONS[destination])
    CONTEXTS[id(made)] = context
    return made


def checked(assembly: Assembly, faces: Sequence[FaceSample] = FACES) -> tuple[Finding, ...]:
    return preflight(assembly, faces, Checked(context=CONTEXTS[id(assembly)]))


def found(assembly: Assembly) -> dict[str, str]:
    return {finding.check: finding.says for finding in checked(assembly)}


def placed(**where: float) -> PlaceWindow:
    return PlaceWindow.model_validate({"destination": "story-15", "at_ms": 1500, **where})


def test_a_good_version_has_nothing_against_it():
    assert found(assembly_of()) == {}


def test_over_the_limit_says_by_how_much_and_comes_first():
    talk_text = "word " * 40
    checks = checked(
        assembly_of(talk_text, AddVersion(destination="story-15"), destination="story-15", word_ms=390, gap_ms=0)
    )
    assert (checks[0].check, checks[0].severity, checks[0].step) == ("length", "stop", "trim")
    assert checks[0].says == "0.9 s over Tall 15, which ends at 15.0 s."


def test_a_soft_picture_is_told_with_its_figure():
    assert found(assembly_of(CALM, placed(zoom=1.2)))["soft"].startswith("Soft picture: enlarged 2.1 times")


def test_a_face_out_of_the_window_is_told():
    assert found(assembly_of(CALM, placed(x=0.9)))["face"] == (
        "The speaker's face is cut off in 7 of 7 moments looked at."
    )
    whole = FrameShot(at_ms=1500, change=FramingChange(layout="whole"))
    assert "face" not in found(assembly_of(CALM, placed(x=0.9), whole))


def test_what_is_enlarged_to_soften_joins_counts_for_sharpness_and_faces():
    cut, soft = StrikeWords(first=3, last=4), SoftenJoins(destination="story-15", soften="scale")
    plain, eased = assembly_of(CALM, cut), assembly_of(CALM, cut, soft)
    assert plain.sharpness is not None
    assert eased.sharpness == pytest.approx(plain.sharpness / 1.06)
    # A face that just touches the edge of the window is cut where the picture is enlarged.
    edge = plain.picture[0].panels[0].keys[0].window.x
    faces = [face_at(t * 100, edge + 0.001) for t in range(90)]
    assert "face" not in {one.check for one in checked(plain, faces)}
    assert "face" in {one.check for one in checked(eased, faces)}


def test_a_cue_too_fast_to_read_is_told():
    assert "cue-fast" in found(assembly_of("Lamplighters everywhere understood. | Yes.", word_ms=90, gap_ms=10))


def test_a_cue_that_stays_too_long_is_told():
    says = found(assembly_of("Lamp. | Yes.", word_ms=6000))["cue-slow"]
    assert says == "“Yes.” shows for 6.1 s, over 5.0 s."


def test_a_word_longer_than_a_line_is_told():
    assert "lighthousekeeperly" not in found(assembly_of("lighthousekeeperly | yes")).get("cue-long", "")
    assert "lighthousekeeperlynessesses" in found(assembly_of("lighthousekeeperlynessesses | yes"))["cue-long"]


@pytest.mark.parametrize(("height", "area"), [(0.97, "caption and account line"), (0.05, "title bar")])
def test_captions_under_what_the_app_covers_are_told(height: float, area: str):
    says = found(assembly_of(CALM, PlaceCaptions(destination="story-15", height=height)))["covered"]
    assert area in says


def test_lines_break_clear_of_the_button_column_and_a_word_too_wide_for_that_is_told():
    wide = assembly_of("WWWWWW WWWWWWWWWW. | Yes.", word_ms=900)
    assert "covered" not in found(wide)
    assert "button column" in found(assembly_of("WWWWWWWWWWWWWWW. | Yes.", word_ms=900))["covered"]


GOOD = FileFacts(
    width=1080, height=1920, frames=0, video_ms=0, audio_ms=0, rate=Fraction(25), video_codec="h264", profile="High",
    pixel_format="yuv420p", square_pixels=True, colour="bt709", faststart=True, audio_codec="aac", sample_rate=48000,
    channels=2, loudness_lufs=-14.1, true_peak_dbtp=-1.9, size_bytes=4_000_000,
)  # fmt: skip


@pytest.mark.parametrize(
    ("change", "check"),
    [
        ({}, None),
        ({"height": 1080}, "size"),
        ({"square_pixels": False}, "size"),
        ({"rate": Fraction(30)}, "rate"),
        ({"pixel_format": "yuv444p"}, "codec"),
        ({"faststart": False}, "faststart"),
        ({"frames": 2}, "length"),
        ({"audio_ms": 11.0}, "sync"),
        ({"sample_rate": 44100}, "sound"),
        ({"loudness_lufs": -15.0}, "loudness"),
        ({"loudness_lufs": None}, "silent"),
        ({"true_peak_dbtp": -0.5}, "peak"),
        ({"size_bytes": 200_000_000}, "weight"),
    ],
)
def test_a_finished_file_is_judged_by_what_was_measured(change: dict[str, object], check: str | None):
    assembly = assembly_of()
    base = {"frames": assembly.frames, "video_ms": assembly.length_ms, "audio_ms": assembly.length_ms}
    shifted = {k: base[k] + v if k in base else v for k, v in change.items()}  # type: ignore[operator]
    facts = GOOD.model_copy(update={**base, **shifted})
    assert [f.check for f in judge_file(facts, assembly)] == ([check] if check else [])
