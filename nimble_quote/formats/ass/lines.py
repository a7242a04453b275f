"""Where the lines of a cue stand, and each of their words, in pixels of the output."""

import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass

from nimble_quote.core.captions.cues import Cue, CueWord, line_text
from nimble_quote.core.captions.lettering import Lettering, LetterRun
from nimble_quote.core.destinations import Area
from nimble_quote.core.document import CaptionLook


@dataclass(frozen=True, kw_only=True)
class Setting:
    """What text is set in: its look, the language it is in, the output's size in pixels, and what measures it."""

    look: CaptionLook
    language: str
    output: tuple[int, int]
    lettering: Lettering

    @property
    def em(self) -> float:
        """The font size, in pixels."""
        return self.look.size * min(self.output)

    @property
    def step(self) -> float:
        """From line to line, in pixels."""
        return self.look.line_spacing * self.em

    def width(self, text: str) -> float:
        """How wide a text is, in pixels."""
        look = self.look
        return self.em * self.lettering.width(look.cased(text), look.face, look.letter_spacing, self.language)

    def runs(self, text: str) -> tuple[LetterRun, ...]:
        """The text as the look writes it, in stretches of one face each."""
        return self.lettering.runs(self.look.cased(text), self.look.face, self.language)

    def left_of(self, width: float) -> float:
        """Where a line of a width begins."""
        return self.look.left_of(width / self.output[0]) * self.output[0]


@dataclass(frozen=True, kw_only=True)
class PlacedWord:
    """A word of a line: from its left, in pixels."""

    word: CueWord
    left: float
    width: float


@dataclass(frozen=True, kw_only=True)
class PlacedLine:
    """A line: its text, its words where it has any, and where it stands: its left and the middle of its height, in pixels."""

    text: str
    lead: str
    words: tuple[PlacedWord, ...]
    left: float
    middle: float
    width: float

    @property
    def one_way(self) -> bool:
        """Whether all of it is read from left to right: only then is it known where each word stands."""
        return not any(unicodedata.bidirectional(one) in ("R", "AL", "AN") for one in self.text)

    @property
    def from_right(self) -> bool:
        """Whether it is read from the right: its first letter that has a direction tells."""
        strong = (unicodedata.bidirectional(one) for one in self.text)
        return next((one in ("R", "AL") for one in strong if one in ("L", "R", "AL")), False)


def placed_lines(cue: Cue, height: float, setting: Setting) -> list[PlacedLine]:
    """The lines of a cue about a height (0..1 from the top)."""
    texts = cue.shown_texts
    middles = middles_of(len(texts), height, setting)
    out = []
    for number, (text, middle) in enumerate(zip(texts, middles, strict=True)):
        words = cue.lines[number] if not cue.instead and number < len(cue.lines) else ()
        out.append(_placed(text, cue.lead if words and number == 0 else "", words, middle, setting))
    return out


def placed_in(text: str, area: Area, middle: float, setting: Setting) -> PlacedLine:
    """A line of text in a box, by the look's alignment."""
    width, across = setting.width(text), setting.output[0]
    beyond = setting.look.beyond[0] * setting.em
    left = {
        "left": area.x * across + beyond,
        "centre": (area.x + area.width / 2) * across - width / 2,
        "right": (area.x + area.width) * across - beyond - width,
    }[setting.look.alignment]
    return PlacedLine(text=text, lead="", words=(), left=left, middle=middle, width=width)


def middles_of(lines: int, height: float, setting: Setting) -> list[float]:
    """The middle of each of some lines that stand together about a height."""
    first = height * setting.output[1] - setting.step * (lines - 1) / 2
    return [first + setting.step * number for number in range(lines)]


def _placed(text: str, lead: str, words: Sequence[CueWord], middle: float, setting: Setting) -> PlacedLine:
    width = setting.width(text)
    left = setting.left_of(width)
    placed = []
    for number, word in enumerate(words):
        before = lead + line_text(tuple(words[:number]))
        if number and not word.glued:
            before += " "
        placed.append(
            PlacedWord(
                word=word, left=left + (setting.width(before) if before else 0.0), width=setting.width(word.text)
            )
        )
    return PlacedLine(text=text, lead=lead, words=tuple(placed), left=left, middle=middle, width=width)
