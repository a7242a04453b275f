"""A balanced week of posts out of the quotes there are.

An integer program chooses for each post a quote and a destination that it fits:

    most      for each post  1 + merit + PICKED if it was picked + FITS * how near its length is to the destination's best
                             - LATELY if its talk was posted lately
            + for each talk, speaker, topic, band of lengths that is in the week at all: what its variety is worth
            - UNEVEN for each post that a destination has over its even share
    such that a quote is posted once, and there are at most as many posts as asked for.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import ceil

import numpy as np

from nimble_quote.core.destinations import Destination, seconds
from nimble_quote.core.soundbites.merits import fitting

PICKED = 0.5
FITS = 0.3
LATELY = 0.4
UNEVEN = 0.45
VARIETY = {"talk": 0.35, "speaker": 0.25, "topic": 0.2, "length": 0.15}
_BANDS_MS = (20_000, 40_000)
_OFFERED = 6


@dataclass(frozen=True, kw_only=True)
class Candidate:
    """A quote that may be posted."""

    quote: int
    title: str
    talk: int
    talk_title: str
    topic: int
    speaker: str
    """Empty where nobody told."""
    length_ms: int
    merit: float
    picked: bool
    posted_lately: bool
    """Whether something from its talk was posted lately."""

    @property
    def band(self) -> int:
        """0 short, 1 middling, 2 long."""
        return sum(self.length_ms >= edge for edge in _BANDS_MS)


@dataclass(frozen=True, kw_only=True)
class Post:
    """A quote and where it is posted, why, and the quotes it could be swapped for, the best first."""

    quote: int
    destination: str
    reason: str
    instead: tuple[int, ...]


_GROUPS: dict[str, Callable[[Candidate], object]] = {
    "talk": lambda one: one.talk,
    "speaker": lambda one: one.speaker,
    "topic": lambda one: (one.talk, one.topic),
    "length": lambda one: one.band,
}

Pair = tuple[Candidate, Destination]


def suggest_week(candidates: Sequence[Candidate], posts: int, destinations: Sequence[Destination]) -> tuple[Post, ...]:
    """At most `posts` posts, in the order of their quotes' merit; fewer where not enough quotes fit."""
    pairs = [(one, to) for one in candidates for to in destinations if one.length_ms <= to.limit_ms]
    if not pairs or posts < 1:
        return ()
    chosen = sorted(_solved(pairs, posts, destinations), key=lambda pair: (-pair[0].merit, pair[0].quote))
    return tuple(
        Post(
            quote=one.quote,
            destination=to.id,
            reason=reason(one, [other for other, _ in chosen], candidates),
            instead=_instead(chosen, index, candidates, posts, destinations),
        )
        for index, (one, to) in enumerate(chosen)
    )


def worth(week: Sequence[Pair], posts: int, destinations: Sequence[Destination]) -> float:
    """What a week is worth: the sum that the best week makes the greatest."""
    value = sum(_gain(pair) for pair in week)
    for name, of in _GROUPS.items():
        value += VARIETY[name] * len({of(one) for one, _ in week})
    for to in destinations:
        value -= UNEVEN * max(0, sum(other.id == to.id for _, other in week) - _share(posts, destinations))
    return value


def _gain(pair: Pair) -> float:
    one, to = pair
    near = float(fitting(np.array([float(one.length_ms)]), [to])[0])
    return 1 + one.merit + PICKED * one.picked + FITS * near - LATELY * one.posted_lately


def _share(posts: int, destinations: Sequence[Destination]) -> int:
    return ceil(posts / len(destinations))


