"""How likely words follow one another in English, by the trigrams that ship with PocketSphinx."""

import logging
from collections.abc import Sequence
from functools import cache, lru_cache, partial
from pathlib import Path
from typing import Any

import numpy as np

from nimble_quote.core.transcript.ends import LIKELIHOODS, Numbers
from nimble_quote.core.transcript.sentences import EndOdds
from nimble_quote.formats.languages import end_model, language

_BASE = 1e-4
"""Its likelihoods are logarithms to the base 1.0001: so much of a natural one."""
_LEAST = -30.0


@cache
def _trigrams() -> Any:
    from pocketsphinx import Config, LogMath, NGramModel, get_model_path

    logging.getLogger("pocketsphinx").setLevel(logging.CRITICAL)
    return NGramModel(Config(loglevel="FATAL"), LogMath(), str(Path(get_model_path()) / "en-us" / "en-us.lm.bin"))


@lru_cache(maxsize=100_000)
def _likely(*newest_first: str) -> float:
    """The natural logarithm of how likely a word is after those before it, which come behind it."""
    return max(_LEAST, float(_trigrams().prob(list(newest_first))) * _BASE)


def english_likelihoods(words: Sequence[str]) -> Numbers:
    """For each gap between some bare words the row that `core/transcript/ends.py` tells."""
    rows = np.zeros((max(0, len(words) - 1), LIKELIHOODS))
    padded = ["<s>", *words, "</s>"]
    for gap in range(1, len(words)):
        two_back, back, ahead, two_ahead = padded[gap - 1 : gap + 3]
        end = _likely("</s>", back, two_back)
        first = _likely(ahead, "<s>")
        first_gain = first - _likely(ahead, back, two_back)
        second_gain = _likely(two_ahead, ahead, "<s>") - _likely(two_ahead, ahead, back)
        on = first - first_gain
        rows[gap - 1] = (
            end + first_gain + second_gain, end, first_gain, second_gain, end - on, _likely("</s>", back), first,
        )  # fmt: skip
    return rows


def ends_by_wording(code: str) -> EndOdds | None:
    """What tells the ends of sentences by their wording in a language; None where it was not learned."""
    model = end_model(code)
    if model is None:
        return None
    return partial(model.odds, language=language(code), likelihoods=english_likelihoods)
