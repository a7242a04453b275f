"""Fit plans: what to leave out of a version so that it reaches its limit with the least loss, found exactly.

The choice is a knapsack over the sentences of the cut, with a state for what is heard so far (nothing yet, up to here,
a gap in the middle, nothing more), solved by dynamic programming over what is gained, in steps of `STEP_MS`:

        nothing yet -> heard -> left out -> heard -> … -> nothing more

`best[state][g]` is the least loss that gains `g` steps or more, so that it never falls with `g`. A limit can also be
reached by playing a little faster, which is tried with every speed on top of the same table.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.cutting.ways import (
    JOIN_LOSS,
    LANDING_LOSS,
    OPENING_LOSS,
    CutSentence,
    Option,
    Piece,
    Priced,
    WayKind,
)
from nimble_quote.core.model import Frozen
from nimble_quote.core.timebase import Span

STEP_MS = 10
SPEEDS = (1.0, 1.03, 1.06, 1.1, 1.15)
_SPEED_LOSS, _SPEED_LOSS_EACH = 0.8, 18.0
"""A change of speed at all, and for each unit of it: a last resort."""

Losses = NDArray[np.float64]
Choices = NDArray[np.int16]
State = Literal["unheard", "heard", "out", "over"]


class Way(Priced):
    """All of one kind that could be done: how many places, what they would gain, and at what loss."""

    kind: WayKind
    count: int
    gain_ms: int
    reaches: bool


class FitPlan(Frozen):
    """A proposal: the pieces to leave out in order of time, and the speed to play at."""

    over_ms: int
    pieces: tuple[Piece, ...]
    speed: float
    gain_ms: int
    loss: float
    ways: tuple[Way, ...]
    reached: bool

    @property
    def spans(self) -> tuple[Span, ...]:
        return tuple(span for piece in self.pieces for span in piece.spans)


@dataclass(frozen=True, kw_only=True)
class Wishes:
    """Pieces a person will not have, and those they insist on, by id."""

    refused: frozenset[str] = frozenset()
    locked: frozenset[str] = frozenset()


NO_WISHES = Wishes()


@dataclass(frozen=True, kw_only=True)
class _Move:
    """A way into a state: from which one, what it gains and loses, and the pause option it takes."""

    source: State
    gain_ms: int
    loss: float
    option: Option | None = None


@dataclass(frozen=True, kw_only=True)
class _Chosen:
    """For every number of steps: the move that is best, of those there are."""

    moves: tuple[_Move, ...]
    best: Choices


@dataclass(frozen=True, kw_only=True)
class _Folded:
    """For every number of steps: the option that is best inside a sentence."""

    options: tuple[Option, ...]
    best: Choices


def fit_plan(
    parts: Sequence[CutSentence], kept_ms: int, limit_ms: int, wishes: Wishes = NO_WISHES, now: float = 1.0
) -> FitPlan:
    """The least loss that brings a cut of `kept_ms`, played at the speed it has `now`, to `limit_ms`; where nothing
    does, as near as it gets. A plan never makes it slower."""
    solver = _Solver(parts, _steps_for(max(0, kept_ms - int(limit_ms * now))), wishes)
    ends = solver.losses()
    tried = []
    for speed in (now, *(one for one in SPEEDS if one > now)):
        if "speed" not in (wishes.refused if speed > now else wishes.locked):
            needed = _steps_for(max(0, kept_ms - int(limit_ms * speed)))
            tried.append((float(ends[needed]) + _speed_loss(speed, now), needed, speed))
    loss, needed, speed = min(tried, default=(float("inf"), 0, now))
    if not np.isfinite(loss):
        speed = max((one[2] for one in tried), default=now)
        reachable = np.flatnonzero(np.isfinite(ends))
        needed = int(reachable[-1]) if len(reachable) else 0
        loss = float(ends[needed]) + _speed_loss(speed, now)
    pieces = solver.pieces(needed) if np.isfinite(ends[needed]) else ()
    length = kept_ms - sum(piece.gain_ms for piece in pieces)
    if speed > now:
        pieces = (*pieces, _faster(speed, now, length))
    return FitPlan(
        over_ms=max(0, round(kept_ms / now) - limit_ms), pieces=pieces, speed=speed,
        gain_ms=round(kept_ms / now - length / speed), loss=round(loss, 4), ways=ways(parts, kept_ms, limit_ms, now), reached=length <= limit_ms * speed,
    )  # fmt: skip


def ways(parts: Sequence[CutSentence], kept_ms: int, limit_ms: int, now: float) -> tuple[Way, ...]:
    """Every kind of thing that could be left out, the cheapest for what it gains first."""
    over = max(0, kept_ms - int(limit_ms * now))
    small = [
        piece
        for part in parts
        for options in (*part.inside, part.before)
        for option in options
        if len(option.pieces) == 1
        for piece in option.pieces
    ]
    # A kind's whole: each of its pieces once, also where it overlaps another kind's.
    kinds = dict.fromkeys(piece.kind for piece in small)
    found = [_way(kind, [one for one in small if one.kind == kind], over) for kind in kinds]
    if len(parts) > 1:
        least = min(parts, key=lambda one: one.drops / max(1, one.whole_ms))
        found.append(_whole_way("sentence", [least], least.drops + 2 * JOIN_LOSS, over))
        found.append(
            _whole_way("start-later", parts[:1], parts[0].drops + OPENING_LOSS * (1 - parts[1].worth.opens), over)
        )
        found.append(
            _whole_way("end-sooner", parts[-1:], parts[-1].drops + LANDING_LOSS * (1 - parts[-2].worth.lands), over)
        )
    fastest = SPEEDS[-1]
    gain = max(0, round(kept_ms / now - kept_ms / fastest))
    loss, reaches = round(_speed_loss(fastest, now), 4), kept_ms / fastest <= limit_ms
    found.append(Way(kind="speed", count=1, gain_ms=gain, loss=loss, reaches=reaches))
    return tuple(sorted(found, key=lambda one: one.loss / max(1, one.gain_ms)))


def _way(kind: WayKind, pieces: Sequence[Piece], over: int) -> Way:
    gain = sum(one.gain_ms for one in pieces)
    return Way(
        kind=kind, count=len(pieces), gain_ms=gain, loss=round(sum(one.loss for one in pieces), 4), reaches=gain >= over
    )


def _whole_way(kind: WayKind, parts: Sequence[CutSentence], loss: float, over: int) -> Way:
    gain = sum(one.whole_ms for one in parts)
    return Way(kind=kind, count=len(parts), gain_ms=gain, loss=round(loss, 4), reaches=gain >= over)


def _steps_for(ms: int) -> int:
    return -(-ms // STEP_MS)


def _speed_loss(speed: float, now: float) -> float:
    return _SPEED_LOSS + _SPEED_LOSS_EACH * max(0.0, speed - 1) if speed > now else 0.0


def _faster(speed: float, now: float, length_ms: int) -> Piece:
    return Piece(
        id="speed", kind="speed", text=f"Play at {round(speed * 100)} % of the speed it was said, with the same pitch", first=0, last=0,
        spans=(), gain_ms=round(length_ms / now - length_ms / speed), loss=round(_speed_loss(speed, now), 4),
    )  # fmt: skip


class _Solver:
    """One knapsack: its table, filled sentence by sentence, and the way back through it."""

    def __init__(self, parts: Sequence[CutSentence], need: int, wishes: Wishes) -> None:
        self._parts = parts
        self._wishes = wishes
        self._moved: list[dict[State, _Chosen]] = []
        self._folded: list[list[_Folded]] = []
        table: dict[State, Losses] = {state: np.full(need + 1, np.inf) for state in ("unheard", "heard", "out", "over")}
        table["unheard"][0] = 0.0
        for number in range(len(parts)):
            table = self._with(table, number)
        self._table = table

    def losses(self) -> Losses:
        """The least loss that gains so many steps or more."""
        return np.minimum(self._table["heard"], self._table["over"])

    def pieces(self, gained: int) -> tuple[Piece, ...]:
        """What is left out to gain so many steps at the least loss, in order of time."""
        state: State = "heard" if self._table["heard"][gained] <= self._table["over"][gained] else "over"
        out: list[Piece] = []
        for number in range(len(self._parts) - 1, -1, -1):
            if state == "heard":
                for folded in reversed(self._folded[number]):
                    option = folded.options[int(folded.best[gained])]
                    out += option.pieces
                    gained = max(0, gained - option.gain_ms // STEP_MS)
            chosen = self._moved[number][state]
            move = chosen.moves[int(chosen.best[gained])]
            if state != "heard":
                out.append(self._sentence(number, state, move))
            elif move.option:
                out += move.option.pieces
            gained, state = max(0, gained - move.gain_ms // STEP_MS), move.source
        return tuple(sorted(out, key=lambda one: one.spans[0].start_ms))

    def _with(self, table: dict[State, Losses], number: int) -> dict[State, Losses]:
        """The table after one more sentence."""
        moved: dict[State, _Chosen] = {}
        after: dict[State, Losses] = {}
        for state, moves in self._moves(number).items():
            after[state], best = _least([_later(table[m.source], m.gain_ms) + m.loss for m in moves], table["heard"])
            moved[state] = _Chosen(moves=tuple(moves), best=best)
        folded: list[_Folded] = []
        for options in self._parts[number].inside:
            allowed = self._allowed(options)
            heard = after["heard"]
            after["heard"], best = _least([_later(heard, one.gain_ms) + one.loss for one in allowed], heard)
            folded.append(_Folded(options=allowed, best=best))
        self._moved.append(moved)
        self._folded.append(folded)
        return after

    def _moves(self, number: int) -> dict[State, list[_Move]]:
        """The moves into each state with a sentence."""
        part = self._parts[number]
        after_ms = self._parts[number + 1].gap_ms if number + 1 < len(self._parts) else 0
        moves: dict[State, list[_Move]] = {"unheard": [], "heard": [], "out": [], "over": []}
        if part.id not in self._wishes.locked:
            opening = OPENING_LOSS * (1 - part.worth.opens) if number else 0.0
            moves["heard"] = [
                _Move(source="unheard", gain_ms=0, loss=opening),
                _Move(source="out", gain_ms=0, loss=part.hangs),
                *(
                    _Move(source="heard", gain_ms=one.gain_ms, loss=one.loss, option=one)
                    for one in self._allowed(part.before)
                ),
            ]
        if self._may_go(part):
            whole = part.whole_ms
            moves["unheard"] = [_Move(source="unheard", gain_ms=whole + after_ms, loss=part.drops)]
            if number:
                landing = LANDING_LOSS * (1 - self._parts[number - 1].worth.lands)
                moves["over"] = [
                    _Move(source="heard", gain_ms=part.gap_ms + whole, loss=part.drops + landing),
                    _Move(source="over", gain_ms=part.gap_ms + whole, loss=part.drops),
                ]
                moves["out"] = [
                    _Move(source="heard", gain_ms=part.gap_ms + whole + after_ms, loss=part.drops + 2 * JOIN_LOSS),
                    _Move(source="out", gain_ms=whole + after_ms, loss=part.drops),
                ]
        return moves

    def _may_go(self, part: CutSentence) -> bool:
        """Whether a sentence may be left out: it is not to be kept, and nothing in it is to go by itself."""
        small = {piece.id for options in (*part.inside, part.before) for one in options for piece in one.pieces}
        return part.id not in self._wishes.refused and not (small & self._wishes.locked)

    def _allowed(self, options: Sequence[Option]) -> tuple[Option, ...]:
        """The options without what is refused, and with what is insisted on where there is one."""
        ids = [frozenset(piece.id for piece in one.pieces) for one in options]
        insisted = self._wishes.locked & frozenset().union(*ids)
        return tuple(
            one for one, has in zip(options, ids, strict=True) if not (has & self._wishes.refused) and insisted <= has
        )

    def _sentence(self, number: int, state: State, move: _Move) -> Piece:
        """A sentence that is left out, with the stretch that goes with it."""
        part = self._parts[number]
        before = self._parts[number - 1].end_ms if number else part.start_ms
        after = self._parts[number + 1].start_ms if number + 1 < len(self._parts) else part.end_ms
        kinds: dict[State, WayKind] = {"unheard": "start-later", "out": "sentence", "over": "end-sooner"}
        start = before if state == "over" or move.source == "heard" else part.start_ms
        end = part.end_ms if state == "over" else after
        return Piece(
            id=part.id, kind=kinds[state], text=part.text, first=part.words[0].index, last=part.words[-1].index,
            spans=(Span(start_ms=start, end_ms=max(end, start + 1)),), gain_ms=move.gain_ms, loss=round(move.loss, 4),
        )  # fmt: skip


def _later(losses: Losses, gain_ms: int) -> Losses:
    """The losses for gaining so many steps or more, when this much of them is gained by something else."""
    steps = gain_ms // STEP_MS
    if steps == 0:
        return losses
    out = np.empty_like(losses)
    out[:steps] = losses[0]
    out[steps:] = losses[: max(0, len(losses) - steps)]
    return out


def _least(candidates: Sequence[Losses], like: Losses) -> tuple[Losses, Choices]:
    """The least of some losses at every number of steps, and which it is of; infinite where there are none."""
    if not candidates:
        return np.full_like(like, np.inf), np.zeros(len(like), np.int16)
    least, best = candidates[0].copy(), np.zeros(len(like), np.int16)
    for number, one in enumerate(candidates[1:], start=1):
        better = one < least
        np.copyto(least, one, where=better)
        best[better] = number
    return least, best
