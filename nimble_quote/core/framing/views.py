"""Cameras at moments of the source: where each looks."""

from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.document import Rest, View
from nimble_quote.core.framing.layouts import Camera, Layout, cameras_of

Floats = NDArray[np.float64]


def view_of(layout: Layout) -> View:
    """Where the first camera of a layout rests first."""
    camera = cameras_of(layout)[0]
    return camera.at if camera.kind == "hold" else camera.rests[0].at


def rests_of(camera: Camera) -> list[Rest]:
    """Where a camera rests, in order; one that holds rests once, at any time."""
    return [Rest(from_ms=0, to_ms=0, at=camera.at)] if camera.kind == "hold" else list(camera.rests)


def view_at(camera: Camera, ms: float) -> View:
    """Where a camera looks at a moment of the source."""
    x, y, zoom = (float(values[0]) for values in views_at(camera, np.array([ms], np.float64)))
    return View(x=x, y=y, zoom=zoom)


def views_at(camera: Camera, times_ms: Floats) -> tuple[Floats, Floats, Floats]:
    """Where a camera looks at moments of the source: the x, the y and the zoom of each."""
    first = camera.at if camera.kind == "hold" else camera.rests[0].at
    out = np.repeat([[first.x], [first.y], [first.zoom]], len(times_ms), axis=1)
    for before, after in pairwise(() if camera.kind == "hold" else camera.rests):
        long = after.from_ms - before.to_ms
        begun = times_ms >= before.to_ms if long else times_ms >= after.from_ms
        part = np.clip((times_ms - before.to_ms) / long, 0, 1) if long else begun.astype(np.float64)
        if camera.kind == "move" and camera.ease == "gentle":
            part = part * part * (3 - 2 * part)
        for row, (a, b) in enumerate(
            ((before.at.x, after.at.x), (before.at.y, after.at.y), (before.at.zoom, after.at.zoom))
        ):
            out[row] = np.where(begun, a + (b - a) * part, out[row])
    return out[0], out[1], out[2]


def moves_of(camera: Camera) -> int:
    """How often a camera moves."""
    return sum(1 for a, b in pairwise(camera.rests) if b.at != a.at) if camera.kind == "move" else 0


def turning_points(camera: Camera, steps: int) -> list[float]:
    """The moments of the source between which a camera goes in a straight line, or near enough to one where each of its
    eased moves is taken as so many straight ones."""
    if camera.kind == "hold":
        return []
    points: list[float] = []
    for before, after in pairwise(camera.rests):
        many = steps if camera.ease == "gentle" else 1
        length = after.from_ms - before.to_ms
        points += [before.to_ms + length * step / many for step in range(many + 1)]
    return points
