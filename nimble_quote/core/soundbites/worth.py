"""How much there is in each sentence that somebody who was not there would want to hear, by the words around it.

Signs are counted in each sentence with its neighbours: words of general claims, of what happened, of people, of feelings;
against them words that hesitate, point at a screen or run errands (greetings, announcements, calls to action). What each
counts is learned from judged talks.
"""

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.language import Language
from nimble_quote.core.model import Frozen

Numbers = NDArray[np.float64]

LISTS = (
    "general", "contrast", "reasons", "story", "persons", "feelings", "surprise", "address", "first_person",
    "hesitations", "screen", "errands",
)  # fmt: skip
"""Word lists of a language whose share of the words is a sign."""
SIGNS = (*LISTS, "questions", "length", "turns")
"""Signs of a sentence; the last three are the share of questions, the logarithm of its words, and turns of speakers."""
BESIDE = 2
"""So many sentences before and after one are counted with it."""


class WorthModel(Frozen):
    """What each sign counts, in standard deviations from its mean."""

    weights: Mapping[str, float]
    means: Mapping[str, float]
    spreads: Mapping[str, float]
    bias: float

    def parts(self, signs: Numbers, language: Language) -> Numbers:
        """What each sign adds to the log odds that a sentence is worth posting: a row a sentence, a column for each of
        `SIGNS`. A sign whose list a language does not have adds nothing."""
        weights, means, spreads = (
            np.array([kind[name] for name in SIGNS]) for kind in (self.weights, self.means, self.spreads)
        )
        known = np.array([name not in LISTS or bool(getattr(language, name)) for name in SIGNS])
        return np.asarray(weights * (signs - means) / spreads * known)


def signs_of(
    words: Sequence[Sequence[str]], questions: Sequence[bool], turns: Sequence[bool], language: Language
) -> Numbers:
    """The signs of sentences: a row for each, a column for each of `SIGNS`.

    `words` are bare; `questions` and `turns` tell whether each is a question and begins with another speaker.
    """
    sizes = np.array([len(one) for one in words], float)
    counts = np.array([language.tally(one, LISTS) for one in words], float).reshape(len(words), len(LISTS))
    around = _around(sizes)
    rates = np.sqrt(_around(counts) / np.maximum(1, around)[:, None])
    asked = _around(np.array(questions, float)) / (2 * BESIDE + 1)
    turned = _around(np.array(turns, float))
    return np.column_stack([rates, asked, np.log(np.maximum(1, sizes)), turned])


def _around(values: Numbers) -> Numbers:
    """The sum of each row and those beside it."""
    running = np.concatenate([np.zeros((1, *values.shape[1:])), np.cumsum(values, axis=0)])
    at = np.arange(len(values))
    return np.asarray(running[np.minimum(len(values), at + BESIDE + 1)] - running[np.maximum(0, at - BESIDE)])
