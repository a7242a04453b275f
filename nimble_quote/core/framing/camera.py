"""The camera of one box of the output: solved to follow subjects, and what is to be said of how well it does."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import accumulate, pairwise

import numpy as np

from nimble_quote.core.document import Moves, Rest, View
from nimble_quote.core.framing.composing import (
    CHIN_BELOW,
    HAIR_ABOVE,
    MOST_ENLARGED,
    clear_eye_line,
    closeness_of,
    eye_line,
    face_share,
    first_closeness,
    lead_room,
)
from nimble_quote.core.framing.following import (
    EDGE,
    HEAD_WIDTHS,
    SHOULDER_WIDTHS,
    Axis,
    Boxes,
    Floats,
    Track,
    boxes_at,
    wanted,
)
from nimble_quote.core.framing.layouts import Camera, Hold, Move
from nimble_quote.core.framing.solving import Still, along, middles_of, solve, stretches_of
from nimble_quote.core.framing.views import views_at
from nimble_quote.core.framing.window import filling
from nimble_quote.core.ranges import RANGES
from nimble_quote.core.timebase import Span

_THING_SHARE = 0.5
"""A thing that is followed takes so much of the window's width or height."""
_FREE = 1e-6
_ALL = 0.94
"""A window that shows so much of a picture shows all that its camera was meant to."""


@dataclass(frozen=True, kw_only=True)
class Gate:
    """What a camera looks through: the size of the source, and of the box that it fills, in pixels; and the part of its height
    that nothing stands over, from its top."""

    source: tuple[int, int]
    box: tuple[int, int]
    free: tuple[float, float] = (0.0, 1.0)
    within: tuple[float, float, float, float] = (0.0, 0.0, 1.0, 1.0)
    """The part of the source (left, top, width, height, in fractions) that it may show."""

    @property
    def aspect(self) -> float:
        return self.box[0] / self.box[1]

    @property
    def widest(self) -> tuple[float, float]:
        """The width and height of the widest window, in fractions of the source."""
        window = filling(View(), self.source, self.box)
        return window.width, window.height

    def enlarged(self, zoom: float) -> float:
        """How many times the picture is enlarged at a zoom."""
        return self.box[0] / (self.widest[0] * self.source[0]) * zoom

    @property
    def least_zoom(self) -> float:
        """The zoom from which on the window lies within what may be shown."""
        return max(1.0, self.widest[0] / self.within[2], self.widest[1] / self.within[3])

    @property
    def all_of_it(self) -> bool:
        """Whether the widest window is the whole picture, or nearly."""
        return self.widest[0] * self.widest[1] >= _ALL

    @property
    def sharpest_zoom(self) -> float:
        """The most zoom that does not look soft; 1 where the widest window does already."""
        return max(1.0, MOST_ENLARGED / self.enlarged(1.0))


def follow(
    subjects: Sequence[Track], pieces: Sequence[Span], gate: Gate, closeness: float | None, moves: Moves
) -> Camera:  # fmt: skip
    """The camera that follows subjects through the pieces of a shot that are kept; the first closeness where none is told."""
    lengths = [piece.length_ms / 1000 for piece in pieces]
    stretches = stretches_of(lengths)
    middles = middles_of(stretches)
    places = [boxes_at(one, _in_source(middles, pieces)) for one in subjects]
    zoom = zoom_for(places, gate, closeness)
    close = closeness_at(places, gate, zoom)
    eyes = clear_eye_line(eye_line(close), face_share(gate.aspect, close), gate.free)
    paths: list[list[Still]] = []
    axes: tuple[Axis, Axis] = ("across", "down")
    for axis, widest, low, long in zip(axes, gate.widest, gate.within[:2], gate.within[2:], strict=True):
        window = widest / zoom
        if window > long - _FREE:
            paths.append([Still(from_s=0.0, to_s=sum(lengths), place=(low + long / 2) / window)])
            continue
        aim = wanted(places, axis, window, lead_room(gate.aspect), eyes)
        paths.append(solve(aim, stretches, (low / window + 0.5, (low + long) / window - 0.5), moves))
    scale = gate.widest[0] / zoom, gate.widest[1] / zoom
    return _camera(paths[0], paths[1], scale, zoom, pieces)


def zoom_for(places: Sequence[Boxes], gate: Gate, closeness: float | None) -> float:
    """How far to zoom in for a closeness; for the first one no further than is sharp and leaves room for the shoulders."""
    as_it_is = closeness_at(places, gate, 1.0)
    wished = (closeness if closeness is not None else first_closeness(as_it_is)) / as_it_is
    if closeness is None and gate.all_of_it:
        return 1.0
    if closeness is None:
        wished = min(wished, gate.sharpest_zoom, _zoom_that_holds(places, gate))
    return float(min(RANGES.zoom.most, max(gate.least_zoom, wished)))


