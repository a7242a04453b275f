"""The script of captions: every mark, plate, entrance and script of writing as events that both renderers draw alike."""

import re
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nimble_quote.core.assembly import Assembly, assemble
from nimble_quote.core.edits import ChangeCaptionLook, CorrectCaption, Edit, EmphasiseWords, apply_edit, new_quote
from nimble_quote.formats.ass import faces_in, plain, write_ass
from nimble_quote.formats.ass.notation import alpha, colour, rounded
from tests.shipped import DESTINATIONS, LETTERING
from tests.talks import HD, context_of, talk_of

BARE = {"plate": None, "outline": None, "spoken": {"mark": "none"}, "colour": "#FFFFFF"}


def assembly_of(
    text: str = "Keep the wick short.", *edits: Edit, caption: str | None = None, **look: object
) -> Assembly:
    talk = talk_of(text)
    context = context_of(talk)
    document = new_quote(context, 0, len(talk.words) - 1)
    edits = (ChangeCaptionLook(look={**BARE, **look}), *edits)
    if caption is not None:
        edits = (*edits, CorrectCaption(first=0, last=len(talk.words) - 1, text=caption))
    for edit in edits:
        document = apply_edit(document, edit, context)
    return assemble(document, context, HD, DESTINATIONS["story-15"])


def events(assembly: Assembly) -> list[tuple[int, str]]:
    """The layer and the text of each event."""
    lines = [line for line in write_ass(assembly, LETTERING).splitlines() if line.startswith("Dialogue:")]
    return [(int(line[10]), line.split(",,0,0,0,,")[1]) for line in lines]


def test_a_plain_look_has_one_event_a_line_with_its_place():
    made = events(assembly_of("Keep the wick short, and there will be a light on."))
    assert [layer for layer, _ in made] == [2, 2, 2]
    assert [text.split("}")[1] for _, text in made] == ["Keep the wick short,", "and there will", "be a light on."]
    assert all(re.match(r"\{\\an4\\pos\(\d+\.\d,\d+\.\d\)\}", text) for _, text in made)


def test_lines_stand_left_right_or_in_the_middle():
    lefts = {}
    for alignment in ("left", "centre", "right"):
        ((_, text),) = events(assembly_of("Keep it.", alignment=alignment))
        lefts[alignment] = float(re.findall(r"pos\((\d+\.\d)", text)[0])
    assert lefts["left"] == pytest.approx((1 - 0.86) / 2 * 1080, abs=0.1)
    assert lefts["left"] < lefts["centre"] < lefts["right"]
    width = 1080 - 2 * lefts["centre"]
    assert lefts["right"] + width == pytest.approx((1 + 0.86) / 2 * 1080, abs=0.5)


def test_the_spoken_word_is_coloured_in_turn_within_one_event():
    ((_, text),) = events(assembly_of("Keep it short.", spoken={"mark": "colour", "colour": "#F0B429"}))
    lit = colour("#F0B429")
    assert text.count(lit) == 3
    assert "\\t(" in text
    assert re.sub(r"\{[^}]*\}", "", text) == "Keep it short."


@pytest.mark.parametrize(("mark", "shapes"), [("bar", 3), ("plate", 3)])
def test_a_bar_or_a_plate_goes_along_under_the_spoken_word(mark: str, shapes: int):
    made = events(assembly_of("Keep it short.", spoken={"mark": mark, "colour": "#0B5454"}))
    under = [text for layer, text in made if layer == 1]
    assert len(under) == shapes
    lefts = [int(re.findall(r"\\p4\}m (\d+)", text)[0]) for text in under]
    assert lefts == sorted(lefts)


def test_words_that_grow_or_appear_stand_by_themselves_where_they_would_in_the_line():
    ((_, whole),) = events(assembly_of("Keep it short."))
    left = float(re.findall(r"pos\((\d+\.\d)", whole)[0])
    for mark in ("grow", "appear"):
        made = events(assembly_of("Keep it short.", spoken={"mark": mark}))
        assert [text.split("}")[-1] for _, text in made] == ["Keep", "it", "short."]
        first = float(re.findall(r"pos\((\d+\.\d)", made[0][1])[0])
        assert first == pytest.approx(left + LETTERING.width("Keep", "Atkinson Hyperlegible Bold") * 60.48 / 2, abs=1)


def test_plates_of_lines_are_one_shape_and_a_block_one_box():
    text = "Keep the wick short, and there will be a light on."
    lines = [text for layer, text in events(assembly_of(text, plate={"behind": "line", "opacity": 0.5})) if layer == 0]
    block = [text for layer, text in events(assembly_of(text, plate={"behind": "block", "opacity": 0.5})) if layer == 0]
    assert max(shape.count("m ") for shape in lines) == 2
    assert {shape.count("m ") for shape in block} == {1}
    assert all(f"\\1a{alpha(0.5)}" in shape for shape in (*lines, *block))


