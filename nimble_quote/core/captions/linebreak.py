"""How the words of one cue break into lines: even, and at a comma rather than before a small word's partner."""

from collections.abc import Sequence
from functools import lru_cache

_LEANS_FORWARD = frozenset(
    "a an the and or but of to in on at for with from by as if that my your his her its our their i when while where which who because than is was are were".split()
)


def width(words: Sequence[str]) -> int:
    """Characters a run of words takes on a line."""
    return sum(len(word) for word in words) + max(0, len(words) - 1)


def break_lines(words: Sequence[str], line_characters: int, lines: int) -> tuple[int, ...] | None:
    """Where each line ends (word counts, the last is `len(words)`), or None where the words don't fit.

    Fewest lines first, then the least unevenness: the sum of squares of what each line leaves empty, plus a price
    for ending a line on a word that leans on the next ("the", "of"), less one for ending at punctuation. A single
    word longer than a line stands alone on it: cutting inside words is worse than a wide line.
    """
    for count in range(1, lines + 1):
        found = _best(tuple(words), line_characters, count)
        if found is not None:
            return found[1]
    return None


@lru_cache(maxsize=50_000)
def _best(words: tuple[str, ...], line_characters: int, lines: int) -> tuple[float, tuple[int, ...]] | None:
    if lines == 1:
        if width(words) <= line_characters or len(words) == 1:
            return (line_characters - width(words)) ** 2, (len(words),)
        return None
    best: tuple[float, tuple[int, ...]] | None = None
    for first in range(1, len(words)):
        if width(words[:first]) > line_characters and first > 1:
            break
        rest = _best(words[first:], line_characters, lines - 1)
        if rest is None:
            continue
        price = (line_characters - width(words[:first])) ** 2 + _end_price(words[first - 1]) + rest[0]
        if best is None or price < best[0]:
            best = price, (first, *(first + end for end in rest[1]))
    return best


def _end_price(word: str) -> float:
    if word[-1:] in ",.;:?!…":
        return -30
    return 40 if word.lower() in _LEANS_FORWARD else 0
