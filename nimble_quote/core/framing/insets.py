"""A talking head in a corner stands in a picture of its own: its edges, by what stands still around the face."""

from collections.abc import Sequence
from itertools import product
from statistics import median

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.framing.subjects import Track

Grey = NDArray[np.float32]
Rectangle = tuple[float, float, float, float]
"""Left, top, width and height, in fractions of the picture."""

_SMALL, _OFF = 0.25, 0.15
"""A face no taller, and so far from the middle across, may be in a picture of its own."""
_LEAST_LOOKS = 40
_STEP = 10.0
"""An edge is where neighbouring pixels (0..255) differ by so much, in a picture made of many in which moving things blur."""
_ALONG = 0.8
"""And is one along so much of a side."""
_REACH = 2.6
"""It is looked for as far from the face as this, in its widths or heights."""
_WIDER, _HIGHER = 1.5, 1.3
"""How much larger than its face an inset is at least."""
_MOST_SIDES = 5
_LARGEST = 0.5
"""A part of the whole picture that is larger is no inset."""


def may_be_inset(track: Track) -> bool:
    """Whether a face is small, aside, and there for long."""
    samples = [face.sample for face in track.faces]
    aside = abs(median(one.x + one.width / 2 for one in samples) - 0.5) > _OFF
    return len(samples) >= _LEAST_LOOKS and aside and median(one.height for one in samples) < _SMALL


def inset_of(pictures: Sequence[Grey], face: Rectangle) -> Rectangle | None:
    """The picture that a face stands in, from some pictures in which it is about there; None where there is no edge around it.

    Each side is an edge all along, or the end of the whole picture; two at least are edges. Of several such the smallest is
    meant that is clearly larger than the face: hair and shoulders have edges too, but not along a rectangle.
    """
    still = np.median(np.stack(pictures), axis=0)
    rows, columns = still.shape
    left, right = round(face[0] * columns), round((face[0] + face[2]) * columns)
    top, bottom = round(face[1] * rows), round((face[1] + face[3]) * rows)
    across, down = _edges(np.abs(np.diff(still, axis=1))), _edges(np.abs(np.diff(still, axis=0)).T)
    reach_x, reach_y = round(_REACH * (right - left)), round(_REACH * (bottom - top))
    lefts, rights = _sides(across[top:bottom], left, -1, reach_x), _sides(across[top:bottom], right, 1, reach_x)
    tops, bottoms = _sides(down[left:right], top, -1, reach_y), _sides(down[left:right], bottom, 1, reach_y)
    best: tuple[int, int, int, int] | None = None
    for x0, x1, y0, y1 in product(lefts, rights, tops, bottoms):
        large = x1 - x0 >= _WIDER * (right - left) and y1 - y0 >= _HIGHER * (bottom - top)
        if not large or (best and (x1 - x0) * (y1 - y0) >= (best[1] - best[0]) * (best[3] - best[2])):
            continue
        sides = [
            (across[y0:y1], x0, columns),
            (across[y0:y1], x1, columns),
            (down[x0:x1], y0, rows),
            (down[x0:x1], y1, rows),
        ]
        inner = [(edges, at) for edges, at, end in sides if 0 < at < end]
        if len(inner) >= 2 and all(float(edges[:, at - 1].mean()) >= _ALONG for edges, at in inner):
            best = x0, x1, y0, y1
    if best is None:
        return None
    x0, x1, y0, y1 = best
    found = round(x0 / columns, 4), round(y0 / rows, 4), round((x1 - x0) / columns, 4), round((y1 - y0) / rows, 4)
    return found if found[2] * found[3] < _LARGEST else None


def _edges(steps: Grey) -> NDArray[np.bool_]:
    """Where an edge is: at a step of enough, or beside one, since a coded edge is soft and may lean a pixel."""
    there = steps >= _STEP
    wide = there.copy()
    wide[:, 1:] |= there[:, :-1]
    wide[:, :-1] |= there[:, 1:]
    return wide


def _sides(edges: NDArray[np.bool_], start: int, by: int, reach: int) -> list[int]:
    """Where a side may be, one way from a place: where there is an edge along the face, and the end of the picture in reach."""
    along = edges.mean(axis=0)
    end = 0 if by < 0 else len(along) + 1
    found = [at for at in range(start, start + by * reach, by) if 0 < at <= len(along) and along[at - 1] >= _ALONG]
    # Of an edge that is some pixels wide the middle.
    firsts = [at for at in found if at - by not in found]
    middles = [at + by * (sum(1 for n in range(8) if at + by * n in found) // 2) for at in firsts]
    return [*middles[:_MOST_SIDES], *([end] if abs(end - start) <= reach else [])]
