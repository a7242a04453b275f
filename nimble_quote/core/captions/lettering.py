"""What the core is given to know of letters: how wide a text is when it is shaped, which faces draw it, where it may break."""

import unicodedata
from dataclasses import dataclass
from functools import lru_cache
from typing import Protocol


@dataclass(frozen=True, kw_only=True)
class LetterRun:
    """A stretch of a text that one face draws. `cell` is its ascent and descent in font sizes: subtitle scripts give sizes as
    the height of this cell."""

    text: str
    face: str
    cell: float


class Lettering(Protocol):
    """Shaping with the faces there are. `language` decides between faces of Chinese, Japanese and Korean."""

    def width(self, text: str, face: str, spacing: float = 0.0, language: str = "") -> float:
        """The width of a line of text in font sizes, with so much more between letters."""

    def runs(self, text: str, face: str, language: str = "") -> tuple[LetterRun, ...]:
        """The text in stretches, each with the face that draws it: the face told where it can, or another that can."""

    def missing(self, text: str, face: str, language: str = "") -> str:
        """The characters that no face draws, each once."""

    def pieces(self, text: str, language: str = "") -> tuple[str, ...]:
        """A text without spaces in the pieces between which a line may break: words, in scripts that write them together."""


@lru_cache(maxsize=50_000)
def characters(text: str) -> int:
    """How many characters a text counts as when it is read: those of the wide scripts (Chinese, Japanese, Korean) as two."""
    return sum(
        2 if unicodedata.east_asian_width(one) in "WF" else 0 if unicodedata.combining(one) else 1 for one in text
    )
