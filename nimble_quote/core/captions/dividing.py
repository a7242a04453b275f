"""Which words make a cue, and how they break into lines: the cheapest way there is, found exactly by dynamic programming.

Every cue keeps the limits on lines, width, characters and longest time; what can't (a single word too wide, words that a
person has in one cue) stands alone. Among the ways that do, the sum of prices is least:

    a cue           0.8, and 1.5 x how closely its last word binds to the next (`binding.py`)
    a line break    0.18, 1.2 x how closely, and 0.9 x the square of how uneven the two lines are
    a sentence's end inside a cue   1.1
    over too fast to be read, or over at once   more, the faster
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import accumulate, pairwise
from typing import NamedTuple

from nimble_quote.core.document import Limits

LONG_PAUSE_MS = 1000
"""A silence that a cue should not reach over, or it tells too soon what is said after."""
_CUE, _CUE_BINDING, _LINE_BY_HAND = 0.8, 1.5, 20.0
_LINE, _LINE_BINDING, _UNEVEN = 0.18, 1.2, 0.9
_SENTENCE_INSIDE, _JOIN_INSIDE, _PAUSE_INSIDE = 1.1, 0.5, 1.0
_TOO_FAST, _TOO_SHORT, _SHORTER = 2.0, 0.4, 0.8
_ENDS_SENTENCE = -1.0
"""Words that bind by less than this end a sentence."""
_MOST_EXACT_LINES = 6


class Atom(NamedTuple):
    """A word, or a piece of one: its width in font sizes and in characters, when it is said, how it binds to the next, and what a
    person said of the place after it. `space` is the width of the space before it (0 where there is none)."""

    width: float
    space: float
    characters: int
    start_ms: float
    end_ms: float
    binding: float
    after_join: bool
    fixed: str
    """`cue`, `line`, `join`, or nothing."""


Broken = tuple[float, tuple[int, ...]]
"""What a way to break lines costs, and where each line ends."""


class Division(NamedTuple):
    """A cue: its atoms `first` up to before `end`, and where its lines end."""

    first: int
    end: int
    line_ends: tuple[int, ...]


class Piece:
    """Atoms that are divided by themselves, with what is asked of their stretches again and again summed up before."""

    def __init__(self, atoms: Sequence[Atom], room: Room) -> None:
        self.atoms, self.room = atoms, room
        self._widths = list(accumulate((one.width + one.space for one in atoms), initial=0.0))
        self._letters = list(accumulate((one.characters + (one.space > 0) for one in atoms), initial=0))
        self._fixed = [place for place in range(1, len(atoms)) if atoms[place - 1].fixed == "line"]
        self._kinds, self._known = _remembered(atoms, room)

    def width(self, first: int, end: int) -> float:
        """The width of atoms on one line."""
        return self._widths[end] - self._widths[first] - self.atoms[first].space

    def letters(self, first: int, end: int) -> int:
        """How many characters they are on one line."""
        return self._letters[end] - self._letters[first] - (self.atoms[first].space > 0)

    def fixed(self, first: int, end: int) -> tuple[int, ...]:
        """The places inside at which a person broke a line."""
        return tuple(place for place in self._fixed if first < place < end) if self._fixed else ()

    def lasts_ms(self, first: int, end: int) -> float:
        """From the beginning of the first to the end of the last."""
        return self.atoms[end - 1].end_ms - self.atoms[first].start_ms

    def broken(self, first: int, end: int, lines: int) -> Broken | None:
        """The cheapest way to break what no hand broke, worked out once for the same words wherever they stand."""
        key = lines, self._kinds[first:end]
        if key not in self._known:
            found = _broken(self, first, end, lines, ())
            self._known[key] = found and (found[0], tuple(place - first for place in found[1]))
        known = self._known[key]
        return known and (known[0], tuple([place + first for place in known[1]]))


@dataclass(frozen=True, kw_only=True)
class Room:
    """What a cue may take: the limits of the style, and the width of a line in font sizes."""

    limits: Limits
    line: float


Known = dict[tuple[int, tuple[int, ...]], Broken | None]
_KNOWN: dict[Room, Known] = {}
"""How stretches of words break into lines, by their number of lines and the kinds of their words; places counted from the first."""
_KINDS: dict[tuple[float, float, int, float], int] = {}
"""A number for all words that are alike to one who breaks lines: as wide, as long, as closely bound."""
_MOST_KNOWN = 400_000


def _remembered(atoms: Sequence[Atom], room: Room) -> tuple[tuple[int, ...], Known]:
    """The kinds of atoms, and what is known of stretches in a room: an edit changes few of them."""
    if len(_KINDS) > _MOST_KNOWN or sum(len(one) for one in _KNOWN.values()) > _MOST_KNOWN:
        _KINDS.clear()
        _KNOWN.clear()
    kinds = tuple(_KINDS.setdefault((one.width, one.space, one.characters, one.binding), len(_KINDS)) for one in atoms)
    return kinds, _KNOWN.setdefault(room, {})


def divided(atoms: Sequence[Atom], room: Room) -> list[Division]:
    """The cheapest way to divide atoms into cues and lines."""
    out: list[Division] = []
    start = 0
    for place in range(1, len(atoms) + 1):
        if place == len(atoms) or _parted(atoms[place - 1], atoms[place]):
            part = _cheapest(tuple(atoms[start:place]), room, None if place == len(atoms) else atoms[place].start_ms)
            out += [
                Division(one.first + start, one.end + start, tuple(end + start for end in one.line_ends))
                for one in part
            ]
            start = place
    return out


def line_ends(atoms: Sequence[Atom], room: Room, most: int | None = None) -> tuple[int, ...]:
    """Where the lines of a text by itself end, of which there are at most so many (else as many as the limits say); where it
    doesn't fit, the last line takes what is left."""
    piece, most = Piece(atoms, room), most or room.limits.lines
    found = _broken(piece, 0, len(atoms), most, ()) if most <= _MOST_EXACT_LINES else None
    if found is not None:
        return found[1]
    ends: list[int] = []
    first = 0
    for place in range(1, len(atoms)):
        if len(ends) < most - 1 and not _fits(piece, first, place + 1):
            ends.append(place)
            first = place
    return (*ends, len(atoms))