def closeness_at(places: Sequence[Boxes], gate: Gate, zoom: float) -> float:
    """How close subjects are at a zoom: faces by their height; a thing is at its medium where it takes half of the window."""
    wide, high = (length / zoom for length in gate.widest)
    shares = [
        max(float(np.median(one.width)) / wide, float(np.median(one.height)) / high) / _THING_SHARE
        if one.thing
        else closeness_of(gate.aspect, float(np.median(one.height)) / high)
        for one in places
    ]
    return max(0.01, min(shares))


def closeness_of_camera(camera: Camera, subjects: Sequence[Track], pieces: Sequence[Span], gate: Gate) -> float:
    """How close a camera is to subjects in the middle of a stretch, against a medium shot of the shape."""
    middle = np.array([(pieces[0].start_ms + pieces[-1].end_ms) / 2])
    zoom = float(views_at(camera, middle)[2][0])
    return closeness_at([boxes_at(one, middle) for one in subjects], gate, zoom)


def _zoom_that_holds(places: Sequence[Boxes], gate: Gate) -> float:
    """The most zoom at which the window has room for all shoulders at once, at nearly every moment."""
    lows = np.min([one.x - (SHOULDER_WIDTHS - 1) / 2 * one.width * (not one.thing) for one in places], axis=0)
    highs = np.max([one.x + (1 + (SHOULDER_WIDTHS - 1) / 2 * (not one.thing)) * one.width for one in places], axis=0)
    across = float(np.percentile(highs - lows, 95)) / (1 - 2 * EDGE)
    return gate.widest[0] / max(across, 1e-6)


def holds_all(subjects: Sequence[Track], pieces: Sequence[Span], gate: Gate) -> bool:
    """Whether the widest window has room for the heads of all subjects at once, with a little of their shoulders."""
    times = _in_source(middles_of(stretches_of([piece.length_ms / 1000 for piece in pieces])), pieces)
    places = [boxes_at(one, times) for one in subjects]
    lows = np.min([one.x - 0.4 * one.width for one in places], axis=0)
    highs = np.max([one.x + 1.4 * one.width for one in places], axis=0)
    return float(np.percentile(highs - lows, 95)) <= gate.widest[0] * (1 - 2 * EDGE)


@dataclass(frozen=True, kw_only=True)
class Watched:
    """How a camera does: the part of the time that heads are inside, and shoulders; the longest time that a head is
    outside, and when that begins, in ms of the source; how often the picture is enlarged, and how fast the window goes,
    in its widths a second."""

    heads: float
    bodies: float
    out_ms: float
    out_from_ms: float
    enlarged: float
    fastest: float


EVERY_MS = 40
"""How closely it is looked at how a camera does."""


def watched(camera: Camera, subjects: Sequence[Track], pieces: Sequence[Span], gate: Gate) -> Watched:
    """How a camera does over the pieces of a shot."""
    runs = [np.arange(piece.start_ms, piece.end_ms, EVERY_MS, dtype=np.float64) for piece in pieces]
    times = np.concatenate(runs)
    x, y, zoom = views_at(camera, times)
    wide, high = gate.widest[0] / zoom, gate.widest[1] / zoom
    left = np.clip(x - wide / 2, 0, 1 - wide)
    top = np.clip(y - high / 2, 0, 1 - high)
    heads, bodies = np.ones(len(times), bool), np.ones(len(times), bool)
    for track in subjects:
        one = boxes_at(track, times)
        head, body = (0.0, 0.0) if one.thing else (HEAD_WIDTHS, SHOULDER_WIDTHS)
        above, below = (0.0, 1.0) if one.thing else (0.35 * HAIR_ABOVE, CHIN_BELOW)
        down = (one.y - above * one.height >= top - _SLACK) & (one.y + below * one.height <= top + high + _SLACK)
        # What the recording itself cuts off is not this camera's fault.
        down |= one.y - above * one.height < 0
        heads &= _inside(one, head, left, wide) & down
        bodies &= _inside(one, body, left, wide)
    out_ms, out_from_ms = _longest(~heads, times)
    return Watched(
        heads=float(heads.mean()), bodies=float(bodies.mean()), out_ms=out_ms, out_from_ms=out_from_ms,
        enlarged=gate.enlarged(float(zoom.max())), fastest=_fastest(camera, gate),
    )  # fmt: skip


