"""The path of a window that follows somebody: rests, and as few moves between them as do.

A camera holds; it moves only where the subject would leave, begins when they begin, lands when they land, and eases. What
a rest or a move costs says how much of that is worth what; the cheapest path is found exactly on a grid of places and
times by dynamic programming, and is then made finer.

        place
          |  ____rest____                    at node i: rest for a step, or move for D steps and rest for one
          |              \\__move__ ____rest__
          +---|---|---|---|---|---|---|---|---  steps of about 0.4 s, whole in each stretch of the cut

Over a join in the cut the camera may jump, and never slides.

All lengths are in widths of the window, along one axis (heights for the other); times in seconds.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.document import Moves

Floats = NDArray[np.float64]

STEP_S = 0.4
GRID = 0.06
"""Places apart from each other by so much are tried."""
COST_OF_A_MOVE: dict[Moves, float] = {"steady": 6.0, "usual": 4.0, "lively": 0.8}
"""Costlier moves are fewer: with 0.6, 1.5 and 4 a talk of 7.5 minutes with 13 walks had 31, 26 and 13."""
LEAST_MOVE = 0.1
"""Less than this is a fidget and no move."""
LEAST_JUMP = 0.15
"""Less than this at a join jolts."""
_A_SECOND, _A_WIDTH, _HASTE = 0.09, 0.5, 40.0
_FASTEST = 0.7
"""Widths a second from which on haste costs: an eased move is half as fast again at its middle as on average."""
_JUMP = 1.0
_BODY, _HEAD = 6.0, 300.0
"""What a width outside costs for a second: of shoulders, and of a head."""
_LENGTHS_S = (0.8, 1.2, 1.6, 2.4, 3.2, 4.0, 5.2, 6.8, 8.4, 10.4, 12.4)
_REST_STEPS = 1
_FINER = ((0.03, 0.2), (0.015, 0.1), (0.0075, 0.05))
"""Steps of places and of times that refining tries, coarse ones first."""
_SHORTEST_MOVE_S = 0.8


@dataclass(frozen=True, kw_only=True)
class Wanted:
    """What a window is to show at some moments: where its middle would best be, and what is to be inside it: from the left
    of the shoulders to their right, and the same of the head. As many of each as there are moments."""

    best: Floats
    body: tuple[Floats, Floats]
    head: tuple[Floats, Floats]

    def pain(self, place: Floats) -> Floats:
        """What it costs for a second to have the middle of the window at these places."""
        return (
            np.abs(place - self.best)
            + _BODY * _outside(place, *self.body)
            + _HEAD * _outside(place, *self.head)
        )  # fmt: skip

    def at(self, which: NDArray[np.int64]) -> "Wanted":
        """The same for some of the moments."""
        return Wanted(
            best=self.best[which],
            body=(self.body[0][which], self.body[1][which]),
            head=(self.head[0][which], self.head[1][which]),
        )


@dataclass(frozen=True, kw_only=True)
class Stretch:
    """A stretch of the cut that is whole in the source: `steps` steps of `step_s`."""

    steps: int
    step_s: float


@dataclass(frozen=True, kw_only=True)
class Still:
    """A rest: from one moment to another, in seconds of the cut, at a place."""

    from_s: float
    to_s: float
    place: float


def stretches_of(lengths_s: Sequence[float]) -> list[Stretch]:
    """Steps for stretches of these lengths: each has a whole number of them."""
    counts = [max(1, round(length / STEP_S)) for length in lengths_s]
    return [Stretch(steps=count, step_s=length / count) for count, length in zip(counts, lengths_s, strict=True)]


def middles_of(stretches: Sequence[Stretch]) -> Floats:
    """The middle of each step, in seconds of the cut."""
    lengths = np.array([one.step_s for one in stretches for _ in range(one.steps)])
    return np.cumsum(lengths) - lengths / 2


def solve(wanted: Wanted, stretches: Sequence[Stretch], bounds: tuple[float, float], moves: Moves) -> list[Still]:
    """The rests of the cheapest path; `wanted` is told for the middle of each step. Places stay within the bounds.

    Between two rests that follow each other at once there is a jump, which is only at joins; where time lies between
    them, a move.
    """
    steps_s = np.array([one.step_s for one in stretches for _ in range(one.steps)])
    still = _one_rest(wanted, steps_s, bounds)
    if moves == "still" or bounds[1] - bounds[0] < LEAST_MOVE:
        return [Still(from_s=0.0, to_s=float(steps_s.sum()), place=still)]
    cost = COST_OF_A_MOVE[moves]
    if _nothing_to_gain(wanted, steps_s, still, bounds, cost, joined=len(stretches) > 1):
        return [Still(from_s=0.0, to_s=float(steps_s.sum()), place=still)]
    places = _places(wanted, bounds)
    path = _cheapest(wanted, stretches, places, cost)
    return refined(path, wanted, stretches, bounds, cost)


def cost_of(rests: Sequence[Still], wanted: Wanted, stretches: Sequence[Stretch], a_move: float) -> float:
    """What a path costs, by the moments of `wanted`."""
    return _Priced(wanted, stretches, a_move)(rests)


def along(rests: Sequence[Still], times: Floats) -> Floats:
    """Where a path is at moments of the cut."""
    places = np.full(len(times), rests[0].place)
    for before, after in pairwise(rests):
        long_s = after.from_s - before.to_s
        part = np.clip((times - before.to_s) / long_s, 0, 1) if long_s > 0 else (times >= after.from_s).astype(float)
        places = np.where(times >= before.to_s, before.place + (after.place - before.place) * _eased(part), places)
    return places


def _eased(part: Floats) -> Floats:
    return part * part * (3 - 2 * part)


def _outside(place: Floats, low: Floats, high: Floats) -> Floats:
    """How far something from `low` to `high` reaches out of a window, where there is more room at its other side."""
    # Something wider than the window has only its middle to be judged by.
    spare = np.maximum(0.0, 1 - (high - low)) / 2
    return np.maximum(0.0, np.abs((low + high) / 2 - place) - spare)


def _costs_of_moving(way: Floats, long_s: float, a_move: float) -> Floats:
    return a_move + _A_SECOND * long_s + _A_WIDTH * np.abs(way) + _haste(way, long_s)


def _haste(way: Floats, long_s: float) -> Floats:
    return _HASTE * np.maximum(0.0, 1.5 * np.abs(way) / long_s - _FASTEST)


def _one_rest(wanted: Wanted, steps_s: Floats, bounds: tuple[float, float]) -> float:
    """The best place to stand still at, to a hundredth of a width."""
    low, high = bounds
    tried = np.linspace(low, high, max(2, int((high - low) / 0.01) + 1))
    return float(tried[int(np.argmin(steps_s @ wanted_pains(wanted, tried)))])


def _nothing_to_gain(
    wanted: Wanted, steps_s: Floats, still: float, bounds: tuple[float, float], a_move: float, *, joined: bool
) -> bool:
    """Whether no path could be cheaper than standing still: the cheapest place of every step, at no cost of going there
    but that of one move or jump, is dearer."""
    places = np.linspace(*bounds, max(2, int((bounds[1] - bounds[0]) / 0.02) + 1))
    pains = wanted_pains(wanted, places)
    least = float((pains.min(axis=1) * steps_s).sum())
    best = float((wanted.pain(np.full(len(steps_s), still)) * steps_s).sum())
    return best - least <= (min(_JUMP, a_move) if joined else a_move)


def wanted_pains(wanted: Wanted, places: Floats) -> Floats:
    """The pain of each place (columns) at each moment (rows)."""
    wide = Wanted(
        best=wanted.best[:, None],
        body=(wanted.body[0][:, None], wanted.body[1][:, None]),
        head=(wanted.head[0][:, None], wanted.head[1][:, None]),
    )
    return wide.pain(places[None, :])


def _places(wanted: Wanted, bounds: tuple[float, float]) -> Floats:
    """The grid of places: no further than anybody goes."""
    low = max(bounds[0], float(np.min(wanted.best)) - 0.25)
    high = min(bounds[1], float(np.max(wanted.best)) + 0.25)
    low, high = (low, high) if low < high else bounds
    return np.linspace(low, high, max(2, int(np.ceil((high - low) / GRID)) + 1))


@dataclass(frozen=True)
class _Ways:
    """All moves of one length, from each place to each that is far enough and not out of reach: what the places on the way are
    on the fine grid, step after step, and what moving costs besides. In order of where they lead."""

    steps: int
    cells: NDArray[np.int64]
    begin: NDArray[np.int64]
    fixed: Floats
    ends: NDArray[np.int64]
    firsts: NDArray[np.int64]


@dataclass(frozen=True)
class _Known:
    """What is known of each node and place: the least it costs to be there, how it is come to (a length of move by its number,
    or a step of rest), and from which place it is jumped to where that is cheaper."""

    values: Floats
    how: NDArray[np.int64]
    jumped: NDArray[np.int64]


_RESTED, _NOT = -1, -1


def _cheapest(wanted: Wanted, stretches: Sequence[Stretch], places: Floats, a_move: float) -> list[Still]:
    """The cheapest path on the grid; on the way between two places it is looked at to a hundredth of a width."""
    fine = np.linspace(places[0], places[-1], (len(places) - 1) * _FINE + 1)
    pains = wanted_pains(wanted, fine)
    shape = len(pains) + 1, len(places)
    known = _Known(np.full(shape, np.inf), np.full(shape, _RESTED, np.int64), np.full(shape, _NOT, np.int64))
    known.values[0] = 0.0
    jumps = np.abs(places[None, :] - places[:, None]) >= LEAST_JUMP
    ways = [_ways(places, stretch, a_move) for stretch in stretches]
    first = 0
    for number, stretch in enumerate(stretches):
        if number:
            _jump(known, first, jumps)
        for node in range(first, first + stretch.steps):
            _rest(known, node, pains[node, ::_FINE] * stretch.step_s)
            for length, one in enumerate(ways[number]):
                if node + one.steps + _REST_STEPS > first + stretch.steps:
                    break
                _move(known, node, length, one, pains, stretch.step_s)
        first += stretch.steps
    return _told(known, stretches, ways, pains, places)


_FINE = 6
"""The fine grid has so many places for each of the grid's."""
_MOST_HASTE = 12.0
"""Moves that cost more by their haste are not tried: a longer one is always there."""


