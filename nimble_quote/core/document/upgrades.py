"""Stored documents: how one is written, and how one of an older schema becomes one of today.

An upgrade is a pure function from what was stored to what the next schema stores. It knows nothing of the models, which
go on changing, and holds what it needs to know of the past itself.
"""

from collections.abc import Callable
from typing import Any

from nimble_quote.core.document.model import QuoteDocument

SCHEMA = 4

Stored = dict[str, Any]

_SHAPES_OF_1: dict[str, str] = {
    "story-15": "tall", "tall-30": "tall", "tall-60": "tall", "tall-90": "tall",
    "square-60": "square", "portrait-60": "portrait", "wide-140": "wide",
}  # fmt: skip
_PART_LINES_MS = 2500


class UnknownSchema(ValueError):
    """A document of a schema that this program does not know: it was stored by a newer one."""

    def __init__(self, schema: object) -> None:
        super().__init__(f"a document of schema {schema}, where {SCHEMA} is the newest known")
        self.schema = schema


def stored(document: QuoteDocument) -> Stored:
    """A document as it is stored."""
    return {"schema": SCHEMA, **document.model_dump(mode="json")}


def read_document(stored: Stored) -> QuoteDocument:
    """A document as it was stored, by whichever schema.

    Raises `UnknownSchema`, and `ValueError` or `KeyError` where it is damaged.
    """
    schema = stored.get("schema", 1)
    while schema != SCHEMA:
        if schema not in UPGRADES:
            raise UnknownSchema(schema)
        stored = UPGRADES[schema](stored)
        schema = stored["schema"]
    return QuoteDocument.model_validate({field: value for field, value in stored.items() if field != "schema"})


def _to_2(stored: Stored) -> Stored:
    """Framing and caption height by shape instead of by version, words named for good, lines of a part as overlays.

    The first version of a shape gives it its treatment; another that differs keeps its own.
    """
    made = {**stored, "schema": 2}
    treatments: Stored = {}
    made["versions"] = [_version_to_2(version, treatments) for version in stored.get("versions", ())]
    made["treatments"] = treatments
    captions = {**stored.get("captions", {})}
    captions["corrections"] = [
        {"word": one["word"], "text": one["text"]}
        for one in captions.get("corrections", ())
        if one.get("word") is not None
    ]
    made["captions"] = captions
    made["accepted"] = [_note_to_2(one) for one in stored.get("accepted", ())]
    part = stored.get("part")
    made["part"] = {"number": part["number"], "of": part["of"]} if part else None
    made["overlays"] = _part_lines_to_2(part) if part else []
    return made


def _version_to_2(version: Stored, treatments: Stored) -> Stored:
    kept = {field: value for field, value in version.items() if field not in ("framing", "caption_height")}
    own = {"framing": _framing_to_2(version.get("framing", {})), "caption_height": version.get("caption_height", 0.7)}
    # Each place that ever shipped is in the table; one that is not would be of a shape by itself.
    shape = _SHAPES_OF_1.get(version["destination"], str(version["destination"]))
    treatments.setdefault(shape, own)
    return {**kept, "treatment": None if treatments[shape] == own else own}


def _framing_to_2(framing: Stored) -> Stored:
    at = {"x": framing.get("x", 0.5), "y": framing.get("y", 0.5), "zoom": framing.get("zoom", 1.0)}
    layout: Stored = {"kind": "single", "camera": {"kind": "hold", "at": at}}
    if framing.get("layout") == "fit":
        layout = {"kind": "whole", "at": at}
    behind = {"backdrop": framing.get("backdrop", "blur"), "colour": framing.get("colour", "#1C2330")}
    return {"usual": layout, "shots": [], **behind}


def _note_to_2(note: Stored) -> Stored:
    rule, _, at_ms = note["what"].partition(":")
    word = note.get("word")
    # A note whose word is not there any more stays for the history; it can be about no word by mistake.
    return {"what": f"{rule}:{word}" if word is not None else f"{rule}:at-{at_ms}", "reason": note["reason"]}


def _part_lines_to_2(part: Stored) -> list[Stored]:
    lines = (("start", part.get("recap", "")), ("end", part.get("end_line", "")))
    return [
        {
            "id": number,
            "when": {"kind": kind, "length_ms": _PART_LINES_MS},
            "what": {"kind": "lines", "text": text},
        }
        for number, (kind, text) in enumerate(lines, start=1)
        if text.strip()
    ]


