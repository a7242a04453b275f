"""What is wrong with captions, and what mends it: each mend, made, leaves nothing of that kind to find."""

from dataclasses import replace

import pytest

from nimble_quote.core.assembly import assemble
from nimble_quote.core.caption_checks import Checked, check_captions
from nimble_quote.core.context import Context
from nimble_quote.core.document import At, Choice, Framing, Lines, Overlay, QuoteDocument, When
from nimble_quote.core.edits import (
    ChangeCaptionLook,
    CorrectCaption,
    Edit,
    JoinCaptions,
    PartCaption,
    PlaceCaptions,
    TimeCaption,
    apply_edit,
    new_quote,
)
from nimble_quote.core.finding import Finding
from tests.shipped import DESTINATIONS
from tests.talks import HD, context_of, face_at, talk_of


def made(text: str, *edits: Edit, **speech: int) -> tuple[QuoteDocument, Context]:
    talk = talk_of(text, **speech)
    context = context_of(talk)
    document = new_quote(context, 0, len(talk.words) - 1)
    for edit in edits:
        document = apply_edit(document, edit, context)
    return document, context


def found(document: QuoteDocument, context: Context, faces: tuple[object, ...] = ()) -> dict[str, Finding]:
    destination = DESTINATIONS[document.versions[0].destination]
    assembly = assemble(document, context, HD, destination)
    return {one.check: one for one in check_captions(assembly, Checked(context=context, faces=faces))}  # type: ignore[arg-type]


CALM = "So people ask me, | there is no secret. | | Keep the wick short."


def test_calm_captions_have_nothing_against_them():
    assert found(*made(CALM)) == {}


CASES: dict[str, tuple[str, tuple[Edit, ...], dict[str, int]]] = {
    "cue-fast": ("So people ask me if I know. | | Yes.", (TimeCaption(word=6, edge="out", shift_ms=-500),), {"word_ms": 120}),
    "cue-slow": ("Keep the wick short and trim it every day.", (JoinCaptions(first=0, last=8),), {"word_ms": 700}),
    "cue-brief": ("Keep the wick short. And so it burns till dawn.", (PartCaption(word=1), TimeCaption(word=0, edge="out", shift_ms=-100)), {}),
    "cue-lines": (
        "Keep the wick short and it burns till dawn, and then in the morning you trim it again.",
        (JoinCaptions(first=0, last=16),), {"word_ms": 120},
    ),
    "cue-gap": ("There is no secret. Keep the wick short.", (TimeCaption(word=3, edge="out", shift_ms=-120),), {"gap_ms": 60}),
    "covered": (CALM, (PlaceCaptions(destination="story-15", height=0.9),), {}),
    "cue-otherwise": (CALM, (CorrectCaption(first=7, last=7, text="zebra."),), {}),
}  # fmt: skip


@pytest.mark.parametrize("check", CASES)
def test_each_problem_is_told_and_its_button_mends_it(check: str):
    text, edits, speech = CASES[check]
    document, context = made(text, *edits, **speech)
    finding = found(document, context)[check]
    assert finding.step == "captions"
    assert finding.mend is not None
    assert finding.mend_says
    mended = found(apply_edit(document, finding.mend, context), context)
    assert check not in mended or mended[check].word != finding.word


def test_a_missing_glyph_is_a_stop():
    finding = found(*made(CALM, CorrectCaption(first=7, last=7, text="x\U00010600")))["glyph"]
    assert finding.severity == "stop"
    assert "U+10600" in finding.says


def test_another_spelling_is_not_another_word():
    assert "cue-otherwise" not in found(*made("Maren Tully kept it.", CorrectCaption(first=1, last=1, text="Tolley")))


def test_a_word_too_wide_for_the_picture_is_told():
    wide = ChangeCaptionLook(look={"size": 0.2})
    assert "cue-wide" in found(
        *made("Extraordinarily | bright.", wide, CorrectCaption(first=0, last=0, text="Extraordinarily"))
    )


def test_captions_on_a_face_are_told_and_moved_off_it():
    document, context = made(CALM)
    document = document.model_copy(update={"framing": Framing(usual=Choice(layout="one"))})
    faces = tuple(face_at(at, 0.46, y=0.6, size=0.12) for at in range(1000, 9000, 400))
    finding = found(document, context, faces)["face-covered"]
    assert finding.mend is not None
    after = found(apply_edit(document, finding.mend, context), context, faces)
    assert "face-covered" not in after or after["face-covered"].word != finding.word


def test_captions_on_other_lines_are_told():
    document, context = made(CALM)
    held = {"tall": At(x=0.5, y=0.18)}
    lines = Overlay(id=1, when=When(kind="whole"), what=Lines(text="Before: the oil"), placed=held)
    document = document.model_copy(update={"overlays": (lines,)})
    low = apply_edit(document, PlaceCaptions(destination="story-15", height=0.2), context)
    assert "overlay-covered" in found(low, context)
    assert "overlay-covered" not in found(document, context)


def test_findings_of_a_faster_version_mend_in_its_own_time():
    document, context = made(*CASES["cue-fast"][:1], *CASES["cue-fast"][1], word_ms=120)
    version = document.versions[0]
    fast = document.model_copy(update={"versions": (replace_speed(version, 1.15),)})
    assembly = assemble(fast, context, HD, DESTINATIONS[version.destination])
    checked = Checked(context=replace(context))
    (finding,) = [one for one in check_captions(assembly, checked) if one.check == "cue-fast"]
    mended = apply_edit(fast, finding.mend, context)  # type: ignore[arg-type]
    again = assemble(mended, context, HD, DESTINATIONS[version.destination])
    assert not [one for one in check_captions(again, checked) if one.check == "cue-fast"]


def replace_speed(version: object, speed: float) -> object:
    return version.model_copy(update={"speed": speed})  # type: ignore[attr-defined]
