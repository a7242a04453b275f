"""Logistic regression, drawn towards no effect: weights that make what is known most likely."""

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import minimize
from scipy.sparse import csr_matrix

Numbers = NDArray[np.float64]


def fitted(
    rows: csr_matrix | Numbers,
    goal: Numbers,
    drawn: Numbers,
    sure: Numbers | None = None,
    toward: Numbers | None = None,
) -> Numbers:
    """The weights of the columns of `rows` for a goal of 0 or 1 each. `drawn` tells for each column how strongly it is
    drawn to `toward`, or to 0 (the precision of a normal prior), `sure` how much each row counts."""
    counts = np.ones(len(goal)) if sure is None else sure
    middle = np.zeros(rows.shape[1]) if toward is None else toward

    def loss(weights: Numbers) -> tuple[float, Numbers]:
        odds = rows @ weights
        off = counts * (1 / (1 + np.exp(-odds)) - goal)
        value = (counts * (np.logaddexp(0, odds) - goal * odds)).sum() + 0.5 * drawn @ (weights - middle) ** 2
        return float(value), rows.T @ off + drawn * (weights - middle)

    found = minimize(loss, middle, jac=True, method="L-BFGS-B", options={"maxiter": 500})
    return np.asarray(found.x)


def area_under_curve(odds: Numbers, goal: Numbers) -> float:
    """How likely what is 1 has greater odds than what is 0 (area under the ROC curve), ties counting half."""
    ones, zeros = np.sort(odds[goal == 1]), np.sort(odds[goal == 0])
    below = np.searchsorted(zeros, ones, "left").sum()
    same = (np.searchsorted(zeros, ones, "right") - np.searchsorted(zeros, ones, "left")).sum()
    return float((below + same / 2) / (len(ones) * len(zeros)))


def f1(called: NDArray[np.bool_], goal: Numbers) -> float:
    """The harmonic mean of how much of what is called is right, and how much of what is right is called."""
    return float(2 * (called & (goal == 1)).sum() / max(1, called.sum() + goal.sum()))
