"""Words that a word list does not know, with what may be meant: names of the house first."""

from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass, field

from rapidfuzz import process
from rapidfuzz.distance import DamerauLevenshtein

from nimble_quote.core.captions.words import bare

_MOST = 4
_NEAR = 2
"""What may be meant differs by so many letters at most."""


@dataclass(frozen=True, kw_only=True)
class Misspelt:
    """A word that is not known: its place among those told, how it is written, and what may be meant, likeliest first."""

    place: int
    text: str
    meant: tuple[str, ...]


@dataclass(frozen=True)
class WordList:
    """The words of a language, in small letters."""

    words: Collection[str]
    _by_length: dict[int, list[str]] = field(default_factory=dict, compare=False, repr=False)

    def knows(self, word: str) -> bool:
        """Whether a word is spelt as the language does, in any case; words of parts are known by them."""
        small = word.lower().replace("’", "'")
        if small in self.words or small.removesuffix("'s") in self.words or small.removesuffix("'") in self.words:
            return True
        return "-" in small and all(part in self.words for part in small.split("-") if part)

    def near(self, word: str) -> list[str]:
        """Words that differ by a letter or two."""
        if not self._by_length:
            for one in self.words:
                self._by_length.setdefault(len(one), []).append(one)
        small = word.lower()
        alike = [one for long in range(len(small) - 1, len(small) + 2) for one in self._by_length.get(long, ())]
        found = process.extract(small, alike, scorer=DamerauLevenshtein.distance, limit=5 * _MOST, score_cutoff=_NEAR)
        # Of words that are as near, those of the same letters are likelier: letters are swapped more often than mistaken.
        letters = sorted(small)
        nearest = sorted(found, key=lambda one: (one[1], sorted(one[0]) != letters, one[0][:1] != small[:1]))
        return [_cased_as(word, one) for one, _, _ in nearest[:_MOST]]


def misspelt(texts: Sequence[str], listed: WordList, names: Iterable[str]) -> list[Misspelt]:
    """The words among some that are not known: neither by the list, nor as a name of the house or a part of one. What has figures, or
    is written in capitals, is left alone."""
    own = {part.lower(): part for name in names for part in name.split()}
    found = []
    for place, text in enumerate(texts):
        for token in text.split():
            word = bare(token)
            small = word.lower().removesuffix("'s")
            left_alone = not word.isascii() or any(one.isdigit() for one in word) or (word.isupper() and len(word) > 1)
            if len(word) < 2 or left_alone or small in own or listed.knows(word):
                continue
            near = [
                own[one]
                for one, _, _ in process.extract(
                    small, list(own), scorer=DamerauLevenshtein.distance, limit=2, score_cutoff=_NEAR
                )
            ]
            found.append(
                Misspelt(place=place, text=word, meant=tuple(dict.fromkeys([*near, *listed.near(word)]))[:_MOST])
            )
    return found


def _cased_as(word: str, other: str) -> str:
    return other.capitalize() if word[:1].isupper() else other
