"""The best set to offer: spans that don't overlap, no two much alike, spread over the talk, of the greatest summed gain,
which is what their merit has above the least that is offered.

A pool of the most promising spans is solved exactly, as an integer program (branch and cut); how far the best of *all*
spans could be above it is bounded by weighted interval scheduling, which leaves out likeness and spread:

    gain of the set  <=  gain of the best set there is  <=  bound
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.soundbites.facts import Numbers
from nimble_quote.core.soundbites.merits import Indices

MUCH_ALIKE = 0.3
"""Spans are not offered together where so much of the shorter one's wording is in the other: its pairs of telling words
that follow one another (containment of shingles, Broder 1997)."""
_POOL = 300
_EACH_START = 5
_MOST_ALIKE = 6_000
"""With more pairs of spans that are worded alike than this, no best set can be proven in time."""
_SECONDS = 20.0


@dataclass(frozen=True, kw_only=True)
class Chosen:
    """The places of the chosen spans, best first, what they add up to, and the bound that no set can pass."""

    indexes: tuple[int, ...]
    gain: float
    bound: float


def choose(
    first: Indices,
    last: Indices,
    merit: Numbers,
    count: int,
    pairs: Sequence[frozenset[tuple[str, str]]],
    topics: NDArray[np.int64],
    each_topic: int,
    least: float,
) -> Chosen:
    """At most `count` spans of the greatest summed gain, at most `each_topic` that begin in one topic.

    `pairs` and `topics` are for each sentence its pairs of words and the number of its topic. A span of no more merit than
    `least` adds nothing, so that a talk with little in it is offered little.
    """
    if not len(first) or count < 1:
        return Chosen(indexes=(), gain=0.0, bound=0.0)
    gain = np.maximum(0.0, merit - least)
    pool = _pool(first, last, gain, _POOL + 6 * count)
    wanted = _solved(first[pool], last[pool], gain[pool], count, pairs, topics, each_topic)
    indexes = pool[wanted]
    order = sorted(indexes.tolist(), key=lambda i: (-merit[i], first[i]))
    return Chosen(indexes=tuple(order), gain=float(gain[indexes].sum()), bound=upper_bound(first, last, gain, count))


def _pool(first: Indices, last: Indices, gain: Numbers, most: int) -> Indices:
    """The spans with the greatest gain, of those that begin with the same sentence only the best few."""
    order = np.lexsort((last, first, -gain))
    together = np.argsort(first[order], kind="stable")
    begins = first[order][together]
    rank = np.zeros(len(order), int)
    rank[together] = np.arange(len(order)) - np.searchsorted(begins, begins)
    return np.sort(order[(rank < _EACH_START) & (gain[order] > 0)][:most])


def _solved(
    first: Indices,
    last: Indices,
    gain: Numbers,
    count: int,
    pairs: Sequence[frozenset[tuple[str, str]]],
    topics: NDArray[np.int64],
    each_topic: int,
) -> NDArray[np.bool_]:
    size = len(first)
    if not size:
        return np.zeros(0, bool)
    rows: list[tuple[Sequence[int], float]] = [(range(size), float(count))]
    # Spans overlap where one of them begins inside the other: one constraint for each sentence that one begins with.
    rows += [(np.flatnonzero((first <= at) & (at <= last)).tolist(), 1.0) for at in np.unique(first).tolist()]
    much_alike = alike(first, last, pairs)
    if len(much_alike) > _MOST_ALIKE:
        return _one_by_one(first, last, gain, count, much_alike, topics[first], each_topic)
    rows += [(pair, 1.0) for pair in much_alike]
    begun = topics[first]
    rows += [(np.flatnonzero(begun == topic).tolist(), float(each_topic)) for topic in np.unique(begun).tolist()]
    # Loaded here: the solver takes as long to load as half of the server.
    from scipy.optimize import Bounds, LinearConstraint, milp
    from scipy.sparse import coo_array

    at_row = np.concatenate([np.full(len(members), i) for i, (members, _) in enumerate(rows)])
    members = np.concatenate([np.asarray(members, int) for members, _ in rows])
    matrix = coo_array((np.ones(len(members)), (at_row, members)), shape=(len(rows), size)).tocsr()
    # The earlier of two equal spans, so that the answer is the same on every machine.
    tie = (size - np.arange(size)) * 1e-9
    solved = milp(
        -(gain + tie),
        constraints=LinearConstraint(matrix, -np.inf, np.array([limit for _, limit in rows])),
        integrality=np.ones(size),
        bounds=Bounds(0, 1),
        options={"mip_rel_gap": 0.0, "time_limit": _SECONDS},
    )
    if solved.x is None:
        raise ArithmeticError(f"no best set was found: {solved.message}")
    return np.asarray(solved.x > 0.5)


def _one_by_one(
    first: Indices,
    last: Indices,
    gain: Numbers,
    count: int,
    much_alike: Sequence[Sequence[int]],
    begun: NDArray[np.int64],
    each_topic: int,
) -> NDArray[np.bool_]:
    """The best span, the best that goes with it, and so on: for a talk that says the same all over, where the best set
    can't be proven in time. How far it may be from it, the bound tells."""
    beside: dict[int, set[int]] = {}
    for a, b in much_alike:
        beside.setdefault(a, set()).add(b)
        beside.setdefault(b, set()).add(a)
    taken: list[int] = []
    for i in np.argsort(-gain, kind="stable").tolist():
        apart = all(last[i] < first[j] or last[j] < first[i] for j in taken)
        unlike = beside.get(i, set()).isdisjoint(taken)
        if len(taken) < count and apart and unlike and sum(begun[j] == begun[i] for j in taken) < each_topic:
            taken.append(i)
    return np.isin(np.arange(len(gain)), taken)


def alike(first: Indices, last: Indices, pairs: Sequence[frozenset[tuple[str, str]]]) -> list[list[int]]:
    """Pairs of spans that don't overlap and are worded much alike."""
    from scipy.sparse import csr_array

    numbers: dict[tuple[str, str], int] = {}
    known = [np.array([numbers.setdefault(pair, len(numbers)) for pair in one], int) for one in pairs]
    whole = [np.unique(np.concatenate(known[a : b + 1])) for a, b in zip(first, last, strict=True)]
    counts = np.array([len(one) for one in whole])
    ones = np.ones(int(counts.sum()), np.int32)
    has = csr_array((ones, np.concatenate(whole), np.concatenate([[0], np.cumsum(counts)])), (len(whole), len(numbers)))
    shared = (has @ has.T).toarray()
    apart = (last[:, None] < first) | (last < first[:, None])
    much = apart & (shared > 0) & (shared >= MUCH_ALIKE * np.minimum(counts[:, None], counts))
    return [[a, b] for a, b in np.argwhere(np.triu(much, 1)).tolist()]


def upper_bound(first: Indices, last: Indices, gain: Numbers, count: int) -> float:
    """The greatest summed gain of `count` spans that don't overlap (weighted interval scheduling, exact)."""
    if not len(first):
        return 0.0
    end = int(last.max()) + 1
    order = np.argsort(last, kind="stable")
    edges = np.searchsorted(last[order], np.arange(end + 1))
    best = np.zeros((end + 1, count + 1))
    for at in range(end):
        here = order[edges[at] : edges[at + 1]]
        row = best[at].copy()
        if len(here):
            taken = (best[first[here], :-1] + gain[here, None]).max(axis=0)
            row[1:] = np.maximum(row[1:], taken)
        best[at + 1] = np.maximum(row, np.concatenate([[0.0], row[:-1]]))
    return float(best[end, count])
