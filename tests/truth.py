"""What the generator knows of the demo recordings: when each word was said, what happens in the picture, where faces are."""

import json
from typing import Any

import numpy as np

from nimble_quote.core.framing.subjects import Track
from nimble_quote.demo.load import MEDIA

RATE = 25


def truth_of(name: str) -> dict[str, Any]:
    """The truth about a demo recording."""
    told: dict[str, Any] = json.loads((MEDIA / name / "truth.json").read_text())
    return told


def face_at(truth: dict[str, Any], who: str, at_ms: float) -> tuple[float, float, float, float] | None:
    """The box (left, top, width, height in pixels) of somebody's face at a moment, where it is seen."""
    frames = truth["faces"][who]
    box = frames[min(len(frames) - 1, round(at_ms * RATE / 1000))]
    return tuple(box[:4]) if box else None


def place_of(track: Track, at_ms: float) -> tuple[float, float] | None:
    """Where a track is at a moment, between the looks on either side, in fractions of the picture; None where it is not."""
    times = [face.sample.at_ms for face in track.faces]
    if not times[0] - 200 <= at_ms <= times[-1] + 200:
        return None
    xs, ys = zip(*(face.sample.middle for face in track.faces), strict=True)
    return float(np.interp(at_ms, times, xs)), float(np.interp(at_ms, times, ys))
