"""Where sentences end in words without marks, by their wording alone.

A logistic model over each gap between two words: which words and kinds of words stand around it, how far the next verb is,
and how much likelier a model of the language finds the words as two sentences than as one (hidden event language model,
Stolcke and Shriberg, *Automatic linguistic segmentation of conversational speech*, 1996).
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.language import Language
from nimble_quote.core.model import Frozen

Numbers = NDArray[np.float64]
Likelihoods = Callable[[Sequence[str]], Numbers]
"""For each gap between some words, a row of how likely they are with and without an end there; see `LIKELIHOODS`."""
LIKELIHOODS = 7
"""Natural logarithms: end against going on, in all; of the end after the word before; of the next word and the one after it,
as first words against as words that go on; of the end against the next word; of the end after the word before alone; of the
next word as a first one."""

TEMPLATES = (
    "w-1", "w+0", "w-2", "w+1", "w-2 w-1", "w+0 w+1", "w-1 w+0", "w+0 w+1 w+2", "s-1", "t-1", "t+0", "t-1 t+0", "t-2 t-1",
    "t+0 t+1", "t-2 t-1 t+0", "t-1 t+0 t+1", "t+0 t+1 t+2", "t-3 t-2 t-1", "t-2 t-1 t+0 t+1", "t-1 w+0", "w-1 t+0",
    "t-1 w+0 t+1", "w+0 t+1 t+2", "t-2 w-1", "w+0 w+1 t+2", "b+0", "a+0", "a+0 t+0", "b+0 a+0",
)  # fmt: skip
"""What is looked at around a gap: words (`w`), their kinds (`t`), last letters (`s`), how many words back (`b`) and ahead
(`a`) the nearest verb is; +0 is the word after the gap."""
_REACH, _BACK, _AHEAD = 4, 8, 6
_VERBS = frozenset({"be", "auxiliary", "past", "verb", "shortened", "-ed"})
_NONE = "^"


class EndModel(Frozen):
    """What was learned of a language from talks with marks: `tests/judged/learn_ends.py` fits it."""

    language: str
    threshold: float
    """The log odds above which most is right that is called an end, and most ends are."""
    means: tuple[float, ...]
    spreads: tuple[float, ...]
    likelihoods: tuple[float, ...]
    """What the likelihoods count: straight, squared, and where they are above their mean."""
    signs: Mapping[str, float]
    figures: Mapping[str, float]
    """How well it did on talks that it was not learned from."""

    @cached_property
    def _rows(self) -> tuple[Numbers, Numbers, Numbers]:
        return np.array(self.means), np.array(self.spreads), np.array(self.likelihoods)

    def odds(self, words: Sequence[str], language: Language, likelihoods: Likelihoods) -> Numbers:
        """For each gap between some bare words, the log odds that a sentence ends there, less the threshold: an end is
        where they are over 0."""
        if len(words) < 2:
            return np.zeros(0)
        means, spreads, weights = self._rows
        by_likelihood = shaped((likelihoods(words) - means) / spreads) @ weights
        by_signs = [sum(self.signs.get(sign, 0.0) for sign in signs) for signs in signs_of(words, language)]
        return np.asarray(by_likelihood + np.array(by_signs) - self.threshold)


def shaped(rows: Numbers) -> Numbers:
    """Likelihoods in standard deviations, as the model takes them: straight, squared within bounds, and above the mean."""
    return np.concatenate([rows, np.clip(rows, -1.5, 1.5) ** 2, np.maximum(rows, 0)], axis=1)


def signs_of(words: Sequence[str], language: Language) -> Iterator[list[str]]:
    """What is seen around each gap between some bare words, a text for each template."""
    kinds = [kind_of(word, language) for word in words]
    edge = [_NONE] * _REACH
    columns = {
        "w": [*edge, *words, *edge],
        "t": [*edge, *kinds, *edge],
        "s": [*edge, *(word[-3:] for word in words), *edge],
        "b": [*edge, *_since_verb(kinds), *edge],
        "a": [*edge, *_to_verb(kinds), *edge],
    }
    looked = [
        (template, [(columns[part[0]], int(part[1:]) + _REACH) for part in template.split()]) for template in TEMPLATES
    ]
    for gap in range(1, len(words)):
        yield [f"{name}={' '.join([column[gap + shift] for column, shift in parts])}" for name, parts in looked]


def kind_of(word: str, language: Language) -> str:
    """The kind of a word: that of the language's lists, else told from its ending."""
    known = language.kinds.get(word)
    if known is not None:
        return known
    if any(letter.isdigit() for letter in word):
        return "number"
    return next((ending for ending in language.endings if word.endswith(ending.lstrip("-")) and len(word) > 3), "other")


def _since_verb(kinds: Sequence[str]) -> list[str]:
    """For each word, how many words before it the nearest verb is."""
    out, since = [], _BACK + 1
    for kind in kinds:
        out.append(str(min(since, _BACK + 1)))
        since = 1 if kind in _VERBS else since + 1
    return out


def _to_verb(kinds: Sequence[str]) -> list[str]:
    """For each word, how many words after it the nearest verb is; 0 for a verb."""
    out, ahead = [], _AHEAD
    for kind in reversed(kinds):
        ahead = 0 if kind in _VERBS else min(_AHEAD, ahead + 1)
        out.append(str(ahead))
    return out[::-1]
