"""Documents of older schemas: each as it was stored, with what it has to become."""

import pytest

from nimble_quote.core.assembly import assemble
from nimble_quote.core.document import QuoteDocument, WordCorrection
from nimble_quote.core.document.upgrades import SCHEMA, UPGRADES, UnknownSchema, read_document, stored
from nimble_quote.core.edits import CorrectCaption, PlaceWindow, StrikeWords, apply_edit
from nimble_quote.formats.ass import write_ass
from tests.shipped import DESTINATIONS, LETTERING
from tests.talks import HD, context_of, talk_of

SAID = "So people ask me, | you know, | there is no secret. | Keep the wick short."
FILL = {"layout": "fill", "x": 0.6, "y": 0.5, "zoom": 1.0, "backdrop": "blur", "colour": "#1C2330"}
FIT = {"layout": "fit", "x": 0.4, "y": 0.5, "zoom": 1.5, "backdrop": "colour", "colour": "#0B6E6E"}
FIRST_OF_1 = {
    "title": "The first ones had no more than this",
    "span": {"start_ms": 900, "end_ms": 9000},
    "struck": [{"start_ms": 2550, "end_ms": 3550}],
    "captions": {"shown": True, "style": "slate"},
    "versions": [{"destination": "tall-60", "framing": FILL, "caption_height": 0.7}],
}
LAST_OF_1 = {
    "title": "What the lamp wants",
    "span": {"start_ms": 900, "end_ms": 9000},
    "struck": [{"start_ms": 2550, "end_ms": 3550}],
    "hushed": [{"start_ms": 4000, "end_ms": 4100}],
    "accepted": [
        {"what": "negation:7600", "reason": "She agreed.", "word": 8},
        {"what": "hedge:1", "reason": "Gone since.", "word": None},
    ],
    "part": {"number": 2, "of": 3, "recap": "Before: the oil", "end_line": "Goes on"},
    "captions": {
        "shown": True,
        "style": "slate",
        "corrections": [{"at_ms": 1800, "text": "asked", "word": 2}, {"at_ms": 77, "text": "lost", "word": None}],
    },
    "versions": [
        {
            "destination": "story-15", "framing": FILL, "caption_height": 0.7, "speed": 1.08, "soften": "none",
            "struck": [{"start_ms": 4600, "end_ms": 5000}], "restored": [],
        },
        {"destination": "tall-30", "framing": FILL, "caption_height": 0.7, "speed": 1.0, "soften": "scale",
         "struck": [], "restored": []},
        {"destination": "tall-60", "framing": FIT, "caption_height": 0.6, "speed": 1.0, "soften": "none",
         "struck": [], "restored": [{"start_ms": 2550, "end_ms": 3000}]},
        {"destination": "square-60", "framing": FIT, "caption_height": 0.5, "speed": 1.0, "soften": "none",
         "struck": [], "restored": []},
    ],
}  # fmt: skip