def test_shadows_lie_under_and_outlines_are_of_the_style():
    assembly = assembly_of("Keep it.", shadow={"blur": 0.1}, outline={"colour": "#112233", "width": 0.1})
    made = events(assembly)
    assert [layer for layer, _ in made] == [1, 2]
    assert "\\blur6.0" in made[0][1]
    assert "&H00332211,&H00332211,0,0,0,0,100,100,0,0,1,6.05," in write_ass(assembly, LETTERING)


@pytest.mark.parametrize(
    ("entrance", "tag"),
    [("fade", r"\\fad\(160,120\)"), ("rise", r"\\move\(.*\)\\fad\(160,120\)"), ("type", r"\\clip\(.*\\t\(")],
)
def test_captions_come_and_go(entrance: str, tag: str):
    ((_, text),) = events(assembly_of("Keep it.", entrance=entrance, exit="fade"))
    assert re.search(tag, text)


@pytest.mark.parametrize(
    ("leaving", "tag"),
    [("rise", r"\\move\(.*,0,120\)\\fad\(0,120\)"), ("type", r"\\clip\(.*\\t\(0,120,\\clip\(")],
)
def test_captions_that_go_with_a_movement_go_in_an_event_of_its_own(leaving: str, tag: str):
    staying, going = (
        text for _, text in events(assembly_of("Keep it.", entrance="rise", exit=leaving, spoken={"mark": "none"}))
    )
    assert r"\fad(160,0)" in staying
    assert re.search(tag, going)
    assert "Keep it." in staying
    assert "Keep it." in going


def test_a_word_spoken_while_captions_go_keeps_its_colour_to_the_end():
    *_, going = events(assembly_of("Keep it.", exit="rise", spoken={"mark": "colour", "colour": "#FF0000"}))
    assert r"Keep{\1c&HFFFFFF&} {\1c&H0000FF&}it." in going[1]


def test_what_reads_from_the_right_is_typed_from_there():
    ((_, text),) = events(assembly_of("Keep it.", caption="שלום", entrance="type"))
    begins = re.search(r"\\clip\((\d+),\d+,(\d+),\d+\)\\t\(\d+,\d+,\\clip\((\d+),\d+,(\d+)", text)
    assert begins
    assert begins[1] == begins[2] == begins[4] > begins[3]


@pytest.mark.parametrize("mark", ["grow", "appear"])
def test_words_by_themselves_come_and_go_like_the_others(mark: str):
    made = events(assembly_of("Keep it.", entrance="fade", exit="fade", spoken={"mark": mark}))
    assert all(r"\fad(160,120)" in text for _, text in made)


def test_emphasis_is_a_line_under_the_word_or_its_colour():
    edit = EmphasiseWords(first=1, last=1)
    assert "{\\u1}it.{\\u0}" in events(assembly_of("Keep it.", edit))[0][1]
    assert f"{{\\1c{colour('#FF0000')}}}it" in events(assembly_of("Keep it.", edit, emphasis="#FF0000"))[0][1]


def test_case_and_spacing_are_the_looks():
    assembly = assembly_of("Keep it.", case="upper", letter_spacing=0.1)
    assert events(assembly)[0][1].endswith("KEEP IT.")
    assert ",100,100,6.05,0,1,0,0,4," in write_ass(assembly, LETTERING)


def test_another_script_has_its_own_face_and_what_is_read_from_the_right_says_so():
    script = write_ass(assembly_of("Keep it short.", caption="שלום עולם 12"), LETTERING)
    assert "\\fnNoto Sans Hebrew Bold" in script
    assert ",L0R,," in script
    assert faces_in(script) >= {"Noto Sans Hebrew Bold", "Atkinson Hyperlegible Bold"}


@given(st.text(max_size=60))
def test_no_caption_text_is_markup(text: str):
    assert not re.search(r"[{}\\\n\r\x00-\x08]", plain(text))


def test_every_event_begins_and_ends_half_a_frame_before_its_frames():
    for rate in (Fraction(24000, 1001), Fraction(25), Fraction(60)):
        assembly = assembly_of("Keep the wick short, and there will be a light on when they come.")
        script = write_ass(assembly.model_copy(update={"rate": rate}), LETTERING)
        stamps = re.findall(r"Dialogue: 2,(\d):(\d\d):(\d\d\.\d\d),", script)
        firsts = sorted({cue.first_frame for cue in assembly.cue_tracks[0].cues})
        times = sorted({int(h) * 3600 + int(m) * 60 + float(s) for h, m, s in stamps})
        for frame, time in zip(firsts, times, strict=True):
            assert float((frame - 1) / rate) < time <= float(frame / rate) or frame == 0


def test_a_box_without_round_corners_has_four():
    assert rounded([(1, 2, 10, 20)], 0) == "m 8 16 l 88 16 88 176 8 176"


def test_a_script_without_captions_is_empty():
    assert write_ass(assembly_of().model_copy(update={"cue_tracks": ()}), LETTERING) == ""
