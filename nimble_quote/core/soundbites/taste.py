"""A house's own taste: how its choices of soundbites re-weight the features.

    P(a house keeps a span) = sigmoid(SHARPNESS * (merit(span, weights) - LEVEL)),   weight_f = prior_f * exp(u_f)

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

SHARPNESS = 10.0
LEVEL = 0.6
_SPREAD = 0.6
_STEPS = 300
_RATE = 0.05
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
    rows = np.array([[one.features.get(name, 0.5) for name in FEATURES] for one in choices])
    goal, sure = np.array([_SURE[one.verdict] for one in choices]).T
    shift = np.zeros(len(FEATURES))
    for _ in range(_STEPS):
        shift += _RATE * _slope(prior.row, shift, rows, goal, sure)
    return Weights(**dict(zip(FEATURES, np.round(prior.row * np.exp(shift), 4).tolist(), strict=True)))


def _slope(prior: Numbers, shift: Numbers, rows: Numbers, goal: Numbers, sure: Numbers) -> Numbers:
    """The gradient of the log posterior by the shifts."""
    weights = prior * np.exp(shift)
    share = weights / weights.sum()
    merit = rows @ share
    missed = sure * (goal - 1 / (1 + np.exp(-SHARPNESS * (merit - LEVEL))))
    by_shift = share * (rows - merit[:, None])
    return np.asarray(SHARPNESS * missed @ by_shift - shift / _SPREAD**2)


def shifts(prior: Weights, now: Weights) -> tuple[Shift, ...]:
    """How the share of each feature has changed, the most changed first."""
    change = (now.row / now.row.sum()) / (prior.row / prior.row.sum())
    told = [Shift(feature=name, times=round(float(times), 2)) for name, times in zip(FEATURES, change, strict=True)]
    return tuple(sorted(told, key=lambda one: -abs(np.log(one.times))))
