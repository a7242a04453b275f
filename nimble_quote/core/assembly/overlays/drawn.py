"""What is drawn over the picture: lines that grow with the clip, the sound as it is heard, pictures, marks."""

from collections.abc import Sequence
from itertools import pairwise
from math import cos, hypot, pi, sin

import numpy as np
from numpy.typing import NDArray

from nimble_quote.core.assembly.model import Assembly, Panel, Sound
from nimble_quote.core.assembly.overlays.marking import in_panel
from nimble_quote.core.assembly.placed import Spot, Strip
from nimble_quote.core.cutting.playing import source_at, stretch_at
from nimble_quote.core.document import Mark, Progress, SoundWave
from nimble_quote.core.framing.window import even
from nimble_quote.core.talk import LEVEL_MS, Levels
from nimble_quote.core.timebase import ms_at

Point = tuple[float, float]
Stroke = tuple[Spot, ...]
PARTS = {"bars": 25, "dots": 17, "ring": 40, "line": 96}
"""Of how many parts a wave is made."""
_STEP_S = 0.08
"""A wave moves about so often: more often nobody sees."""
_LOUD = 95
"""What is louder than so many hundredths of what is heard is as high as a wave goes."""
_HEAD = 0.22
"""How long the head of an arrow is, against its shaft; and at most so many widths of its line."""
_HEAD_MOST, _HEAD_ANGLE = 9.0, pi / 7
_AROUND = 48


def strips_of(progress: Progress, output: tuple[int, int]) -> tuple[Strip, ...]:
    """The strips that a line of progress grows over, one after another."""
    width, height = output
    thick = max(2.0, round(progress.thickness * min(output)))
    top = Strip(x=0, y=0, width=width, height=thick, side="left")
    bottom = Strip(x=0, y=height - thick, width=width, height=thick, side="left")
    if progress.edge != "around":
        return (top if progress.edge == "top" else bottom,)
    beside = {"y": thick, "width": thick, "height": height - 2 * thick}
    return (
        top,
        Strip(x=width - thick, **beside, side="top"),
        bottom.model_copy(update={"side": "right"}),
        Strip(x=0, **beside, side="bottom"),
    )


def step_of_wave(assembly: Assembly) -> int:
    """How many frames a wave stands before it moves."""
    return max(1, round(_STEP_S * assembly.rate))


def levels_of_wave(wave: SoundWave, assembly: Assembly, heard: Levels, first: int, end: int) -> tuple[str, ...]:
    """How loud each part of a wave is at each of its steps between two frames; see `PlacedWave`."""
    sound = _heard(assembly, heard)
    count = PARTS[wave.form]
    if wave.form == "line":
        edges = np.linspace(0, len(sound), count + 1).astype(int)
        return (bytes(int(sound[a : max(a + 1, b)].max(initial=0)) for a, b in pairwise(edges)).hex(),)
    step = step_of_wave(assembly)
    calm = _calmed(sound, wave.calm)
    # From the middle outwards each part shows what the one before it showed a step ago: the voice runs out to both sides.
    back = (
        np.abs(np.arange(count) - count // 2)
        if wave.form != "ring"
        else np.minimum(np.arange(count), count - np.arange(count))
    )
    lower = 1 - 0.6 * back / max(1, back.max())
    steps = range(first // step, -(-end // step))
    rows = (np.clip(calm[np.clip(now - back, 0, len(calm) - 1)] * lower, 0, 255).astype(np.uint8) for now in steps)
    return tuple(row.tobytes().hex() for row in rows)


def _heard(assembly: Assembly, heard: Levels) -> NDArray[np.float64]:
    """How loud the clip is at each step of a wave, 0 to 255 of what is loud in it."""
    step = step_of_wave(assembly)
    at_ms = np.arange(-(-assembly.frames // step)) * ms_at(step, assembly.rate)
    values = np.frombuffer(heard.values, np.uint8).astype(float)
    out = np.zeros(len(at_ms))
    wide = max(1, round(ms_at(step, assembly.rate) / LEVEL_MS))
    for number, at in enumerate(at_ms):
        source_ms = source_at(assembly.sound.played, at)
        if source_ms is None or stretch_at(assembly.sound.played, at).silent or _hushed(assembly.sound, source_ms):
            continue
        first = (source_ms - heard.from_ms) // LEVEL_MS
        if 0 <= first < len(values):
            out[number] = values[first : first + wide].max()
    loud = float(np.percentile(out, _LOUD)) if len(out) else 0.0
    return np.clip(out / loud, 0, 1) * 255 if loud > 0 else out


def _hushed(sound: Sound, source_ms: int) -> bool:
    return any(one.hushed and one.source_ms <= source_ms < one.end_ms for one in sound.speech)


def _calmed(sound: NDArray[np.float64], calm: float) -> NDArray[np.float64]:
    """Levels that fall no faster than they may; they rise at once, so that a wave is never behind the voice."""
    out = sound.copy()
    for number in range(1, len(out)):
        out[number] = max(out[number], out[number - 1] * calm)
    return out


def box_of_picture(longest_px: float, picture: tuple[int, int]) -> tuple[int, int]:
    """The even size of a picture whose longer side is as long as told."""
    scale = longest_px / max(picture)
    return max(2, even(picture[0] * scale)), max(2, even(picture[1] * scale))


def strokes_of(mark: Mark, panel: Panel, frame: int, width_px: float) -> tuple[Stroke, ...]:
    """The lines of a mark where the recording's picture stands in a panel at a frame."""
    return tuple(
        tuple(Spot(x=round(x, 2), y=round(y, 2)) for x, y in stroke)
        for stroke in _lines_of(mark, [in_panel((point.x, point.y), panel, frame) for point in mark.points], width_px)
    )


def _lines_of(mark: Mark, points: Sequence[Point], width_px: float) -> tuple[tuple[Point, ...], ...]:
    a, b = points[0], points[-1]
    if mark.form == "freehand":
        return (tuple(points),)
    if mark.form == "underline":
        return ((a, b),)
    if mark.form == "box":
        return ((a, (b[0], a[1]), b, (a[0], b[1]), a),)
    if mark.form in ("ring", "spotlight"):
        middle, across, down = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2), abs(b[0] - a[0]) / 2, abs(b[1] - a[1]) / 2
        turns = (2 * pi * n / _AROUND - pi / 2 for n in range(_AROUND + 1))
        return (tuple((middle[0] + across * cos(turn), middle[1] + down * sin(turn)) for turn in turns),)
    return _arrow(a, b, width_px)


def _arrow(start: Point, tip: Point, width_px: float) -> tuple[tuple[Point, ...], ...]:
    dx, dy = start[0] - tip[0], start[1] - tip[1]
    length = hypot(dx, dy) or 1.0
    head = min(_HEAD * length, _HEAD_MOST * width_px) / length
    sides = [
        (tip[0] + head * (dx * cos(turn) - dy * sin(turn)), tip[1] + head * (dx * sin(turn) + dy * cos(turn)))
        for turn in (_HEAD_ANGLE, -_HEAD_ANGLE)
    ]
    return ((start, tip), (sides[0], tip, sides[1]))
