"""What judging speech knows of a language: its word lists, read from a data file, and finding them in a sentence.

To add a language: a file in `nimble_quote/languages/` with the same fields.
"""

import re
from collections.abc import Sequence
from functools import cached_property

from pydantic import Field

from nimble_quote.core.model import Frozen

Phrase = tuple[str, ...]


class Language(Frozen):
    """Word lists; each entry is one or more words in small letters, without punctuation."""

    code: str
    name: str
    fillers: tuple[str, ...] = ()
    """Said while thinking: they carry nothing."""
    repairs: tuple[str, ...] = ()
    """Said when the speaker starts again or takes something back."""
    courtesies: tuple[str, ...] = ()
    """Greetings, thanks and announcements: they carry nothing for somebody who was not there."""
    dangling: tuple[str, ...] = ()
    """An opening that hangs on what was said before."""
    connectives: tuple[str, ...] = ()
    """A first word that only joins."""
    pointing: dict[str, float] = Field(default_factory=dict)
    """A word near the opening that points at something said before: how well an opening with it stands, 0..1."""
    naming: tuple[str, ...] = ()
    """Those of them that may stand before what they mean."""
    replies: tuple[str, ...] = ()
    """A first word that answers somebody."""
    address: tuple[str, ...] = ()
    """Speaks to the listener."""
    contrast: tuple[str, ...] = ()
    """Sets one thing against another."""
    numbers: tuple[str, ...] = ()
    trailing: tuple[str, ...] = ()
    """An end that runs out instead of landing."""
    unfinished: tuple[str, ...] = ()
    """A last word after which more must come."""
    leading_on: tuple[str, ...] = ()
    """A word that hardly a sentence ends with, whatever follows it."""
    openers: tuple[str, ...] = ()
    """Words that sentences begin with, of those that stand in the middle of them more seldom."""
    word_kinds: dict[str, tuple[str, ...]] = Field(default_factory=dict)
    """Words by what they do in a sentence, for telling where one ends that no mark ends."""
    endings: tuple[str, ...] = ()
    """Endings that tell the kind of a word, the first that fits."""
    continuing: tuple[str, ...] = ()
    """The next sentence begins with it, so that the thought goes on."""
    plain: tuple[str, ...] = ()
    """Words of every talk, which are not what a topic is about."""
    negations: tuple[str, ...] = ()
    """Deny what they stand with."""
    thinking: tuple[str, ...] = ()
    """What follows them is thought or said: denied with them, it is denied itself."""
    conditions: tuple[str, ...] = ()
    """Begin what something hangs on."""
    hedges: tuple[str, ...] = ()
    """Say that the speaker is not certain."""
    approximations: tuple[str, ...] = ()
    """Say of the number that follows that it is not exact."""
    attributions: tuple[str, ...] = ()
    """Say whose words or opinion something is."""
    saying: tuple[str, ...] = ()
    """What somebody else is quoted with."""
    oneself: tuple[str, ...] = ()
    """Who says what is their own."""
    corrections: tuple[str, ...] = ()
    """Take back what was said just before, for what follows."""
    asides: tuple[str, ...] = ()
    """Begin something put in between commas that a sentence can do without."""
    clause_starts: tuple[str, ...] = ()
    """Begin another clause, also without a comma before them."""
    empty: tuple[str, ...] = ()
    """Say nothing by themselves: kept alone, nothing of a clause is kept."""
    doubled: tuple[str, ...] = ()
    """Said twice running on purpose."""
    general: tuple[str, ...] = ()
    """Says something of everybody, or of how things are."""
    reasons: tuple[str, ...] = ()
    story: tuple[str, ...] = ()
    """Tells what happened."""
    persons: tuple[str, ...] = ()
    feelings: tuple[str, ...] = ()
    surprise: tuple[str, ...] = ()
    """Says that something was otherwise than expected."""
    first_person: tuple[str, ...] = ()
    hesitations: tuple[str, ...] = ()
    """Said while thinking or turning to something else; more than the fillers, which can be cut."""
    screen: tuple[str, ...] = ()
    """Points at a screen or the room, or tells what is being done there."""
    errands: tuple[str, ...] = ()
    """Greets, thanks, announces, introduces, or calls to do something."""
    laughter: tuple[str, ...] = ()
    """What transcripts write, in brackets, for an audience that laughs or claps."""

    @cached_property
    def kinds(self) -> dict[str, str]:
        """The kind of each word that has one; of two, the one told first."""
        out: dict[str, str] = {}
        for kind, words in self.word_kinds.items():
            for word in words:
                out.setdefault(word, kind)
        return out

    @cached_property
    def _by_first(self) -> dict[str, dict[str, tuple[Phrase, ...]]]:
        """For each word list and first word, the entries that begin with it, the longest first."""
        return {name: _by_end(value, 0) for name, value in self if isinstance(value, tuple)}

    @cached_property
    def _by_last(self) -> dict[str, dict[str, tuple[Phrase, ...]]]:
        return {name: _by_end(value, -1) for name, value in self if isinstance(value, tuple)}

    @cached_property
    def _tallied(self) -> dict[tuple[str, ...], dict[str, list[tuple[Phrase, int]]]]:
        return {}

    def tally(self, words: Sequence[str], of: tuple[str, ...]) -> list[int]:
        """How often some words have entries of each of some word lists, all counted in one go; none of a list is counted
        inside another of it."""
        by_first = self._tallied.setdefault(of, {}) or self._indexed(of)
        counts, free = [0] * len(of), [0] * len(of)
        for at, word in enumerate(words):
            for entry, number in by_first.get(word, ()):
                if at >= free[number] and (len(entry) == 1 or tuple(words[at : at + len(entry)]) == entry):
                    counts[number] += 1
                    free[number] = at + len(entry)
        return counts

    def _indexed(self, of: tuple[str, ...]) -> dict[str, list[tuple[Phrase, int]]]:
        index = self._tallied[of]
        for number, name in enumerate(of):
            for word, entries in self._by_first[name].items():
                index.setdefault(word, []).extend((entry, number) for entry in entries)
        return index

    def may_open(self, word: str, of: str) -> bool:
        """Whether an entry of a word list begins with a word."""
        return word in self._by_first[of]

    def opening(self, words: Sequence[str], of: str) -> str | None:
        """The entry of a word list that some words begin with."""
        entries = self._by_first[of].get(words[0], ()) if words else ()
        return next((" ".join(one) for one in entries if tuple(words[: len(one)]) == one), None)

    def closing(self, words: Sequence[str], of: str) -> str | None:
        """The entry of a word list that some words end with."""
        entries = self._by_last[of].get(words[-1], ()) if words else ()
        return next((" ".join(one) for one in entries if tuple(words[-len(one) :]) == one), None)

    def within(self, words: Sequence[str], of: str) -> list[str]:
        """The entries of a word list in some words, in order, none counted twice."""
        found: list[str] = []
        at, first = 0, self._by_first[of]
        if first.keys().isdisjoint(words):
            return found
        while at < len(words):
            one = self.opening(words[at:], of) if words[at] in first else None
            if one is not None:
                found.append(one)
            at += len(one.split()) if one is not None else 1
        return found


_EDGES = re.compile(r"^\W+|\W+$")


def bare(word: str) -> str:
    """A word as the lists have it: in small letters, without punctuation."""
    return _EDGES.sub("", word).lower()


NO_LANGUAGE = Language(code="", name="")
"""For a talk whose language is not known: nothing is found in it."""


def _by_end(entries: Sequence[str], end: int) -> dict[str, tuple[Phrase, ...]]:
    out: dict[str, list[Phrase]] = {}
    for one in sorted((tuple(entry.split()) for entry in entries), key=len, reverse=True):
        out.setdefault(one[end], []).append(one)
    return {word: tuple(phrases) for word, phrases in out.items()}