def _parted(atom: Atom, following: Atom) -> bool:
    """Whether two atoms are in different cues whatever it costs: so that a talk is divided piece by piece."""
    return atom.fixed == "cue" or (not atom.fixed and following.start_ms - atom.end_ms >= LONG_PAUSE_MS)


@lru_cache(maxsize=4000)
def _cheapest(atoms: tuple[Atom, ...], room: Room, next_ms: float | None) -> tuple[Division, ...]:
    """The cheapest division of atoms, after which something is said from a moment on."""
    piece = Piece(atoms, room)
    best: list[tuple[float, int, tuple[int, ...]]] = [(0.0, 0, ())]
    for end in range(1, len(atoms) + 1):
        last = atoms[end - 1]
        if last.fixed == "join" and end < len(atoms):
            best.append((float("inf"), 0, ()))
            continue
        after = _CUE + (_ending(last) if end < len(atoms) else 0.0)
        following = atoms[end].start_ms if end < len(atoms) else next_ms
        found: tuple[float, int, tuple[int, ...]] | None = None
        inside = 0.0
        for first in range(end - 1, -1, -1):
            if first < end - 1:
                inside += _inside(atoms[first], atoms[first + 1])
            if first and atoms[first - 1].fixed == "join":
                continue
            lines = _lines(piece, first, end)
            if lines is None:
                if found is None:
                    # What a person has in one cue stands alone where it is too much for one.
                    lines = 0.0, _as_many_lines(piece, first, end)
                elif _too_much(piece, first, end):
                    break
                else:
                    continue
            price = best[first][0] + after + inside + lines[0] + _hurry(piece, first, end, following, room.limits)
            if found is None or price < found[0]:
                found = price, first, lines[1]
        assert found is not None
        best.append(found)
    out: list[Division] = []
    end = len(atoms)
    while end:
        _, first, line_ends = best[end]
        out.append(Division(first, end, line_ends))
        end = first
    return tuple(reversed(out))


