"""Where the picture changes at once: camera cuts, and what looks like one and is none (flashes, slides).

Frames are compared as thumbnails (`LOOK` cells of RGB), which a walking speaker or a lit cigarette hardly changes and a
cut changes whole. A change is sudden where it stands out of the changes around it; it is a flash where the picture
comes back at once, and a slide where much of it stays as it was to the shade.
"""

import itertools
from bisect import bisect_left
from collections.abc import Iterable, Iterator, Sequence
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from nimble_quote.core.model import Frozen
from nimble_quote.core.timebase import Span

LOOK = (9, 16, 3)
"""Rows, columns and colours of a thumbnail."""

Looks = NDArray[np.uint8]
"""n x LOOK: thumbnails of successive frames."""
Kind = Literal["cut", "slide", "flash"]

AROUND = 10
"""Frames on each side that a change must stand out of."""
_LEAST = 3.5
"""The least mean change of a cell (0..255) of a cut, and how many times the mean change around it that is."""
_OUTSTANDING = 3.5
_LEAST_SLIDE = 1.5
"""The same of a slide, which may change a line of text only, but stands still before and after."""
_OUTSTANDING_SLIDE = 10
_FLASH_FRAMES = 8
_COMES_BACK = 0.35
"""After a flash the picture differs from that before it by less than this part of the change."""
_SAME = 1.6
"""A cell that changed less than this is the same; of a slide, `_STAYS` of the cells are."""
_STAYS = 0.3


class Change(Frozen):
    """A sudden change of the picture: `frame` is the first that looks different."""

    frame: int
    kind: Kind


def find_changes(runs: Iterable[Looks]) -> Iterator[Change]:
    """The sudden changes in a recording, whose thumbnails come in runs of any length, in order.

    Holds a run and a few frames in memory, whatever the length of the recording.
    """
    held: Looks = np.zeros((0, *LOOK), np.uint8)
    first = done = 0
    for run in _and_end(runs):
        held = np.concatenate([held, run]) if run is not None else held
        settled = first + len(held) - (AROUND + _FLASH_FRAMES if run is not None else 0)
        for change in _changes(held, first):
            if done <= change.frame < settled:
                yield change
        done = max(done, settled)
        keep = 2 * (AROUND + _FLASH_FRAMES) + 1
        if len(held) > keep:
            first += len(held) - keep
            held = held[-keep:]


def _and_end(runs: Iterable[Looks]) -> Iterator[Looks | None]:
    yield from runs
    yield None


def _changes(looks: Looks, first: int) -> Iterator[Change]:
    if len(looks) < 2:
        return
    steps = np.abs(np.diff(looks.astype(np.int16), axis=0)).max(axis=3).reshape(len(looks) - 1, -1)
    amounts = steps.mean(axis=1)
    lit = -1
    for at in (int(i) for i in np.nonzero(amounts >= _LEAST_SLIDE)[0]):
        kind = _kind(steps[at], amounts, at)
        if at < lit or kind is None:
            continue
        if (back := _back_after(looks, at + 1)) is not None:
            lit, kind = back, "flash"
        yield Change(frame=first + at + 1, kind=kind)


def _kind(step: NDArray[np.int16], amounts: NDArray[np.float64], at: int) -> Kind | None:
    """What a change is by its amount and by what stays; None where it does not stand out."""
    around = np.concatenate([amounts[max(0, at - AROUND) : at], amounts[at + 1 : at + 1 + AROUND]])
    # The largest of its neighbours is passed over, so that two cuts close together do not hide each other.
    usual = float(np.sort(around)[:-1].mean()) if len(around) > 1 else 0.0
    stays = bool((step < _SAME).mean() >= _STAYS)
    if stays and amounts[at] >= _OUTSTANDING_SLIDE * max(usual, 0.15):
        return "slide"
    outstanding = amounts[at] >= max(_LEAST, _OUTSTANDING * usual) and amounts[at] >= 0.8 * around.max(initial=0)
    return ("slide" if stays else "cut") if outstanding else None


def _back_after(looks: Looks, number: int) -> int | None:
    """The frame at which the picture is again what it was before `number`, where it is soon."""
    before = looks[number - 1].astype(np.int16)
    change = np.abs(looks[number].astype(np.int16) - before).mean()
    for later in range(number + 1, min(number + 1 + _FLASH_FRAMES, len(looks))):
        if np.abs(looks[later].astype(np.int16) - before).mean() < _COMES_BACK * change:
            return later
    return None


def shot_looks(runs: Iterable[Looks], first_frames: Sequence[int]) -> list[bytes]:
    """The look of each shot, whose first frames are told in order: the mean of its thumbnails, as bytes of `LOOK`."""
    sums = np.zeros((len(first_frames), *LOOK), np.float64)
    counts = np.zeros(len(first_frames))
    at = 0
    for run in runs:
        edges = [bisect_left(range(at, at + len(run)), frame) for frame in (*first_frames, at + len(run))]
        for number, (start, end) in enumerate(itertools.pairwise(edges)):
            if end > start:
                sums[number] += run[start:end].sum(axis=0, dtype=np.float64)
                counts[number] += end - start
        at += len(run)
    means = sums / np.maximum(counts, 1)[:, None, None, None]
    return [mean.round().astype(np.uint8).tobytes() for mean in means]


NEAR_MS = 120
"""A cut set or taken away by hand means the found one within this distance: three frames at 25."""


class HandCut(Frozen):
    """What a person said of a moment: there is a cut here, or there is none."""

    at_ms: int = Field(ge=0, lt=100_000_000)
    there: bool


def cuts(found: Sequence[int], by_hand: Sequence[HandCut]) -> tuple[int, ...]:
    """The camera cuts of a recording in ms: those found, but for what a person said otherwise."""
    taken = [hand.at_ms for hand in by_hand]
    kept = {at for at in found if not any(abs(at - hand) <= NEAR_MS for hand in taken)}
    return tuple(sorted(kept | {hand.at_ms for hand in by_hand if hand.there}))


def shots(cuts_ms: Sequence[int], duration_ms: int) -> tuple[Span, ...]:
    """The stretches between cuts, from the beginning of the recording to its end."""
    edges = [0, *(at for at in cuts_ms if 0 < at < duration_ms), duration_ms]
    return tuple(Span(start_ms=a, end_ms=b) for a, b in itertools.pairwise(edges) if b > a)


def parted(at_ms: Sequence[int], cuts_ms: Sequence[int]) -> list[range]:
    """The places of some moments, which are in order, in runs that no cut lies within; a cut begins the next run."""
    edges = [bisect_left(at_ms, cut) for cut in cuts_ms]
    bounds = sorted({0, *edges, len(at_ms)})
    return [range(a, b) for a, b in itertools.pairwise(bounds)]