_SLACK = 0.002


def _inside(one: Boxes, widths: float, left: Floats, wide: Floats) -> "np.ndarray[tuple[int], np.dtype[np.bool_]]":
    more = max(0.0, (widths - 1) / 2) * one.width
    low, high = np.maximum(one.x - more, 0.0), np.minimum(one.x + one.width + more, 1.0)
    return (low >= left - _SLACK) & (high <= left + wide + _SLACK)


def _longest(out: "np.ndarray[tuple[int], np.dtype[np.bool_]]", times: Floats) -> tuple[float, float]:
    """The longest run of moments, in ms, and when it begins."""
    best, best_from, at = 0, 0, 0
    for number, one in enumerate(out):
        at = at + 1 if one else 0
        if at > best:
            best, best_from = at, number - at + 1
    return best * float(EVERY_MS), float(times[best_from])


def _fastest(camera: Camera, gate: Gate) -> float:
    if camera.kind == "hold":
        return 0.0
    speeds = [0.0]
    for a, b in pairwise(camera.rests):
        long_s = (b.from_ms - a.to_ms) / 1000
        way = max(abs(b.at.x - a.at.x) / gate.widest[0], abs(b.at.y - a.at.y) / gate.widest[1]) * a.at.zoom
        if long_s > 0.2 and way:
            speeds.append(way / long_s * (1.5 if camera.ease == "gentle" else 1.0))
    return max(speeds)


def _in_source(times_s: Floats, pieces: Sequence[Span]) -> Floats:
    """Moments of the cut, in seconds, as moments of the source, in ms."""
    ends = np.cumsum([piece.length_ms for piece in pieces]) / 1000
    which = np.minimum(np.searchsorted(ends, times_s, side="right"), len(pieces) - 1)
    begins = np.array([piece.start_ms for piece in pieces], np.float64)[which]
    before = np.concatenate([[0.0], ends])[which]
    moments: Floats = begins + (times_s - before) * 1000
    return moments


def _camera(
    across: Sequence[Still], down: Sequence[Still], scale: tuple[float, float], zoom: float, pieces: Sequence[Span]
) -> Camera:
    """One camera of the paths along both axes: it rests where both do."""
    gaps = _gaps([*pairwise(across), *pairwise(down)])
    length = across[-1].to_s
    edges = [0.0, *(edge for gap in gaps for edge in gap), length]
    rests: list[Rest] = []
    for number in range(0, len(edges), 2):
        from_s, to_s = edges[number], edges[number + 1]
        middle = np.array([(from_s + to_s) / 2])
        at = View(
            x=_part(float(along(across, middle)[0]) * scale[0]),
            y=_part(float(along(down, middle)[0]) * scale[1]),
            zoom=zoom,
        )
        jumped_here = number > 0 and edges[number - 1] == from_s
        jumps_next = number + 2 < len(edges) and edges[number + 2] == to_s
        begins = _moment(from_s, pieces, later=jumped_here or number == 0)
        ends = _moment(to_s, pieces, later=not jumps_next and number + 2 < len(edges))
        rests.append(Rest(from_ms=begins, to_ms=max(begins, ends), at=at))
    return Hold(at=rests[0].at) if len(rests) == 1 else Move(rests=tuple(rests))


def _part(value: float) -> float:
    return min(1.0, max(0.0, round(value, 6)))


def _gaps(pairs: Sequence[tuple[Still, Still]]) -> list[tuple[float, float]]:
    """The times between rests, where those of both axes that overlap are one."""
    gaps: list[tuple[float, float]] = []
    for start, end in sorted((a.to_s, b.from_s) for a, b in pairs):
        if gaps and (start < gaps[-1][1] or (start, end) == gaps[-1]):
            gaps[-1] = gaps[-1][0], max(gaps[-1][1], end)
        else:
            gaps.append((start, end))
    return gaps


def _moment(at_s: float, pieces: Sequence[Span], *, later: bool) -> int:
    """A moment of the cut in ms of the source; at a join, in the piece after it or in that before it."""
    at_ms = at_s * 1000
    starts = [0, *accumulate(piece.length_ms for piece in pieces)]
    for number, piece in enumerate(pieces):
        ends = starts[number + 1]
        if at_ms < ends - 0.5 or (not later and at_ms <= ends + 0.5) or number == len(pieces) - 1:
            return round(min(piece.end_ms, piece.start_ms + max(0.0, at_ms - starts[number])))
    raise AssertionError("a cut has pieces")
