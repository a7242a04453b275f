"""Texts that stand over the picture: in the house's look, as large as they may be, in lines that fit the shape."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from math import ceil

from nimble_quote.core.assembly.placed import ClockTime
from nimble_quote.core.captions.making import Letters, lines_of
from nimble_quote.core.captions.styles import block_height
from nimble_quote.core.document import CaptionLook, Lines, LookChanges, NameStrap, TimeLeft, TitleLines

_SMALLER = (1.0, 0.92, 0.85, 0.78, 0.7, 0.62)
"""A text is made smaller, down to the last of these, before a line of it is too wide."""
_SECOND = {"title": 0.62, "name-strap": 0.8}
"""The size of a second text against the first."""
_PLAIN: LookChanges = {"spoken": {"mark": "none"}, "speakers": {"mark": "none"}, "entrance": "none", "exit": "none"}
_LIMITS = {"shortest_ms": 1000, "longest_ms": 15000, "fastest_cps": 60, "line_characters": 60}
MOST_LINES = {"lines": 5, "title": 3, "name-strap": 1, "time-left": 1}
Texts = Lines | TitleLines | NameStrap | TimeLeft


@dataclass(frozen=True, kw_only=True)
class Part:
    """Lines in one look; `whole` where all of them fit."""

    lines: tuple[str, ...]
    look: CaptionLook
    whole: bool = True


@dataclass(frozen=True, kw_only=True)
class Block:
    """Parts one under the other, and what they take of the output: its width and height in fractions, plates included."""

    parts: tuple[Part, ...]
    width: float
    height: float


def block_of(what: Texts, text: str, second: str, letters: Letters) -> Block | None:
    """What a text looks like, whose look is that of the captions but for what its kind and its maker have otherwise; None
    where it says nothing."""
    look = look_of_text(what, letters.look)
    told = [
        (text, look),
        (second, look.model_copy(update={"size": max(0.02, look.size * _SECOND.get(what.kind, 1.0))})),
    ]
    parts = tuple(_fitted(one, replace(letters, look=its), MOST_LINES[what.kind]) for one, its in told if one.strip())
    parts = tuple(part for part in parts if part.lines)
    return _stacked(parts, letters) if parts else None


def look_of_text(what: Texts, captions: CaptionLook) -> CaptionLook:
    """The look of a text: the captions', as far as nothing else is said."""
    limits = {**_LIMITS, "lines": min(4, MOST_LINES[what.kind])}
    kind: dict[str, LookChanges] = {
        "title": {"size": min(0.2, captions.size * 1.2)},
        "name-strap": {"size": max(0.02, captions.size * 0.8), "alignment": "left"},
        "time-left": {"size": max(0.02, captions.size * 0.7), "alignment": "right"},
    }
    usual = captions.with_changes({**_PLAIN, "limits": limits, "limits_in": [], **kind.get(what.kind, {})})
    return usual.with_changes(what.look)


def seconds_left(first: int, end: int, frames: int, rate: Fraction) -> tuple[ClockTime, ...]:
    """What a clock that counts down shows between two frames."""
    out: dict[int, str] = {}
    for left in range(ceil((frames - first) / rate), -1, -1):
        begins = max(first, frames - int(left * rate))
        if begins < end:
            out[begins] = f"{left // 60}:{left % 60:02}"
    return tuple(ClockTime(frame=frame, text=text) for frame, text in sorted(out.items()))


def _fitted(text: str, letters: Letters, most: int) -> Part:
    found = Part(lines=(), look=letters.look)
    for part in _SMALLER:
        look = letters.look.model_copy(update={"size": max(0.02, letters.look.size * part)})
        smaller = replace(letters, look=look)
        lines = lines_of(text, smaller, most)
        whole = len(lines) <= most and all(smaller.width(line) <= smaller.room.line + 1e-6 for line in lines)
        found = Part(lines=lines, look=look, whole=whole)
        if whole:
            break
    return found


def _stacked(parts: Sequence[Part], letters: Letters) -> Block:
    width = letters.output[0]
    wide = max(
        (max(replace(letters, look=one.look).width(line) for line in one.lines) + 2 * one.look.beyond[0])
        * one.look.size * min(letters.output) / width
        for one in parts
    )  # fmt: skip
    high = sum(block_height(one.look, len(one.lines), letters.output) for one in parts)
    return Block(parts=tuple(parts), width=min(1.0, wide), height=min(1.0, high))
