"""Graphics that stand still over the picture, as a logo in a corner does: found by what is the same in shots that are not alike,
and kept whole, or out, where a window can."""

from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.document import View
from nimble_quote.core.framing.camera import Gate
from nimble_quote.core.framing.layouts import Camera, Hold
from nimble_quote.core.framing.views import rests_of
from nimble_quote.core.framing.window import filling

Grey = NDArray[np.float32]
Rectangle = tuple[float, float, float, float]
"""Left, top, width and height, in fractions of the picture."""

LEAST_PICTURES = 3
"""Fewer shots that are not alike tell nothing: two rooms can have an edge at the same place."""
_OFTEN = 0.8
"""A graphic is in so many of them."""
_STEP = 24.0
"""An edge of a graphic: neighbouring pixels (0..255) differ by so much."""
_SAME = 14.0
"""And by about the same in each picture."""
_NEAR = 0.025
"""Edges no further apart than this part of the picture's height are of one graphic."""
_LEAST_EDGES = 12
_SMALLEST, _LARGEST = 0.0004, 0.12
"""Less of the picture's area is a speck, more is a border or a layout."""
_TOUCHED = 0.08
"""A graphic is cut where a window shows more than this part of it, and leaves out more."""
_ASIDE = 0.35
"""A window goes aside for a graphic by no more of its width."""


def find_graphics(pictures: Sequence[Grey]) -> list[Rectangle]:
    """The graphics in some pictures of shots that are not alike; none where there are too few."""
    if len(pictures) < LEAST_PICTURES:
        return []
    # Loaded here: the server, which never needs it, would load it at every start.
    from scipy import ndimage

    edges = _lasting(pictures, 1) | _lasting(pictures, 0)
    rows, columns = edges.shape
    near = max(1, round(_NEAR * rows))
    joined, _ = ndimage.label(ndimage.binary_dilation(edges, np.ones((3, 3)), iterations=near))
    found = []
    for number, (down, across) in enumerate(ndimage.find_objects(joined), 1):
        mine = edges[down, across] & (joined[down, across] == number)
        ys, xs = np.nonzero(mine)
        if len(ys) < _LEAST_EDGES:
            continue
        left, top = (across.start + xs.min()) / columns, (down.start + ys.min()) / rows
        # The far edge is between this pixel and the next.
        right, bottom = (across.start + xs.max() + 1) / columns, (down.start + ys.max() + 1) / rows
        if _SMALLEST <= (right - left) * (bottom - top) <= _LARGEST:
            found.append((float(left), float(top), float(right - left), float(bottom - top)))
    return found


def _lasting(pictures: Sequence[Grey], axis: int) -> NDArray[np.bool_]:
    """Where, along an axis, an edge is in nearly all pictures, the same in each."""
    steps = np.stack([np.diff(one, axis=axis, append=one.take([-1], axis=axis)) for one in pictures])
    usual = np.median(steps, axis=0)
    same = (np.abs(steps - usual) <= _SAME).mean(axis=0) >= _OFTEN
    lasting: NDArray[np.bool_] = same & (np.abs(usual) >= _STEP)
    return lasting


def cut_at(camera: Camera, graphics: Sequence[Rectangle], gate: Gate) -> int | None:
    """When a camera first rests where it cuts through a graphic, in ms of the source; None where it never does."""
    cut = (rest.from_ms for rest in rests_of(camera) if any(_cuts(rest.at, one, gate) for one in graphics))
    return next(cut, None)


def clear_of(camera: Camera, graphics: Sequence[Rectangle], gate: Gate, as_good: Callable[[Camera], bool]) -> Camera:
    """A still camera, moved across by as little as leaves each graphic whole or out; as it was where that is too far, or where
    what it shows is then not as good."""
    if camera.kind != "hold" or cut_at(camera, graphics, gate) is None:
        return camera
    wide = gate.widest[0] / camera.at.zoom
    edges = {edge for left, _, width, _ in graphics for edge in (left, left + width)}
    # With one of its sides at an edge of a graphic, a window has that graphic whole, or not at all.
    places = {middle for edge in edges for middle in (edge - wide / 2, edge + wide / 2)}
    for x in sorted(places, key=lambda one: abs(one - camera.at.x)):
        tried = Hold(at=camera.at.model_copy(update={"x": round(x, 6)}))
        inside = wide / 2 - 1e-9 <= x <= 1 - wide / 2 + 1e-9
        near = abs(x - camera.at.x) <= _ASIDE * wide
        if inside and near and cut_at(tried, graphics, gate) is None and as_good(tried):
            return tried
    return camera


def _cuts(view: View, graphic: Rectangle, gate: Gate) -> bool:
    window = filling(view, gate.source, gate.box)
    across = min(window.x + window.width, graphic[0] + graphic[2]) - max(window.x, graphic[0])
    down = min(window.y + window.height, graphic[1] + graphic[3]) - max(window.y, graphic[1])
    if across <= 0 or down <= 0:
        return False
    shown = across / graphic[2] * down / graphic[3]
    return _TOUCHED < shown < 1 - _TOUCHED