def _solved(pairs: Sequence[Pair], posts: int, destinations: Sequence[Destination]) -> list[Pair]:
    """The columns are the pairs, then one for each group (whether it is in the week), then the posts over each share."""
    groups = [(name, key) for name, of in _GROUPS.items() for key in dict.fromkeys(of(one) for one, _ in pairs)]
    size, wide = len(pairs), len(pairs) + len(groups) + len(destinations)
    rows, limits = [], []

    def at_most(members: Sequence[int], limit: float, extra: tuple[int, float] | None = None) -> None:
        row = np.zeros(wide)
        row[list(members)] = 1.0
        if extra:
            row[extra[0]] = extra[1]
        rows.append(row)
        limits.append(limit)

    at_most(range(size), posts)
    for quote in dict.fromkeys(one.quote for one, _ in pairs):
        at_most([i for i, (one, _) in enumerate(pairs) if one.quote == quote], 1)
    for index, (name, key) in enumerate(groups, start=size):
        members = [i for i, (one, _) in enumerate(pairs) if _GROUPS[name](one) == key]
        row = np.zeros(wide)
        row[index], row[members] = 1.0, -1.0
        rows.append(row)
        limits.append(0.0)
    for index, to in enumerate(destinations, start=size + len(groups)):
        members = [i for i, (_, other) in enumerate(pairs) if other.id == to.id]
        at_most(members, _share(posts, destinations), (index, -1.0))
    gains = [_gain(pair) + (size - i) * 1e-7 for i, pair in enumerate(pairs)]
    value = np.array([*gains, *(VARIETY[name] for name, _ in groups), *(-UNEVEN for _ in destinations)])
    upper = np.array([1.0] * (size + len(groups)) + [float(posts)] * len(destinations))
    # Loaded here: the solver takes as long to load as half of the server.
    from scipy.optimize import Bounds, LinearConstraint, milp

    solved = milp(
        -value,
        constraints=LinearConstraint(np.array(rows), -np.inf, np.array(limits)),
        integrality=np.array([1] * size + [0] * (wide - size)),
        bounds=Bounds(0, upper),
        options={"mip_rel_gap": 0.0, "time_limit": 10.0},
    )
    if solved.x is None:
        raise ArithmeticError(f"no best week was found: {solved.message}")
    return [pair for i, pair in enumerate(pairs) if solved.x[i] > 0.5]


def reason(one: Candidate, week: Sequence[Candidate], candidates: Sequence[Candidate]) -> str:
    """Why a quote is in a week, in words."""
    told = ["you picked it"] if one.picked else []
    others = [other for other in week if other.quote != one.quote]
    if all(other.talk != one.talk for other in others) and others:
        told.append(f"the only one from “{one.talk_title}”")
    elif all((other.talk, other.topic) != (one.talk, one.topic) for other in others) and others:
        told.append("another topic than the rest")
    if one.speaker and all(other.speaker != one.speaker for other in others) and others:
        told.append(f"the only one by {one.speaker}")
    if all(other.band != one.band for other in others) and others:
        told.append(("a short one", "a middling one", "a long one")[one.band] + f", {seconds(one.length_ms)}")
    same = [other.merit for other in candidates if other.talk == one.talk]
    if one.merit >= max(same) and len(same) > 1:
        told.append("the best of its talk")
    if not one.posted_lately and any(other.posted_lately for other in candidates):
        told.append("nothing of its talk was posted lately")
    elif one.posted_lately:
        told.append("although its talk was posted lately")
    return _sentence(told[:3]) if told else f"Good enough to stand beside the rest (merit {round(one.merit * 100)})."


def _sentence(told: Sequence[str]) -> str:
    text = ", ".join(told)
    return f"{text[0].upper()}{text[1:]}."


def _instead(
    week: Sequence[Pair],
    index: int,
    candidates: Sequence[Candidate],
    posts: int,
    destinations: Sequence[Destination],
) -> tuple[int, ...]:
    """The quotes that this post could be swapped for, by what the week would then be worth."""
    taken = {one.quote for one, _ in week}
    to = week[index][1]
    others = [one for one in candidates if one.quote not in taken and one.length_ms <= to.limit_ms]

    def then(one: Candidate) -> float:
        return worth([*week[:index], (one, to), *week[index + 1 :]], posts, destinations)

    return tuple(one.quote for one in sorted(others, key=lambda one: (-then(one), one.quote))[:_OFFERED])
