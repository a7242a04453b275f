"""Where a mark stands from frame to frame: on what it marks, while the camera moves, or while that goes along with somebody; until the
picture cuts to another shot, or what it marks leaves the window."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from nimble_quote.core.assembly.model import RECORDING, Assembly, Panel
from nimble_quote.core.assembly.placed import Shift
from nimble_quote.core.context import Sight
from nimble_quote.core.document import Mark

Point = tuple[float, float]
_EVERY_S = 0.08
_OFF_PX = 0.5
"""A path that is straight but for less than this is straight."""
_STILL_PX = 0.25


@dataclass(frozen=True, kw_only=True)
class Marked:
    """Where a mark stands: the panel it is in, the frame it ends at, and its path; no keys where it stays."""

    panel: Panel
    end: int
    path: tuple[Shift, ...]


def marked(mark: Mark, shown: tuple[int, int], assembly: Assembly, sight: Sight) -> Marked | None:
    """Where a mark stands that shows between two frames; None where nothing of it is to be seen at the first."""
    first, end = shown
    middle = (sum(at.x for at in mark.points) / len(mark.points), sum(at.y for at in mark.points) / len(mark.points))
    anchor = _anchor(mark, middle, assembly.source_ms(first), sight)
    run = assembly.run_at(first)
    if run.source != RECORDING:
        return None
    number = next((n for n, one in enumerate(run.panels) if one.window_at(first).holds(*middle, 0, 0)), None)
    if number is None:
        return None
    began = in_panel(middle, run.panels[number], first)
    shifts, shot = [], _shot_at(assembly.source_ms(first), sight)
    step = max(1, round(_EVERY_S * assembly.rate))
    for frame in sorted({*range(first, end, step), end - 1}):
        at = assembly.run_at(frame)
        if at.source != RECORDING or number >= len(at.panels) or _shot_at(assembly.source_ms(frame), sight) != shot:
            break
        point = anchor(assembly.source_ms(frame))
        if point is None or not at.panels[number].window_at(frame).holds(*point, 0, 0):
            break
        x, y = in_panel(point, at.panels[number], frame)
        shifts.append(Shift(frame=frame, x=round(x - began[0], 2), y=round(y - began[1], 2)))
    last = shifts[-1].frame if shifts else first
    ends = end if last == end - 1 else min(end, last + step)
    return Marked(panel=run.panels[number], end=ends, path=_path(shifts))


def _anchor(mark: Mark, middle: Point, began_ms: float, sight: Sight) -> Callable[[float], Point | None]:
    """What a mark stands on at a moment of the recording: its own place, or that beside what it follows, for as long as that is
    seen."""
    if mark.follows is None:
        return lambda ms: middle
    tracks = [one for one in sight.tracks if one.subject == mark.follows]
    track = next((one for one in tracks if one.start_ms - 200 <= began_ms <= one.end_ms + 200), None)
    if track is None:
        return lambda ms: middle
    xs, ys = track.x + track.width / 2, track.y + track.height / 2

    def at(ms: float) -> Point | None:
        if not track.start_ms - 200 <= ms <= track.end_ms + 200:
            return None
        moved = (float(np.interp(ms, track.at_ms, each) - np.interp(began_ms, track.at_ms, each)) for each in (xs, ys))
        across, down = moved
        return middle[0] + across, middle[1] + down

    return at


def in_panel(point: Point, panel: Panel, frame: int) -> Point:
    """A point of the recording's picture in pixels of the output."""
    window = panel.window_at(frame)
    return (
        panel.x_px + (point[0] - window.x) / window.width * panel.width_px,
        panel.y_px + (point[1] - window.y) / window.height * panel.height_px,
    )


def _shot_at(ms: float, sight: Sight) -> int:
    return sum(1 for shot in sight.shots if shot.span.start_ms <= ms)


def _path(shifts: Sequence[Shift]) -> tuple[Shift, ...]:
    """A path with as few keys as keep it where it is; none where it never moves."""
    if all(abs(one.x) < _STILL_PX and abs(one.y) < _STILL_PX for one in shifts):
        return ()
    return tuple(_thinned(shifts))


def _thinned(shifts: Sequence[Shift]) -> list[Shift]:
    first, last = shifts[0], shifts[-1]
    worst, most = 0, _OFF_PX
    for number, one in enumerate(shifts[1:-1], 1):
        part = (one.frame - first.frame) / (last.frame - first.frame)
        off = max(abs(one.x - first.x - (last.x - first.x) * part), abs(one.y - first.y - (last.y - first.y) * part))
        if off > most:
            worst, most = number, off
    if not worst:
        return [first, last] if last.frame > first.frame else [first]
    return [*_thinned(shifts[: worst + 1])[:-1], *_thinned(shifts[worst:])]
