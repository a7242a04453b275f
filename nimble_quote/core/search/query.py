"""A search as typed, and the words of a sentence that answer it.

Words are compared by their stems, which the database makes (`Stems`: for each token of a text, in order, its stem, or
None for a word too common to search for), so that the marks agree with what its index found.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass

Stems = Sequence[str | None]

LONGEST = 200
_PARTS = re.compile(r'"([^"]*)"?|(\S+)')


@dataclass(frozen=True, kw_only=True)
class Query:
    """A search: phrases, whose words stand together, and single words; a sentence answers with all of them."""

    phrases: tuple[str, ...] = ()
    words: tuple[str, ...] = ()

    @property
    def parts(self) -> tuple[str, ...]:
        return self.phrases + self.words


def plain_search(typed: str) -> str:
    """A search as the database can take it: cut to length, its quotation marks straight, without NUL characters."""
    return typed[:LONGEST].replace("\x00", " ").replace("“", '"').replace("”", '"')


def read_query(typed: str) -> Query:
    """Reads a search as typed: words, and phrases in double quotes, without those after a minus.

    Never fails; a quote left open runs to the end.
    """
    phrases, words = [], []
    for phrase, word in _PARTS.findall(plain_search(typed)):
        if phrase.strip():
            phrases.append(phrase.strip())
        elif any(c.isalnum() for c in word) and not word.startswith("-"):
            words.append(word)
    return Query(phrases=tuple(phrases), words=tuple(words))


def marks(sentence: Stems, parts: Sequence[Stems]) -> list[tuple[int, int]]:
    """The half-open ranges of words in a sentence that answer the parts of a query, in order and merged.

    A word too common to be searched for matches any word in its place, as the database's phrase search does.
    """
    found: list[tuple[int, int]] = []
    for part in parts:
        if not any(part):
            continue
        for start in range(len(sentence) - len(part) + 1):
            here = sentence[start : start + len(part)]
            if all(wanted is None or wanted == stem for wanted, stem in zip(part, here, strict=True)):
                found.append((start, start + len(part)))
    merged: list[tuple[int, int]] = []
    for start, end in sorted(set(found)):
        if merged and start < merged[-1][1]:
            merged[-1] = merged[-1][0], max(end, merged[-1][1])
        else:
            merged.append((start, end))
    return merged
