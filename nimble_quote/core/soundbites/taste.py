"""A house's own taste: how its choices of soundbites re-weight the features.

    log odds that a house keeps a span = CALM * (bias + sum of counts_f * (value_f - mean_f)),   counts_f = prior_f * exp(u_f)

The `u` are those that make the choices most likely, each drawn back to 0 (the weights that ship) by a normal prior, so
that few choices change little (maximum a posteriori estimate of a logistic model).
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from nimble_quote.core.soundbites.facts import Numbers
from nimble_quote.core.soundbites.merits import FEATURES, Weights

Verdict = Literal["kept", "parked", "unlike"]

CALM = 0.5
"""A choice tells less than a passage that was judged: people keep and park for many reasons."""
_SPREAD = 0.6
_STEPS = 300
_SURE: dict[Verdict, tuple[float, float]] = {"kept": (1.0, 1.0), "parked": (0.0, 0.5), "unlike": (0.0, 1.0)}
"""What each verdict says a span should be, and how much it counts: to park is to say less than "not this kind"."""


@dataclass(frozen=True, kw_only=True)
class Choice:
    """A span that a house kept, parked or did not like, and how its features were."""

    verdict: Verdict
    features: Mapping[str, float]


@dataclass(frozen=True, kw_only=True)
class Shift:
    """A feature that counts `times` as much for this house as it did when it began."""

    feature: str
    times: float


def learned(prior: Weights, choices: Sequence[Choice]) -> Weights:
    """The weights of a house that made some choices; those that ship where it made none."""
    if not choices:
        return prior
    # A feature that was not judged when the choice was made says nothing.
    rows = (
        np.array([[one.features.get(name, prior.means[name]) for name in FEATURES] for one in choices]) - prior.middle
    )
    goal, sure = np.array([_SURE[one.verdict] for one in choices]).T
    shift = np.zeros(len(FEATURES))
    for _ in range(_STEPS):
        shift += _slope(prior, shift, rows, goal, sure) / _steepest(prior, shift, rows, sure)
    return prior.counting(prior.row * np.exp(shift))


def _slope(prior: Weights, shift: Numbers, rows: Numbers, goal: Numbers, sure: Numbers) -> Numbers:
    """The gradient of the log posterior by the shifts; `rows` are the features, each less its mean."""
    counts = CALM * prior.row * np.exp(shift)
    missed = sure * (goal - 1 / (1 + np.exp(-(CALM * prior.bias + rows @ counts))))
    return np.asarray((missed @ rows) * counts - shift / _SPREAD**2)


def _steepest(prior: Weights, shift: Numbers, rows: Numbers, sure: Numbers) -> float:
    """A bound of how fast the slope turns, so that a step never passes the top."""
    reach = CALM * rows * (prior.row * np.exp(shift))
    return float(1 / _SPREAD**2 + 0.25 * (sure * (reach**2).sum(axis=1)).sum() + np.abs(reach).sum(axis=0).max())


def shifts(prior: Weights, now: Weights) -> tuple[Shift, ...]:
    """How much more or less each feature counts, the most changed first; one that counts nothing has not changed."""
    told = [
        Shift(feature=name, times=round(float(is_ / was), 2))
        for name, was, is_ in zip(FEATURES, prior.row, now.row, strict=True)
        if was
    ]
    return tuple(sorted(told, key=lambda one: -abs(np.log(max(0.01, one.times)))))
