"""How close a window is, and where in it somebody stands: rules of the craft, by the shape that is filled.

A face is measured by the box that is found around it, nine tenths of the way from hairline to chin.

        of the window's height    9:16   4:5    1:1    16:9   eyes from its top
        close                     0.28   0.32   0.36   0.40   0.37
        medium                    0.20   0.22   0.25   0.26   0.34
        wide                      0.11   0.12   0.13   0.14   0.31

A narrow shape that showed a face as large as a wide one would have no room for the shoulders. Closeness is told against
medium, so that one choice means the same in each shape.
"""

from math import log

import numpy as np

HAIR_ABOVE, CHIN_BELOW, CHEST_BELOW, EYES_BELOW = 0.45, 1.1, 1.7, 0.35
"""Where hair ends, chin and chest begin, and eyes are, in heights of the face below its top (hair: above it)."""
_CLEAR = 0.015
"""The part of a window's height between a face and what stands over the picture."""
_SHAPES = (9 / 16, 4 / 5, 1.0, 16 / 9)
_MEDIUM = (0.20, 0.22, 0.25, 0.26)
_LEAD = (0.06, 0.08, 0.10, 0.13)
"""Room on the side that somebody looks to, in widths of the window."""
WIDE, MEDIUM, CLOSE = 0.55, 1.0, 1.42
"""Closeness: of faces a little over half, as large as, and nearly half as large again as in a medium shot."""
_EYES = ((WIDE, 0.31), (MEDIUM, 0.34), (CLOSE, 0.37))
MOST_ENLARGED = 2.0
"""Beyond this a coded source looks soft; the first answer never goes there."""
_LOOSEST = 0.7
"""The first answer leaves a face that is so close, or closer: the camera that was there chose it."""


def face_share(aspect: float, closeness: float) -> float:
    """The height of a face at a closeness, in heights of a window whose width is `aspect` times its height."""
    return float(np.interp(log(aspect), [log(one) for one in _SHAPES], _MEDIUM)) * closeness


def closeness_of(aspect: float, share: float) -> float:
    """How close a window is in which a face has that share of the height."""
    return share / face_share(aspect, 1.0)


def eye_line(closeness: float) -> float:
    """How far from the top of the window the eyes are best, in its heights."""
    known = [log(one) for one, _ in _EYES]
    return float(np.interp(log(max(closeness, 0.01)), known, [eyes for _, eyes in _EYES]))


def clear_eye_line(eyes: float, face: float, free: tuple[float, float]) -> float:
    """Where the eyes stand, so that a face of that share of the window's height is between what covers its top and its bottom;
    where there is no room for both, the hair may be covered and not the chin."""
    above, below = (HAIR_ABOVE + EYES_BELOW) * face + _CLEAR, (CHIN_BELOW - EYES_BELOW) * face + _CLEAR
    return min(max(eyes, free[0] + above), free[1] - below)


def lead_room(aspect: float) -> float:
    """The room on the side that somebody looks to, in widths of the window."""
    return float(np.interp(log(aspect), [log(one) for one in _SHAPES], _LEAD))


def first_closeness(as_it_is: float) -> float:
    """How close the first answer is, where a window that is as wide as can be shows a face at that closeness."""
    return max(as_it_is, _LOOSEST)


def closeness_said(closeness: float) -> str:
    """How close a window is, in a word."""
    if closeness >= (MEDIUM * CLOSE) ** 0.5:
        return "close"
    return "medium" if closeness >= (WIDE * MEDIUM) ** 0.5 else "wide"