def _ways(places: Floats, stretch: Stretch, a_move: float) -> list[_Ways]:
    lengths = sorted({max(2, round(length / STEP_S)) for length in _LENGTHS_S})
    return [
        _ways_of(places, steps, stretch.step_s, a_move) for steps in lengths if steps + _REST_STEPS <= stretch.steps
    ]


def _ways_of(places: Floats, steps: int, step_s: float, a_move: float) -> _Ways:
    way = np.abs(places[:, None] - places[None, :])
    costs = _costs_of_moving(way, steps * step_s, 0.0)
    ends, begin = np.nonzero((way >= LEAST_MOVE - 1e-9) & (_haste(way, steps * step_s) <= _MOST_HASTE))
    parts = _eased((np.arange(steps) + 0.5) / steps)
    on_way = begin[None, :] + (ends - begin)[None, :] * parts[:, None]
    cells = np.rint(on_way * _FINE).astype(np.int64)
    width = (len(places) - 1) * _FINE + 1
    unlike = np.concatenate([[True], np.diff(ends) > 0]) if len(ends) else np.zeros(0, bool)
    return _Ways(
        steps=steps,
        cells=cells + np.arange(steps)[:, None] * width,
        begin=begin,
        fixed=a_move + costs[ends, begin],
        ends=ends[unlike],
        firsts=np.nonzero(unlike)[0],
    )