VIEW = {"x": 0.3, "y": 0.5, "zoom": 1.0}
RESTS = [
    {"from_ms": 900, "to_ms": 3000, "at": VIEW},
    {"from_ms": 4200, "to_ms": 9000, "at": {**VIEW, "x": 0.6, "zoom": 1.4}},
]
BLUR = {"backdrop": "blur", "colour": "#1C2330"}
VERSION = {"treatment": None, "struck": [], "restored": [], "speed": 1.0, "soften": "none"}
OF_2 = {
    "schema": 2,
    "title": "What the lamp wants",
    "span": {"start_ms": 900, "end_ms": 9000},
    "struck": [],
    "hushed": [],
    "accepted": [],
    "part": None,
    "captions": {"shown": True, "style": "quay", "corrections": [], "pins": []},
    "treatments": {
        "tall": {
            "framing": {
                "usual": {"kind": "single", "camera": {"kind": "move", "rests": RESTS, "ease": "even"}},
                "shots": [{
                    "span": {"start_ms": 5000, "end_ms": 9000},
                    "layout": {"kind": "whole", "at": {**VIEW, "x": 0.4, "zoom": 1.5}},
                    "by_hand": True,
                }],
                "backdrop": "colour",
                "colour": "#0B6E6E",
            },
            "caption_height": 0.6,
        },
        "square": {
            "framing": {
                "usual": {"kind": "tiles", "arrangement": "stacked", "tiles": [
                    {"camera": {"kind": "hold", "at": VIEW}, "share": 2.0},
                    {"camera": {"kind": "hold", "at": {**VIEW, "x": 0.7}}, "share": 1.0},
                ]},
                "shots": [], **BLUR,
            },
            "caption_height": 0.7,
        },
    },
    "overlays": [],
    "versions": [
        {"destination": "tall-60", **VERSION},
        {"destination": "tall-90", **VERSION, "treatment": {
            "framing": {"usual": {"kind": "single", "camera": {"kind": "hold", "at": {**VIEW, "x": 0.2}}}, "shots": [], **BLUR},
            "caption_height": 0.7,
        }},
        {"destination": "square-60", **VERSION},
    ],
}  # fmt: skip
WHOLE_BOX = (0, 0, 1080, 1920)
SHOWN_OF_2 = {
    "tall-60": {
        0: ("colour", [(WHOLE_BOX, (0.1418, 0.0, 0.3164))]),
        60: ("colour", [(WHOLE_BOX, (0.2339, 0.0381, 0.2923))]),
        75: ("colour", [(WHOLE_BOX, (0.4065, 0.1095, 0.2471))]),
        100: ("colour", [(WHOLE_BOX, (0.487, 0.1429, 0.226))]),
        150: ("colour", [((0, 504, 1080, 912), (0.0667, 0.0, 0.6667))]),
    },
    "tall-90": {0: ("blur", [(WHOLE_BOX, (0.0418, 0.0, 0.3164))]), 150: ("blur", [(WHOLE_BOX, (0.0418, 0.0, 0.3164))])},
    "square-60": {0: ("blur", [((0, 0, 1080, 720), (0.0, 0.0, 0.8438)), ((0, 720, 1080, 360), (0.0, 0.2037, 1.0))])},
}
"""What that version showed of it: boxes, and the left, the top and the width of the window in each, by frame."""


@pytest.mark.parametrize("destination", SHOWN_OF_2)
def test_a_document_of_the_second_schema_shows_what_it_showed(destination: str):
    document = read_document(OF_2)
    assembly = assemble(document, context_of(talk_of(SAID)), HD, DESTINATIONS[destination])
    for frame, (behind, panels) in SHOWN_OF_2[destination].items():
        run = assembly.run_at(frame)
        assert run.behind.kind == behind
        assert [panel.box for panel in run.panels] == [box for box, _ in panels]
        windows = [panel.window_at(frame) for panel in run.panels]
        assert [(one.x, one.y, one.width) for one in windows] == [pytest.approx(told, abs=1e-3) for _, told in panels]
    assert read_document(stored(document)) == document


def test_framing_goes_to_the_shape_and_a_version_that_differs_keeps_its_own():
    document = read_document(LAST_OF_1)
    assert set(document.treatments) == {"tall", "square"}
    assert [version.treatment is None for version in document.versions] == [True, True, False, True]
    for destination, told in (("story-15", FILL), ("tall-30", FILL), ("tall-60", FIT), ("square-60", FIT)):
        usual = document.treatment(destination, DESTINATIONS[destination].shape).framing.usual
        (camera,) = usual.placed or ()
        (rest,) = camera.rests
        zoom = usual.size if told["layout"] == "fit" else rest.at.zoom
        assert (rest.at.x, rest.at.y, zoom) == (told["x"], told["y"], told["zoom"])
        assert usual.layout == ("whole" if told["layout"] == "fit" else "one")
        assert (usual.backdrop, usual.colour) == (told["backdrop"], told["colour"])
    assert document.treatment("tall-60", "tall").caption_height == 0.6
    assert (document.versions[0].speed, document.versions[1].soften) == (1.08, "scale")