def _ending(atom: Atom) -> float:
    """What it costs to end a cue after an atom: where a person broke a line, a line breaks if it can."""
    return _CUE_BINDING * atom.binding + (_LINE_BY_HAND if atom.fixed == "line" else 0.0)


def _as_many_lines(piece: Piece, first: int, end: int) -> tuple[int, ...]:
    """Where lines end, of which there are as many as it takes; also where a person broke them."""
    return tuple(
        place + a
        for a, b in pairwise((first, *piece.fixed(first, end), end))
        for place in line_ends(piece.atoms[a:b], piece.room, most=b - a)
    )


def _too_much(piece: Piece, first: int, end: int) -> bool:
    """Whether so many atoms never make a cue, and more of them neither."""
    limits = piece.room.limits
    return (
        piece.lasts_ms(first, end) > limits.longest_ms
        or piece.width(first, end) > piece.room.line * limits.lines + piece.atoms[first].space * limits.lines
        or piece.letters(first, end) > (limits.line_characters + 1) * limits.lines
    )


def _inside(atom: Atom, following: Atom) -> float:
    """What it costs to have two atoms in one cue."""
    price = _SENTENCE_INSIDE if atom.binding <= _ENDS_SENTENCE else 0.0
    pause = following.start_ms - atom.end_ms
    return price + _JOIN_INSIDE * following.after_join + _PAUSE_INSIDE * max(0.0, pause / LONG_PAUSE_MS - 0.35)


def _hurry(piece: Piece, first: int, end: int, following_ms: float | None, limits: Limits) -> float:
    """What it costs to be over too fast to be read, or over at once."""
    if following_ms is None:
        return 0.0
    shown = max(1.0, min(following_ms - piece.atoms[first].start_ms, limits.longest_ms))
    needed = piece.letters(first, end) * 1000 / limits.fastest_cps
    price = _TOO_FAST * (needed / shown - 1) if needed > shown else 0.0
    if shown < limits.shortest_ms:
        price += _TOO_SHORT + _SHORTER * (1 - shown / limits.shortest_ms)
    return price


def _lines(piece: Piece, first: int, end: int) -> Broken | None:
    """What the cheapest way costs to break atoms into the lines of one cue, and where each ends; None where they don't fit."""
    limits = piece.room.limits
    if end - first == 1:
        return 0.0, (end,)
    if piece.lasts_ms(first, end) > limits.longest_ms:
        return None
    fixed = piece.fixed(first, end)
    if len(fixed) >= limits.lines:
        return None
    if fixed:
        return _broken(piece, first, end, limits.lines, fixed)
    return piece.broken(first, end, limits.lines)


def _broken(piece: Piece, first: int, end: int, lines: int, fixed: tuple[int, ...]) -> Broken | None:
    """The cheapest way to break atoms into at most so many lines, with breaks where a person put them and, if they put any,
    nowhere else that is not needed."""
    if not fixed and _fits(piece, first, end):
        return 0.0, (end,)
    if lines <= 1:
        return None
    best: Broken | None = None
    for place in fixed[:1] or range(first + 1, end):
        if not _fits(piece, first, place):
            break
        later = tuple(one for one in fixed if one > place)
        rest = _broken(piece, place, end, lines - 1, later) if later else piece.broken(place, end, lines - 1)
        if rest is None:
            continue
        price = rest[0]
        if place not in fixed:
            uneven = (piece.width(first, place) - piece.width(place, rest[1][0])) / piece.room.line
            price += _LINE + _LINE_BINDING * piece.atoms[place - 1].binding + _UNEVEN * uneven**2
        if best is None or price < best[0]:
            best = price, (place, *rest[1])
    return best


def _fits(piece: Piece, first: int, end: int) -> bool:
    """Whether atoms fit one line; one alone always does."""
    if end - first == 1:
        return True
    room = piece.room
    return piece.letters(first, end) <= room.limits.line_characters and piece.width(first, end) <= room.line