def _to_3(stored: Stored) -> Stored:
    """Framing as what a person chose, field by field, instead of as layouts: what stood there counts as placed by hand."""
    made = {**stored, "schema": 3}
    made["treatments"] = {shape: _treatment_to_3(one) for shape, one in stored.get("treatments", {}).items()}
    made["versions"] = [
        {**one, "treatment": _treatment_to_3(one["treatment"]) if one.get("treatment") else None}
        for one in stored.get("versions", ())
    ]
    return made


def _treatment_to_3(treatment: Stored) -> Stored:
    framing = treatment.get("framing", {})
    behind = {"backdrop": framing.get("backdrop", "blur"), "colour": framing.get("colour", "#1C2330")}
    usual = {**_layout_to_3(framing.get("usual", {"kind": "single"})), **behind}
    shots = [{"span": one["span"], "choice": _layout_to_3(one["layout"])} for one in framing.get("shots", ())]
    return {**treatment, "framing": {"usual": usual, "shots": shots}}


def _layout_to_3(layout: Stored) -> Stored:
    if layout["kind"] == "whole":
        at = {"x": 0.5, "y": 0.5, "zoom": 1.0, **layout.get("at", {})}
        resting = [{"from_ms": 0, "to_ms": 0, "at": {**at, "zoom": 1.0}}]
        return {"layout": "whole", "size": at["zoom"], "placed": [{"panel": 0, "rests": resting}]}
    if layout["kind"] == "single":
        return {"layout": "one", "placed": [_camera_to_3(0, layout.get("camera", {"kind": "hold"}))]}
    tiles = layout["tiles"]
    shares = [tile.get("share", 1.0) for tile in tiles]
    return {
        "layout": layout.get("arrangement", "stacked"),
        "share": min(0.8, max(0.2, shares[0] / sum(shares))),
        "placed": [_camera_to_3(number, tile.get("camera", {"kind": "hold"})) for number, tile in enumerate(tiles)],
    }


def _camera_to_3(panel: int, camera: Stored) -> Stored:
    if camera["kind"] == "hold":
        return {"panel": panel, "rests": [{"from_ms": 0, "to_ms": 0, "at": camera.get("at", {})}]}
    return {"panel": panel, "rests": camera["rests"], "ease": camera.get("ease", "gentle")}


def _to_4(stored: Stored) -> Stored:
    """Cues that a person made as what they decided of breaks, times and places; a height of captions only where it is another than
    the 0.7 that all styles had."""
    made = {**stored, "schema": 4}
    captions = {**stored.get("captions", {})}
    pins = captions.pop("pins", ())
    captions["breaks"] = [one for pin in pins for one in _breaks_of(pin)]
    captions["retimed"] = [
        {"word": pin[word], "edge": edge, "shift_ms": pin[shift]}
        for pin in pins
        for word, edge, shift in (("first", "in", "shift_in_ms"), ("last", "out", "shift_out_ms"))
        if pin.get(shift)
    ]
    captions["marked"] = [
        {"first": pin["first"], "last": pin["last"], "hidden": pin.get("hidden", False), "height": pin.get("height")}
        for pin in pins
        if pin.get("hidden") or pin.get("height") is not None
    ]
    made["captions"] = captions
    made["treatments"] = {shape: _treatment_to_4(one) for shape, one in stored.get("treatments", {}).items()}
    made["versions"] = [
        {**one, "treatment": _treatment_to_4(one["treatment"]) if one.get("treatment") else None}
        for one in stored.get("versions", ())
    ]
    return made


def _breaks_of(pin: Stored) -> list[Stored]:
    lines = [{"right": word, "kind": "line"} for word in pin.get("line_starts", ())]
    return [{"right": pin["first"], "kind": "cue"}, *lines, {"left": pin["last"], "kind": "cue"}]


def _treatment_to_4(treatment: Stored) -> Stored:
    height = treatment.get("caption_height", 0.7)
    return {**treatment, "caption_height": None if abs(height - 0.7) < 1e-9 else height}


UPGRADES: dict[int, Callable[[Stored], Stored]] = {1: _to_2, 2: _to_3, 3: _to_4}
