"""Which words make a cue, and how they break into lines: the cheapest way there is, found exactly by dynamic programming.

Every cue keeps the limits on lines, width, characters and longest time; what can't (a single word too wide, words that a
person has in one cue) stands alone. Among the ways that do, the sum of prices is least:

    a cue           0.8, and 1.5 x how closely its last word binds to the next (`binding.py`)
    a line break    0.18, 1.2 x how closely, and 0.9 x the square of how uneven the two lines are
    a sentence's end inside a cue   1.1
    over too fast to be read, or over at once   more, the faster
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
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


class Division(NamedTuple):
    """A cue: its atoms `first` up to before `end`, and where its lines end."""

    first: int
    end: int
    line_ends: tuple[int, ...]


@dataclass(frozen=True, kw_only=True)
class Room:
    """What a cue may take: the limits of the style, and the width of a line in font sizes."""

    limits: Limits
    line: float


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
    most = most or room.limits.lines
    found = _broken(atoms, 0, len(atoms), room, most, ()) if most <= _MOST_EXACT_LINES else None
    if found is not None:
        return found[1]
    ends: list[int] = []
    first = 0
    for place in range(1, len(atoms)):
        if len(ends) < most - 1 and not _fits(atoms, first, place + 1, room):
            ends.append(place)
            first = place
    return (*ends, len(atoms))


def _parted(atom: Atom, following: Atom) -> bool:
    """Whether two atoms are in different cues whatever it costs: so that a talk is divided piece by piece."""
    return atom.fixed == "cue" or (not atom.fixed and following.start_ms - atom.end_ms >= LONG_PAUSE_MS)


@lru_cache(maxsize=4000)
def _cheapest(atoms: tuple[Atom, ...], room: Room, next_ms: float | None) -> tuple[Division, ...]:
    """The cheapest division of atoms, after which something is said from a moment on."""
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
            lines = _lines(atoms, first, end, room)
            if lines is None:
                if found is None:
                    # What a person has in one cue stands alone where it is too much for one.
                    lines = 0.0, _as_many_lines(atoms, first, end, room)
                elif _too_much(atoms, first, end, room):
                    break
                else:
                    continue
            price = best[first][0] + after + inside + lines[0] + _hurry(atoms[first:end], following, room.limits)
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


def _as_many_lines(atoms: Sequence[Atom], first: int, end: int, room: Room) -> tuple[int, ...]:
    """Where lines end, of which there are as many as it takes; also where a person broke them."""
    fixed = [place for place in range(first + 1, end) if atoms[place - 1].fixed == "line"]
    return tuple(
        place + a for a, b in pairwise((first, *fixed, end)) for place in line_ends(atoms[a:b], room, most=b - a)
    )


def _too_much(atoms: Sequence[Atom], first: int, end: int, room: Room) -> bool:
    """Whether so many atoms never make a cue, and more of them neither."""
    limits = room.limits
    width = sum(one.width for one in atoms[first:end])
    return (
        atoms[end - 1].end_ms - atoms[first].start_ms > limits.longest_ms
        or width > room.line * limits.lines
        or sum(one.characters for one in atoms[first:end]) > limits.line_characters * limits.lines
    )


def _inside(atom: Atom, following: Atom) -> float:
    """What it costs to have two atoms in one cue."""
    price = _SENTENCE_INSIDE if atom.binding <= _ENDS_SENTENCE else 0.0
    pause = following.start_ms - atom.end_ms
    return price + _JOIN_INSIDE * following.after_join + _PAUSE_INSIDE * max(0.0, pause / LONG_PAUSE_MS - 0.35)


def _hurry(atoms: Sequence[Atom], following_ms: float | None, limits: Limits) -> float:
    """What it costs to be over too fast to be read, or over at once."""
    if following_ms is None:
        return 0.0
    shown = max(1.0, min(following_ms - atoms[0].start_ms, limits.longest_ms))
    letters = sum(one.characters + (one.space > 0) for one in atoms) - 1
    needed = letters * 1000 / limits.fastest_cps
    price = _TOO_FAST * (needed / shown - 1) if needed > shown else 0.0
    if shown < limits.shortest_ms:
        price += _TOO_SHORT + _SHORTER * (1 - shown / limits.shortest_ms)
    return price


def _lines(atoms: Sequence[Atom], first: int, end: int, room: Room) -> tuple[float, tuple[int, ...]] | None:
    """What the cheapest way costs to break atoms into the lines of one cue, and where each ends; None where they don't fit."""
    limits = room.limits
    if end - first == 1:
        return 0.0, (end,)
    if atoms[end - 1].end_ms - atoms[first].start_ms > limits.longest_ms:
        return None
    fixed = [place for place in range(first + 1, end) if atoms[place - 1].fixed == "line"]
    if len(fixed) >= limits.lines:
        return None
    if not fixed and _fits(atoms, first, end, room):
        return 0.0, (end,)
    return _broken(atoms, first, end, room, limits.lines, tuple(fixed))


def _broken(
    atoms: Sequence[Atom], first: int, end: int, room: Room, lines: int, fixed: tuple[int, ...]
) -> tuple[float, tuple[int, ...]] | None:
    """The cheapest way to break atoms into at most so many lines, with breaks where a person put them and, if they put any,
    nowhere else that is not needed."""
    if not fixed and _fits(atoms, first, end, room):
        return 0.0, (end,)
    if lines <= 1:
        return None
    best: tuple[float, tuple[int, ...]] | None = None
    for place in fixed[:1] or range(first + 1, end):
        if not _fits(atoms, first, place, room):
            break
        rest = _broken(atoms, place, end, room, lines - 1, tuple(one for one in fixed if one > place))
        if rest is None:
            continue
        price = rest[0]
        if place not in fixed:
            uneven = (_width(atoms, first, place) - _width(atoms, place, rest[1][0])) / room.line
            price += _LINE + _LINE_BINDING * atoms[place - 1].binding + _UNEVEN * uneven**2
        if best is None or price < best[0]:
            best = price, (place, *rest[1])
    return best


def _fits(atoms: Sequence[Atom], first: int, end: int, room: Room) -> bool:
    """Whether atoms fit one line; one alone always does."""
    if end - first == 1:
        return True
    letters = sum(one.characters for one in atoms[first:end]) + sum(1 for one in atoms[first + 1 : end] if one.space)
    return letters <= room.limits.line_characters and _width(atoms, first, end) <= room.line


def _width(atoms: Sequence[Atom], first: int, end: int) -> float:
    return sum(one.width + one.space for one in atoms[first:end]) - atoms[first].space