def test_what_hung_on_words_hangs_on_them_for_good():
    document = read_document(LAST_OF_1)
    assert document.captions.corrections == (WordCorrection(word=2, text="asked"),)
    # A note on a word that is gone stays for the history, and is never about another word.
    assert [(one.what, one.reason) for one in document.accepted] == [
        ("negation:8", "She agreed."),
        ("hedge:at-1", "Gone since."),
    ]


def test_the_lines_of_a_part_become_overlays():
    document = read_document(LAST_OF_1)
    assert document.part is not None
    assert (document.part.number, document.part.of) == (2, 3)
    assert [(one.when.kind, one.what.text) for one in document.overlays] == [
        ("start", "Before: the oil"),
        ("end", "Goes on"),
    ]


@pytest.mark.parametrize("told", [FIRST_OF_1, LAST_OF_1], ids=["first", "last"])
def test_a_document_of_the_first_schema_is_edited_assembled_and_stored_as_one_of_today(told: dict[str, object]):
    context = context_of(talk_of(SAID))
    document = read_document(told)
    edited = apply_edit(document, StrikeWords(first=8, last=8), context)
    edited = apply_edit(edited, CorrectCaption(first=0, last=1, text="So folk"), context)
    destination = edited.versions[-1].destination
    edited = apply_edit(edited, PlaceWindow(destination=destination, at_ms=2000, zoom=2), context)
    assert edited.struck[0] == document.struck[0]
    assembly = assemble(edited, context, HD, DESTINATIONS[destination])
    assert assembly.frames == sum(run.frames for run in assembly.picture) > 0
    assert "So folk" in " ".join(cue.text for cue in assembly.cue_tracks[0].cues)
    assert write_ass(assembly, LETTERING)
    assert stored(edited)["schema"] == SCHEMA
    assert read_document(stored(edited)) == edited


OF_3 = {
    **OF_2,
    "schema": 3,
    "captions": {
        "shown": True,
        "style": "slate",
        "corrections": [{"word": 2, "text": "asked"}],
        "pins": [
            {
                "first": 4,
                "last": 7,
                "line_starts": [6],
                "shift_in_ms": -120,
                "shift_out_ms": 0,
                "hidden": False,
                "height": 0.3,
            },
            {
                "first": 8,
                "last": 9,
                "line_starts": [],
                "shift_in_ms": 0,
                "shift_out_ms": 200,
                "hidden": True,
                "height": None,
            },
        ],
    },
    "treatments": {
        "tall": {"framing": {"usual": {}, "shots": []}, "caption_height": 0.7},
        "square": {"framing": {"usual": {}, "shots": []}, "caption_height": 0.42},
    },
    "versions": [{"destination": "tall-60", **VERSION}],
}


def test_cues_made_by_hand_in_the_third_schema_stay_as_they_were_made():
    document = read_document(OF_3)
    assert (document.captions.style, document.captions.corrections[0].text) == ("slate", "asked")
    heights = {shape: document.treatment("", shape).caption_height for shape in ("tall", "square")}
    assert heights == {"tall": None, "square": 0.42}
    context = context_of(talk_of(SAID))
    cues = assemble(document, context, HD, DESTINATIONS["tall-60"]).cue_tracks[0]
    words = {cue.words[0].index: cue for cue in cues.cues}
    assert words[4].height == 0.3
    assert [line[0].index for line in words[4].lines] == [4, 6]
    assert words[4].words[-1].index == 7
    assert [cue.words[0].index for cue in cues.hidden] == [8]
    assert read_document(stored(document)) == document


def test_there_is_an_upgrade_from_every_older_schema_and_none_from_a_newer_one():
    assert list(UPGRADES) == list(range(1, SCHEMA))
    with pytest.raises(UnknownSchema, match=f"schema {SCHEMA + 1}"):
        read_document({**stored(read_document(FIRST_OF_1)), "schema": SCHEMA + 1})


def test_an_upgrade_leaves_what_was_stored_as_it_was():
    before = repr(LAST_OF_1)
    assert isinstance(read_document(LAST_OF_1), QuoteDocument)
    assert repr(LAST_OF_1) == before
