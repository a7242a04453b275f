"""Cameras at moments of the source: where each looks."""

from itertools import pairwise

from nimble_quote.core.document import Camera, Layout, Move, Rest, View

EASED_STEPS = 8
"""An eased move is as good as so many straight ones: it is off by less than a hundredth of its way."""


def view_of(layout: Layout) -> View:
    """Where the first camera of a layout rests first."""
    if layout.kind == "whole":
        return layout.at
    camera = layout.camera if layout.kind == "single" else layout.tiles[0].camera
    return camera.at if camera.kind == "hold" else camera.rests[0].at


def view_at(camera: Camera, ms: float) -> View:
    """Where a camera looks at a moment of the source."""
    if camera.kind == "hold":
        return camera.at
    rests = camera.rests
    if ms <= rests[0].to_ms:
        return rests[0].at
    for before, after in pairwise(rests):
        if ms < after.from_ms:
            return _between(before, after, ms, camera)
        if ms <= after.to_ms:
            return after.at
    return rests[-1].at


def turning_points(camera: Camera) -> list[float]:
    """The moments of the source between which a camera goes in a straight line, or near enough to one."""
    if camera.kind == "hold":
        return []
    points: list[float] = []
    for before, after in pairwise(camera.rests):
        steps = EASED_STEPS if camera.ease == "gentle" else 1
        length = after.from_ms - before.to_ms
        points += [before.to_ms + length * step / steps for step in range(steps + 1)]
    return points


def _between(before: Rest, after: Rest, ms: float, camera: Move) -> View:
    part = (ms - before.to_ms) / (after.from_ms - before.to_ms)
    if camera.ease == "gentle":
        part = part * part * (3 - 2 * part)
    a, b = before.at, after.at

    def mixed(one: float, other: float) -> float:
        return one + (other - one) * part

    return View(x=mixed(a.x, b.x), y=mixed(a.y, b.y), zoom=mixed(a.zoom, b.zoom))
