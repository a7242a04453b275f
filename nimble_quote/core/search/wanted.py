"""What the words of a search stand for, as the index knows words; and where in a talk they are.

The database makes lexemes (stems without accents) of words. A word of a talk may have several (one with a hyphen), or
none, when it is too common to be searched for.
"""

import itertools
from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace

from nimble_quote.core.search.query import Part

NEAR = 8
"""Words at most so far apart are near each other."""

Lexemes = Sequence[Collection[str]]
"""For each word of a text, its lexemes."""


@dataclass(frozen=True, kw_only=True)
class Slot:
    """One word that is searched for: the lexemes that answer. `common`: any word does."""

    lexemes: frozenset[str] = frozenset()
    common: bool = False


@dataclass(frozen=True, kw_only=True)
class Wanted:
    """A part of a search with its slots. `weight` is its rarity: a rarer part says more."""

    part: Part
    slots: tuple[Slot, ...]
    weight: float = 1.0

    @property
    def told(self) -> tuple[Slot, ...]:
        """The slots that are not too common to be searched for."""
        return tuple(slot for slot in self.slots if not slot.common)


def condition(wanted: Sequence[Wanted], without: Sequence[Wanted], every: bool) -> str | None:
    """The search as the text of a `tsquery`; None where nothing can answer.

    `every`: a text must answer every part, not just one of them.
    """
    parts = [_one(part) for part in wanted if part.told]
    known = [part for part in parts if part]
    if not known or (every and len(known) < len(parts)):
        return None
    asked = (" & " if every else " | ").join(f"({part})" for part in known)
    left_out = [told for part in without if part.told and (told := _one(part))]
    return " & ".join([f"({asked})", *(f"!({told})" for told in left_out)])


def _one(wanted: Wanted) -> str | None:
    if not all(slot.lexemes for slot in wanted.told):
        return None
    if wanted.part.kind == "near":
        # A stretch has both; how near they are is for the marks to say, and closer ones are ranked first.
        return " & ".join(_any(slot) for slot in wanted.told)
    text, gap = "", 1
    for slot in wanted.slots:
        if slot.common:
            gap += 1
            continue
        text = f"{text} <{gap}> {_any(slot)}" if text else _any(slot)
        gap = 1
    return text


def _any(slot: Slot) -> str:
    quoted = ("'" + lexeme.replace("\\", "\\\\").replace("'", "''") + "'" for lexeme in sorted(slot.lexemes))
    return f"({' | '.join(quoted)})"


def marks(text: Lexemes, wanted: Wanted) -> list[tuple[int, int]]:
    """The half-open ranges of words that answer a part, in order."""
    if not wanted.told:
        return []
    if wanted.part.kind == "near":
        return _marks_near(text, wanted.told)
    wide = len(wanted.slots)
    sure = next(i for i, slot in enumerate(wanted.slots) if not slot.common)
    starts = (i - sure for i, word in enumerate(text) if word and _answers(word, wanted.slots[sure]))
    return [
        (at, at + wide)
        for at in starts
        if 0 <= at <= len(text) - wide and all(_answers(text[at + i], slot) for i, slot in enumerate(wanted.slots))
    ]


def all_but_one(phrase: Wanted) -> list[Wanted]:
    """A phrase with each of its words in turn left open: any word may stand there."""
    return [
        replace(phrase, slots=(*phrase.slots[:at], Slot(common=True), *phrase.slots[at + 1 :]))
        for at, slot in enumerate(phrase.slots)
        if not slot.common
    ]


def _answers(word: Collection[str], slot: Slot) -> bool:
    return slot.common or not slot.lexemes.isdisjoint(word)


def _marks_near(text: Lexemes, slots: Sequence[Slot]) -> list[tuple[int, int]]:
    places = [[i for i, word in enumerate(text) if word and _answers(word, slot)] for slot in slots]
    found: set[int] = set()
    for here, there in itertools.pairwise(places):
        for a in here:
            found.update(i for b in there if 0 < abs(a - b) <= NEAR for i in (a, b))
    return [(i, i + 1) for i in sorted(found)]


def merged_marks(ranges: Sequence[tuple[int, int]]) -> list[tuple[int, int]]:
    """Ranges of words in order, those that overlap made one."""
    out: list[tuple[int, int]] = []
    for start, end in sorted(set(ranges)):
        if out and start < out[-1][1]:
            out[-1] = out[-1][0], max(end, out[-1][1])
        else:
            out.append((start, end))
    return out
