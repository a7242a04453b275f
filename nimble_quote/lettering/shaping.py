"""Shaping with HarfBuzz: the widths of texts, and which face draws which part of them."""

import re
import struct
import unicodedata
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from functools import cached_property, lru_cache
from pathlib import Path

import budoux
import uharfbuzz as hb
from uniseg.linebreak import line_break_units

from nimble_quote.core.captions.lettering import LetterRun
from nimble_quote.lettering.shipped import CHAIN

_PLAIN = {"kern": False, "liga": False, "clig": False}
"""What the renderers leave out where letters are spaced."""
_STAYS = {"Mn", "Mc", "Me", "Cf", "Zs", "Sk"}
"""Marks, joiners, selectors, spaces and skin tones stay with the face of what they stand after."""
_WIDE_SCRIPTS = ("CJK", "HIRAGANA", "KATAKANA", "THAI", "LAO", "MYANMAR", "KHMER")
_MODELS = {"ja": budoux.load_default_japanese_parser, "zh": budoux.load_default_simplified_chinese_parser,
           "th": budoux.load_default_thai_parser}  # fmt: skip
_LONG_TOKEN = 60
_WORDS = re.compile(r"\s*\S+\s*|\s+")


class _Loaded:
    """A face that was read."""

    def __init__(self, path: Path) -> None:
        self._face = hb.Face(hb.Blob.from_file_path(str(path)))
        self._font = hb.Font(self._face)
        ascent, descent = struct.unpack(">HH", self._face.reference_table("OS/2").data[74:78])
        self.cell: float = (ascent + descent) / self._face.upem

    @cached_property
    def characters(self) -> frozenset[int]:
        return frozenset(self._face.unicodes)

    def width(self, text: str, spacing: float) -> float:
        """The width of a text that it draws, in font sizes; the last letter has no space after it."""
        buffer = hb.Buffer()
        buffer.add_str(text)
        buffer.guess_segment_properties()
        hb.shape(self._font, buffer, _PLAIN if spacing else None)
        advance = sum(position.x_advance for position in buffer.glyph_positions) / self._face.upem
        return float(advance + spacing * len(buffer.glyph_positions))


@dataclass(eq=False)
class Faces:
    """The faces in some folders: those of the styles by name and file, and those that are asked for what they lack."""

    folders: tuple[Path, ...]
    named: Mapping[str, str]
    """The file of each face that a style may name."""
    _loaded: dict[str, _Loaded] = field(default_factory=dict)

    def width(self, text: str, face: str, spacing: float = 0.0, language: str = "") -> float:
        """See `core.captions.lettering`."""
        return _width(self, text, face, spacing, language)

    def runs(self, text: str, face: str, language: str = "") -> tuple[LetterRun, ...]:
        """See `core.captions.lettering`."""
        return _runs(self, text, face, language)

    def missing(self, text: str, face: str, language: str = "") -> str:
        """See `core.captions.lettering`."""
        return _missing(self, text, face, language)

    def pieces(self, text: str, language: str = "") -> tuple[str, ...]:
        """See `core.captions.lettering`."""
        return _pieces(text, language.split("-")[0])

    def file_of(self, face: str) -> Path:
        """The file of a face. Raises `KeyError` where there is none."""
        file = self.named.get(face) or next(one.file for one in CHAIN if one.name == face)
        return next(folder / file for folder in self.folders if (folder / file).exists())

    def chain(self, face: str, language: str) -> list[str]:
        """The faces that are asked for a text, in order."""
        own = [one.name for one in CHAIN if language.split("-")[0] in one.languages]
        return [face, *own, *(one.name for one in CHAIN if one.name not in own)]

    def draws(self, face: str, text: str) -> bool:
        """Whether a face has every character of a text; those that no face needs to have count for nothing."""
        has = self._face(face).characters
        return all(ord(one) in has or one.isspace() or unicodedata.category(one) == "Cf" for one in text)

    def _face(self, name: str) -> _Loaded:
        if name not in self._loaded:
            self._loaded[name] = _Loaded(self.file_of(name))
        return self._loaded[name]

    def shaped(self, text: str, face: str, spacing: float) -> float:
        """The width of a text that one face draws."""
        return self._face(face).width(text, spacing)

    def cell(self, face: str) -> float:
        """The cell of a face, in font sizes."""
        return self._face(face).cell


@lru_cache(maxsize=50_000)
def _width(faces: Faces, text: str, face: str, spacing: float, language: str) -> float:
    runs = _runs(faces, text, face, language)
    # All runs are drawn at one font size: that of each face's own square.
    total: float = sum(faces.shaped(run.text, run.face, spacing) for run in runs)
    return float(total) - (spacing if text else 0.0)


@lru_cache(maxsize=20_000)
def _runs(faces: Faces, text: str, face: str, language: str) -> tuple[LetterRun, ...]:
    if text.isascii():
        return (LetterRun(text=text, face=face, cell=faces.cell(face)),) if text else ()
    return tuple(
        LetterRun(text=part, face=name, cell=faces.cell(name)) for part, name in _stretches(faces, text, face, language)
    )


def _stretches(faces: Faces, text: str, face: str, language: str) -> Iterator[tuple[str, str]]:
    """The text in parts, each with its face. A word is drawn by one face where one has all of it: two faces in a word show."""
    chain = faces.chain(face, language)
    part, drawn_by = "", face
    for word in _WORDS.findall(text):
        whole = next((name for name in chain if faces.draws(name, word)), None)
        for one in word:
            stays = part and unicodedata.category(one) in _STAYS
            name = drawn_by if stays else whole or next((name for name in chain if faces.draws(name, one)), face)
            if part and name != drawn_by:
                yield part, drawn_by
                part = ""
            part, drawn_by = part + one, name
    if part:
        yield part, drawn_by


@lru_cache(maxsize=20_000)
def _missing(faces: Faces, text: str, face: str, language: str) -> str:
    chain = faces.chain(face, language)
    return "".join(one for one in dict.fromkeys(text) if not any(faces.draws(name, one) for name in chain))


@lru_cache(maxsize=20_000)
def _pieces(text: str, language: str) -> tuple[str, ...]:
    if not any(_written_together(one) for one in text):
        return tuple(line_break_units(text)) if len(text) > _LONG_TOKEN else (text,)
    parser = _parser(_language_of(text, language))
    return tuple(parser.parse(text)) if parser else tuple(line_break_units(text))


def _written_together(character: str) -> bool:
    return ord(character) > 0x0DFF and unicodedata.name(character, "").startswith(_WIDE_SCRIPTS)


def _language_of(text: str, language: str) -> str:
    """The language whose model parts a text: by its script where that tells."""
    names = [unicodedata.name(one, "") for one in text]
    if any(name.startswith("THAI") for name in names):
        return "th"
    if any(name.startswith(("HIRAGANA", "KATAKANA")) for name in names):
        return "ja"
    if any(name.startswith("CJK") for name in names):
        return language if language in ("ja", "zh") else "zh"
    return ""


@lru_cache(maxsize=8)
def _parser(language: str) -> "budoux.Parser | None":
    return _MODELS[language]() if language in _MODELS else None
