"""What a window has to show to follow somebody: where they are at each moment, and how much room they need."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.framing.composing import CHEST_BELOW, CHIN_BELOW, EYES_BELOW, HAIR_ABOVE
from nimble_quote.core.framing.solving import Wanted

Floats = NDArray[np.float64]

HEAD_WIDTHS, SHOULDER_WIDTHS = 1.24, 2.3
"""How wide a head and its shoulders are, in widths of the face."""
EDGE = 0.03
"""The part of the window that is kept free at its edges."""
_BODY_LEAST, _HEAD_LEAST = 0.05, 0.08
"""How far a window may be off its subject in any case: a large face would otherwise be followed at each breath."""
_USUAL_LOOK_S = 4.0
"""Lead room follows where somebody looks for so long, and not each glance."""


@dataclass(frozen=True, kw_only=True)
class Track:
    """Somebody, or something, through a shot: the number of the subject, and its box at each moment it was seen, in
    fractions of the picture. `turn` is that of the head (-1 left to 1 right); a thing has no face, and no turn."""

    subject: int
    at_ms: Floats
    x: Floats
    y: Floats
    width: Floats
    height: Floats
    turn: Floats
    score: Floats
    talking: Floats = field(default_factory=lambda: np.zeros(0))
    """How much the mouth moves with the sound at each moment, 0 to 1, less than none where nobody looked; empty where nobody
    ever did."""
    thing: bool = False
    inset: tuple[float, float, float, float] | None = None
    """The picture of its own that somebody stands in (left, top, width, height), if they do."""

    @property
    def start_ms(self) -> int:
        return int(self.at_ms[0])

    @property
    def end_ms(self) -> int:
        return int(self.at_ms[-1])

    def within(self, start_ms: float, end_ms: float) -> "Track | None":
        """The part that lies in `[start_ms, end_ms)`; None where there is none."""
        first, end = (int(i) for i in np.searchsorted(self.at_ms, [start_ms, end_ms]))
        return self._from(slice(first, end)) if end > first else None

    def thinned(self, every: int) -> "Track":
        """One moment of so many."""
        return self._from(slice(None, None, every))

    def _from(self, which: slice) -> "Track":
        return Track(
            subject=self.subject, at_ms=self.at_ms[which], x=self.x[which], y=self.y[which], width=self.width[which],
            height=self.height[which], turn=self.turn[which], score=self.score[which], talking=self.talking[which], thing=self.thing,
            inset=self.inset,
        )  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class Boxes:
    """Where one subject is at some moments, in fractions of the picture."""

    x: Floats
    y: Floats
    width: Floats
    height: Floats
    turn: Floats
    thing: bool


def talked(track: Track, start_ms: float, end_ms: float) -> float:
    """How much a mouth talked between two moments on average; less than none where nobody looked."""
    first, end = (int(i) for i in np.searchsorted(track.at_ms, [start_ms, end_ms]))
    seen = track.talking[first:end]
    seen = seen[seen >= 0]
    return float(seen.mean()) if len(seen) else -1.0


def one_track(tracks: Sequence[Track]) -> Track:
    """The tracks of one subject as one."""
    order = np.argsort(np.concatenate([one.at_ms for one in tracks]), kind="stable")

    def joined(name: str) -> Floats:
        values: Floats = np.concatenate([getattr(one, name) for one in tracks])[order]
        return values

    return Track(
        subject=tracks[0].subject, at_ms=joined("at_ms"), x=joined("x"), y=joined("y"), width=joined("width"),
        height=joined("height"), turn=joined("turn"), score=joined("score"), thing=tracks[0].thing,
        talking=np.concatenate([_or_unseen(one) for one in tracks])[order],
        inset=next((one.inset for one in tracks if one.inset), None),
    )  # fmt: skip


def _or_unseen(track: Track) -> Floats:
    return track.talking if len(track.talking) else np.full(len(track.at_ms), -1.0)


def boxes_at(track: Track, times_ms: Floats) -> Boxes:
    """Where a subject is at some moments: between those it was seen at, on the straight line from one to the next (through
    a face lost for 3 s that is off by 6 px of 1920 in the middle, less than anything that looks for it); before the first
    and after the last, there."""

    def at(values: Floats) -> Floats:
        return np.interp(times_ms, track.at_ms, values)

    return Boxes(
        x=at(track.x), y=at(track.y), width=at(track.width), height=at(track.height),
        turn=at(usual_look(track)), thing=track.thing,
    )  # fmt: skip


def usual_look(track: Track) -> Floats:
    """Where somebody looks for some seconds around each moment, -1 (left) to 1 (right)."""
    half = _USUAL_LOOK_S * 500
    sums = np.concatenate([[0.0], np.cumsum(track.turn)])
    first = np.searchsorted(track.at_ms, track.at_ms - half)
    end = np.searchsorted(track.at_ms, track.at_ms + half, side="right")
    looks: Floats = (sums[end] - sums[first]) / (end - first)
    return looks


Axis = Literal["across", "down"]


def wanted(subjects: Sequence[Boxes], axis: Axis, window: float, lead: float, eyes: float) -> Wanted:
    """What a window of this length, in fractions of the picture along the axis, is to show of some subjects.

    `lead` is the room on the side that somebody looks to, `eyes` the height of the eyes from the window's top, both in
    lengths of the window.
    """
    across = axis == "across"
    parts = [_across(one, window, lead) if across else _down(one, window, eyes) for one in subjects]
    head = np.min([one.head[0] for one in parts], axis=0), np.max([one.head[1] for one in parts], axis=0)
    body = np.min([one.body[0] for one in parts], axis=0), np.max([one.body[1] for one in parts], axis=0)
    best = parts[0].best if len(parts) == 1 else (head[0] + head[1]) / 2
    return Wanted(best=best, body=_with_room(*body, _BODY_LEAST), head=_with_room(*head, _HEAD_LEAST))


def _across(one: Boxes, window: float, lead: float) -> Wanted:
    middle, half = (one.x + one.width / 2) / window, one.width / window / 2
    if one.thing:
        return Wanted(best=middle, body=(middle - half, middle + half), head=(middle - half, middle + half))
    return Wanted(
        best=middle + lead * one.turn,
        body=(middle - SHOULDER_WIDTHS * half, middle + SHOULDER_WIDTHS * half),
        head=(middle - HEAD_WIDTHS * half, middle + HEAD_WIDTHS * half),
    )


def _down(one: Boxes, window: float, eyes: float) -> Wanted:
    top, tall = one.y / window, one.height / window
    if one.thing:
        return Wanted(best=top + tall / 2, body=(top, top + tall), head=(top, top + tall))
    hair = top - HAIR_ABOVE * tall
    return Wanted(
        best=top + EYES_BELOW * tall + 0.5 - eyes,
        body=(hair, top + CHEST_BELOW * tall),
        head=(hair, top + CHIN_BELOW * tall),
    )


def _with_room(low: Floats, high: Floats, least: float) -> tuple[Floats, Floats]:
    """Something with room at its edges, and no wider than leaves a window a little freedom."""
    middle, half = (low + high) / 2, np.minimum((high - low) / 2 + EDGE, 0.5 - least)
    return middle - half, middle + half