def _jump(known: _Known, node: int, jumps: NDArray[np.bool_]) -> None:
    values = known.values[node]
    from_each = np.where(jumps, values[:, None] + _JUMP, np.inf)
    best = from_each.argmin(axis=0)
    cheapest = from_each[best, np.arange(len(values))]
    # The place that is jumped from was come to by other means than a jump, or it would not be cheaper.
    better = cheapest < values
    known.jumped[node, better] = best[better]
    known.values[node, better] = cheapest[better]


def _rest(known: _Known, node: int, pains: Floats) -> None:
    cost = known.values[node] + pains
    better = cost < known.values[node + 1]
    known.values[node + 1, better] = cost[better]
    known.how[node + 1, better] = _RESTED


def _move(known: _Known, node: int, length: int, ways: _Ways, pains: Floats, step_s: float) -> None:
    """The moves of one length that begin at a node, each with a rest after it."""
    if not len(ways.begin):
        return
    end = node + ways.steps + _REST_STEPS
    cost = _moving(known, node, ways, pains, step_s)
    least = np.minimum.reduceat(cost, ways.firsts) + pains[end - 1, ::_FINE].take(ways.ends) * step_s
    better = least < known.values[end].take(ways.ends)
    known.values[end, ways.ends[better]] = least[better]
    known.how[end, ways.ends[better]] = length


def _moving(known: _Known, node: int, ways: _Ways, pains: Floats, step_s: float) -> Floats:
    """What it costs to be where each move of one length leads that begins at a node."""
    on_way = pains[node : node + ways.steps].reshape(-1).take(ways.cells).sum(axis=0) * step_s
    cost: Floats = known.values[node].take(ways.begin) + ways.fixed + on_way
    return cost


