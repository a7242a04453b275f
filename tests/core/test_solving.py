"""The path of a window: the cheapest of all that there are on the grid, and what such paths are like."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nimble_quote.core.framing import solving
from nimble_quote.core.framing.solving import (
    COST_OF_A_MOVE,
    LEAST_JUMP,
    LEAST_MOVE,
    Floats,
    Still,
    Stretch,
    Wanted,
    along,
    cost_of,
    middles_of,
    refined,
    solve,
    stretches_of,
)

BOUNDS = (0.5, 2.7)


def follows(places: Floats, head: float = 0.12, body: float = 0.3) -> Wanted:
    """Somebody at some places, whose head and body reach so far to either side."""
    return Wanted(best=places, body=(places - body, places + body), head=(places - head, places + head))


def walk(*stops: tuple[float, float], sway: float = 0.0) -> tuple[Wanted, list[Stretch]]:
    """Somebody who is at a place from one second on, and goes straight from each to the next."""
    stretches = stretches_of([stops[-1][0]])
    times = middles_of(stretches)
    places = np.interp(times, [at for at, _ in stops], [place for _, place in stops])
    return follows(places + sway * np.sin(times * 2.1)), stretches


def cheapest_of_all(wanted: Wanted, stretches: list[Stretch], places: Floats, a_move: float) -> float:
    """What the cheapest path on a grid costs, found by trying every one."""
    pains = solving.wanted_pains(wanted, places)
    fine = np.linspace(places[0], places[-1], (len(places) - 1) * 6 + 1)
    fine_pains = solving.wanted_pains(wanted, fine)
    ends = np.cumsum([one.steps for one in stretches])
    lengths = sorted({max(2, round(length / 0.4)) for length in solving._LENGTHS_S})

    def from_here(node: int, place: int, jumped: bool) -> float:
        if node == ends[-1]:
            return 0.0
        number = int(np.searchsorted(ends, node, side="right"))
        step_s = stretches[number].step_s
        tried = [pains[node, place] * step_s + from_here(node + 1, place, False)]
        if node in ends and not jumped:
            far = (q for q in range(len(places)) if abs(places[q] - places[place]) >= LEAST_JUMP)
            tried += [1.0 + from_here(node, q, True) for q in far]
        for steps in lengths:
            if node + steps + 1 > ends[number]:
                break
            for q in range(len(places)):
                way = abs(places[q] - places[place])
                long_s = steps * step_s
                haste = 40 * max(0.0, 1.5 * way / long_s - 0.7)
                if way < LEAST_MOVE - 1e-9 or haste > solving._MOST_HASTE:
                    continue
                parts = (np.arange(steps) + 0.5) / steps
                on_way = place + (q - place) * parts * parts * (3 - 2 * parts)
                cells = np.rint(on_way * 6).astype(int)
                travel = sum(fine_pains[node + k, cells[k]] for k in range(steps)) * step_s
                rest = pains[node + steps, q] * step_s
                cost = a_move + 0.09 * long_s + 0.5 * way + haste + travel + rest
                tried.append(cost + from_here(node + steps + 1, q, False))
        return min(tried)

    return min(from_here(0, place, True) for place in range(len(places)))


def told_cost(rests: list[Still], wanted: Wanted, stretches: list[Stretch], places: Floats, a_move: float) -> float:
    """What a path on the grid costs, looked at on the way as closely as the grid is."""
    fine = np.linspace(places[0], places[-1], (len(places) - 1) * 6 + 1)
    times = middles_of(stretches)
    at = along(rests, times)
    near = fine[np.rint((at - places[0]) / (fine[1] - fine[0])).astype(int)]
    steps_s = np.array([one.step_s for one in stretches for _ in range(one.steps)])
    moves = cost_of(rests, follows(at), stretches, a_move)
    return float((wanted.pain(near) * steps_s).sum()) + moves - cost_of(
        [Still(from_s=0, to_s=times[-1] + 1, place=0)], follows(np.zeros(len(times))), stretches, a_move
    ) - float((follows(at).pain(at) * steps_s).sum())  # fmt: skip


@settings(max_examples=12, deadline=None)
@given(
    st.lists(st.floats(0.6, 1.4), min_size=9, max_size=9),
    st.sampled_from([[9], [4, 5], [2, 7]]),
    st.sampled_from(["steady", "usual", "lively"]),
)
def test_the_path_is_the_cheapest_of_all_on_a_small_grid(places: list[float], parts: list[int], moves):
    stretches = [Stretch(steps=count, step_s=0.4) for count in parts]
    wanted = follows(np.array(places), head=0.3, body=0.4)
    grid = np.linspace(0.5, 1.5, 5)
    found = solving._cheapest(wanted, stretches, grid, COST_OF_A_MOVE[moves])
    best = cheapest_of_all(wanted, stretches, grid, COST_OF_A_MOVE[moves])
    assert told_cost(found, wanted, stretches, grid, COST_OF_A_MOVE[moves]) == pytest.approx(best, abs=1e-6)


def test_who_stands_and_sways_is_held_by_a_window_that_does_not_move():
    for moves in ("still", "steady", "usual"):
        (rest,) = solve(*walk((0, 1.4), (60, 1.4), sway=0.1), BOUNDS, moves)
        assert rest.place == pytest.approx(1.4, abs=0.05)


def test_a_walk_is_one_move_that_begins_and_lands_with_it():
    wanted, stretches = walk((0, 0.9), (10, 0.9), (13, 1.9), (25, 1.9))
    before, after = solve(wanted, stretches, BOUNDS, "usual")
    assert (before.place, after.place) == pytest.approx((0.9, 1.9), abs=0.08)
    assert before.to_s == pytest.approx(10, abs=0.8)
    assert after.from_s == pytest.approx(13, abs=0.8)


def test_a_window_that_must_not_move_does_not():
    assert len(solve(*walk((0, 0.9), (10, 0.9), (13, 1.9), (25, 1.9)), BOUNDS, "still")) == 1


def test_lively_moves_are_more_than_usual_ones_and_steady_ones_no_more():
    stops = [(6.0 * n + by, 1.0 + 0.55 * ((n + (by > 0)) % 2)) for n in range(8) for by in (0.0, 2.0)]
    counts = [len(solve(*walk(*stops), BOUNDS, moves)) for moves in ("steady", "usual", "lively")]
    assert counts[0] <= counts[1] <= counts[2]
    assert counts[2] > counts[0]


def test_over_a_join_the_window_jumps_and_never_slides():
    stretches = stretches_of([6.0, 6.0])
    times = middles_of(stretches)
    rests = solve(follows(np.where(times < 6, 0.9, 1.9)), stretches, BOUNDS, "usual")
    assert [(one.from_s, one.to_s) for one in rests] == [(0, pytest.approx(6)), (pytest.approx(6), pytest.approx(12))]
    little = solve(follows(np.where(times < 6, 1.0, 1.08)), stretches, BOUNDS, "usual")
    assert len(little) == 1, "a little jump jolts"


@settings(max_examples=40, deadline=None)
@given(
    st.lists(st.tuples(st.floats(0.4, 12), st.floats(0.3, 3.0)), min_size=2, max_size=8),
    st.lists(st.floats(0.3, 9), min_size=1, max_size=5),
    st.sampled_from(["steady", "usual", "lively"]),
)
def test_paths_hold_ease_and_stay_within_their_bounds(stops, lengths, moves):
    stretches = stretches_of(lengths)
    times = middles_of(stretches)
    at = np.cumsum([long for long, _ in stops])
    wanted = follows(np.interp(times, at, [place for _, place in stops]))
    rests = solve(wanted, stretches, BOUNDS, moves)
    assert rests[0].from_s == 0
    assert rests[-1].to_s == pytest.approx(sum(lengths))
    joins = np.cumsum(lengths)[:-1]
    for before, after in pairwise(rests):
        long_s, way = after.from_s - before.to_s, abs(after.place - before.place)
        if long_s < 1e-6:
            assert way >= LEAST_JUMP - 1e-6
            assert np.abs(joins - after.from_s).min() < 1e-6, "it jumps where the cut does, and nowhere else"
        else:
            assert way >= LEAST_MOVE - 1e-6
            assert not ((joins > before.to_s + 1e-6) & (joins < after.from_s - 1e-6)).any(), (
                "a move lies in one stretch"
            )
    where = along(rests, np.linspace(0, sum(lengths), 500))
    assert where.min() >= BOUNDS[0] - 1e-6
    assert where.max() <= BOUNDS[1] + 1e-6


def test_refining_never_makes_a_path_dearer():
    wanted, stretches = walk((0, 0.9), (7.3, 0.93), (9.1, 1.71), (20, 1.66), (23, 1.1), (30, 1.1), sway=0.03)
    rough = solving._cheapest(wanted, stretches, np.linspace(*BOUNDS, 20), 4.0)
    fine = refined(rough, wanted, stretches, BOUNDS, 4.0)
    assert cost_of(fine, wanted, stretches, 4.0) < cost_of(rough, wanted, stretches, 4.0)
    assert len(fine) == len(rough)