def _told(
    known: _Known, stretches: Sequence[Stretch], ways: Sequence[Sequence[_Ways]], pains: Floats, places: Floats
) -> list[Still]:
    """The path that led to the cheapest end, as rests."""
    nodes_s = np.concatenate([[0.0], np.cumsum([one.step_s for one in stretches for _ in range(one.steps)])])
    last_of = np.cumsum([one.steps for one in stretches])
    node, place = len(nodes_s) - 1, int(np.argmin(known.values[-1]))
    rests: list[Still] = []
    end = node
    while node > 0:
        if known.jumped[node, place] != _NOT:
            rests.append(Still(from_s=float(nodes_s[node]), to_s=float(nodes_s[end]), place=float(places[place])))
            place, end = int(known.jumped[node, place]), node
        how = int(known.how[node, place])
        if how == _RESTED:
            node -= 1
            continue
        number = int(np.searchsorted(last_of, node))
        one = ways[number][how]
        lands = node - _REST_STEPS
        rests.append(Still(from_s=float(nodes_s[lands]), to_s=float(nodes_s[end]), place=float(places[place])))
        node = end = lands - one.steps
        place = _came_from(known, node, place, one, pains, stretches[number].step_s)
    rests.append(Still(from_s=0.0, to_s=float(nodes_s[end]), place=float(places[place])))
    return rests[::-1]


def _came_from(known: _Known, node: int, place: int, ways: _Ways, pains: Floats, step_s: float) -> int:
    """The place from which a move of one length that begins at a node is cheapest to another."""
    number = int(np.searchsorted(ways.ends, place))
    first = ways.firsts[number]
    last = ways.firsts[number + 1] if number + 1 < len(ways.firsts) else len(ways.begin)
    return int(ways.begin[first + _moving(known, node, ways, pains, step_s)[first:last].argmin()])


def refined(
    rests: list[Still], wanted: Wanted, stretches: Sequence[Stretch], bounds: tuple[float, float], a_move: float
) -> list[Still]:
    """A path with its places and times moved by a little, for as long as that makes it cheaper."""
    edges = np.concatenate([[0.0], np.cumsum([one.steps * one.step_s for one in stretches])])
    priced = _Priced(wanted, stretches, a_move)
    for by_place, by_s in _FINER:
        for _ in range(4):
            better = False
            for number in range(len(rests)):
                for tried in _changes(rests, number, by_place, by_s):
                    near = slice(max(0, number - 2), number + 3)
                    if _allowed(tried[near], edges, bounds) and priced(tried[near]) < priced(rests[near]) - 1e-6:
                        rests, better = tried, True
            if not better:
                break
    return rests


class _Priced:
    """What some rests that follow one another cost."""

    def __init__(self, wanted: Wanted, stretches: Sequence[Stretch], a_move: float) -> None:
        self._wanted, self._a_move = wanted, a_move
        self._times = middles_of(stretches)
        self._steps_s = np.array([one.step_s for one in stretches for _ in range(one.steps)])

    def __call__(self, rests: Sequence[Still]) -> float:
        """The cost from the beginning of the first rest to the end of the last."""
        first, end = np.searchsorted(self._times, [rests[0].from_s, rests[-1].to_s])
        which = np.arange(first, end)
        pains = self._wanted.at(which).pain(along(rests, self._times[which]))
        total = float((pains * self._steps_s[which]).sum())
        for before, after in pairwise(rests):
            way, long_s = abs(after.place - before.place), after.from_s - before.to_s
            total += _JUMP if long_s <= 0 else float(_costs_of_moving(np.array(way), long_s, self._a_move))
        return total


def _changes(rests: list[Still], number: int, by_place: float, by_s: float) -> list[list[Still]]:
    """The path with one rest elsewhere, or with the move before it begun or ended at another time."""
    one = rests[number]
    out = [
        _with(rests, number, Still(from_s=one.from_s, to_s=one.to_s, place=one.place + by))
        for by in (by_place, -by_place)
    ]
    if number and one.from_s > rests[number - 1].to_s:
        before = rests[number - 1]
        for by in (by_s, -by_s):
            out.append(_with(rests, number, Still(from_s=one.from_s + by, to_s=one.to_s, place=one.place)))
            earlier = Still(from_s=before.from_s, to_s=before.to_s + by, place=before.place)
            out.append(_with(rests, number - 1, earlier))
            out.append(_with(out[-2], number - 1, earlier))
    return out


def _with(rests: list[Still], number: int, one: Still) -> list[Still]:
    return [*rests[:number], one, *rests[number + 1 :]]


def _allowed(near: list[Still], edges: Floats, bounds: tuple[float, float]) -> bool:
    """Whether rests are in order, and moves long, far and whole enough."""
    if any(one.to_s < one.from_s - 1e-9 or not bounds[0] - 1e-9 <= one.place <= bounds[1] + 1e-9 for one in near):
        return False
    for before, after in pairwise(near):
        long_s, way = after.from_s - before.to_s, abs(after.place - before.place)
        if long_s <= 1e-9:
            if way < LEAST_JUMP:
                return False
        elif (
            long_s < _SHORTEST_MOVE_S - 1e-9
            or way < LEAST_MOVE
            or np.any((edges > before.to_s + 1e-9) & (edges < after.from_s - 1e-9))
        ):
            return False
    return True
