"""The picture of an Assembly: the kept spans laid end to end on the frame grid, each framed as its shot is."""

import math
from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise
from math import ceil, floor

import numpy as np

from nimble_quote.core.assembly.model import RECORDING, Key, LightKey, Panel, PanelLight, PictureRun
from nimble_quote.core.cutting.playing import Played, length_of
from nimble_quote.core.destinations import Destination
from nimble_quote.core.document import View
from nimble_quote.core.framing.framed import FramedShot
from nimble_quote.core.framing.layouts import Camera, Layout, cameras_of, pixels_of, tile_boxes
from nimble_quote.core.framing.lighting import Light
from nimble_quote.core.framing.views import turning_points, views_at
from nimble_quote.core.framing.window import Rectangle, even, filling, fitting
from nimble_quote.core.model import Frozen
from nimble_quote.core.timebase import ms_at

_OFF_PX = 0.2
SOFTENED_SCALE = 1.06
"""How much larger every other segment is shown where jumps are softened: enough to look meant, too little to go soft."""


class Segment(Frozen):
    """A stretch of source on the frame grid of the output: `frames` frames of it from `first_frame`, which show the
    source from `source_frame` on, `step` frames of it for each."""

    source_frame: int
    frames: int
    first_frame: int
    step: Fraction = Fraction(1)
    goes_on: bool = False
    """Whether the source goes on here where the segment before has left it."""


@dataclass(frozen=True, kw_only=True)
class Stage:
    """What runs are framed for: the size of the source, the output, and the rate."""

    source: tuple[int, int]
    destination: Destination
    rate: Fraction

    @property
    def output(self) -> tuple[int, int]:
        return self.destination.width, self.destination.height


def step_of(speed: float) -> Fraction:
    """A speed as the exact fraction of source frames for each frame of the output."""
    return Fraction(speed).limit_denominator(1000)


def frames_of(stretches: Sequence[Played], rate: Fraction) -> int:
    """How many frames a cut makes: the whole frames in its length, so that no limit is passed by rounding."""
    # A thousandth of a frame is no sound that anybody misses, and no length that a limit is passed by.
    return max(1, floor(length_of(stretches) * rate.numerator / rate.denominator / 1000 + 1e-3))


def lay_out(stretches: Sequence[Played], rate: Fraction) -> tuple[Segment, ...]:
    """Lays the picture of a cut end to end on the frame grid, under the sound, which is cut to the millisecond.

    Each join falls on the frame nearest to that of the sound, so that picture and sound are never more than half a
    frame apart, whatever the number of joins. A stretch too short for a frame shows none.
    """
    segments: list[Segment] = []
    frame, end = 0, frames_of(stretches, rate)
    for one in stretches:
        until = min(end, _nearest(one.out_end_ms, rate)) if one is not stretches[-1] else end
        if until > frame:
            begins = max(0, _nearest(one.source_ms + ms_at(frame, rate) * one.times - one.out_ms * one.times, rate))
            segments.append(
                Segment(
                    source_frame=begins, frames=until - frame, first_frame=frame, step=step_of(one.times),
                    goes_on=one.goes_on and bool(segments),
                )
            )  # fmt: skip
            frame = until
    return tuple(segments)


def framed(
    segments: Sequence[Segment], shots: Sequence[FramedShot], stage: Stage, *, softened: bool
) -> tuple[PictureRun, ...]:
    """The runs of some segments: each parted where its shots are framed differently."""
    runs: list[PictureRun] = []
    joins = 0
    for number, segment in enumerate(segments):
        joins += 1 if number and not segment.goes_on else 0
        scale = SOFTENED_SCALE if softened and joins % 2 else 1.0
        for part, shot in _by_shot(segment, shots, stage):
            run = PictureRun(
                first_frame=part.first_frame,
                frames=part.frames,
                source=RECORDING,
                source_frame=part.source_frame,
                step=segment.step,
                behind=shot.behind,
                tone=shot.tone,
            )
            panels = panels_of(shot.layout, run, stage, scale)
            runs.append(run.model_copy(update={"panels": lit(panels, shot.lights, run, stage)}))
    return tuple(runs)


def panels_of(layout: Layout, run: PictureRun, stage: Stage, scale: float = 1.0) -> tuple[Panel, ...]:
    """The panels of a layout during a run; `scale` shows each window so much larger."""
    width, height = stage.output
    if layout.kind == "whole":
        window, box = fitting(layout.at, stage.source, stage.output, layout.size, layout.height)
        return (_panel(box, (Key(frame=run.first_frame, window=window.closer(scale)),)),)
    if layout.kind == "single":
        return (_filled((0, 0, width, height), layout.camera, run, stage, scale),)
    boxes = (
        tile_boxes(layout, stage.output)
        if layout.kind == "tiles"
        else [pixels_of(box, stage.output) for box in layout.boxes]
    )
    return tuple(_filled(box, camera, run, stage, scale) for box, camera in zip(boxes, cameras_of(layout), strict=True))


def _by_shot(segment: Segment, shots: Sequence[FramedShot], stage: Stage) -> list[tuple[Segment, FramedShot]]:
    """A segment in parts of one layout each. A cut falls on the first frame that shows what is after it."""
    edges = sorted({_nearest(shot.span.start_ms, stage.rate) for shot in shots})
    cuts = {ceil((edge - segment.source_frame) / segment.step) for edge in edges}
    inside = [0, *sorted(cut for cut in cuts if 0 < cut < segment.frames), segment.frames]
    parts: list[tuple[Segment, FramedShot]] = []
    for a, b in pairwise(inside):
        begins = segment.source_frame + floor(a * segment.step)
        middle_ms = ms_at(begins, stage.rate) + ms_at(b - a, stage.rate) * float(segment.step) / 2
        shot = shots[max(0, bisect_right(shots, middle_ms, key=lambda one: one.span.start_ms) - 1)]
        if parts and _drawn_alike(parts[-1][1], shot):
            longer = parts[-1][0].model_copy(update={"frames": parts[-1][0].frames + b - a})
            parts[-1] = (longer, shot)
        else:
            part = segment.model_copy(
                update={"source_frame": begins, "frames": b - a, "first_frame": segment.first_frame + a}
            )
            parts.append((part, shot))
    return parts


def _drawn_alike(one: FramedShot, other: FramedShot) -> bool:
    return (one.layout, one.behind, one.tone, one.lights) == (other.layout, other.behind, other.tone, other.lights)


def lit(panels: tuple[Panel, ...], lights: Sequence[Light], run: PictureRun, stage: Stage) -> tuple[Panel, ...]:
    """Panels with the light on the faces in them."""
    of = {light.panel: light for light in lights}
    return tuple(
        panel.model_copy(update={"light": _light(panel, of[number], run, stage)}) if number in of else panel
        for number, panel in enumerate(panels)
    )


def _light(panel: Panel, light: Light, run: PictureRun, stage: Stage) -> PanelLight:
    """A light as it falls on a panel during a run: a key where the face turns, or the window does."""
    last = run.end_frame - 1
    turns = (run.first_frame + _steps(at.at_ms, run, stage) for at in light.path)
    inside = (frame for frame in (*turns, *(key.frame for key in panel.keys)) if run.first_frame < frame < last)
    times = [at.at_ms for at in light.path]
    keys = []
    for frame in sorted({run.first_frame, last, *inside}):
        window, ms = panel.window_at(frame), ms_at(run.source_at(frame), stage.rate)
        x, y = (
            float(np.interp(ms, times, values)) for values in zip(*((at.x, at.y) for at in light.path), strict=True)
        )
        across, down = (x - window.x) / window.width, (y - window.y) / window.height
        keys.append(LightKey(frame=frame, x=round(across * panel.width_px, 2), y=round(down * panel.height_px, 2)))
    middle = panel.window_at((run.first_frame + last) / 2)
    return PanelLight(
        strength=light.strength,
        width_px=even(light.width / middle.width * panel.width_px),
        height_px=even(light.height / middle.height * panel.height_px),
        keys=tuple(keys),
    )


def _filled(box: Rectangle, camera: Camera, run: PictureRun, stage: Stage, scale: float) -> Panel:
    """A box with the windows of a camera in it: a key where it turns, and one at either end of the run if it moves."""
    last = run.end_frame - 1
    turns = (
        run.first_frame + _steps(ms, run, stage) for ms in turning_points(camera, _straight_steps(camera, box, stage))
    )
    frames = sorted({run.first_frame, last, *(frame for frame in turns if run.first_frame < frame < last)})
    moments = np.array([ms_at(run.source_at(frame), stage.rate) for frame in frames], np.float64)
    views = zip(*(values.tolist() for values in views_at(camera, moments)), strict=True)
    windows = (filling(View(x=x, y=y, zoom=zoom), stage.source, box[2:]).closer(scale) for x, y, zoom in views)
    keys = [Key(frame=frame, window=window) for frame, window in zip(frames, windows, strict=True)]
    return _panel(box, _without_repeats(keys))


def _straight_steps(camera: Camera, box: Rectangle, stage: Stage) -> int:
    """So many straight steps that an eased move is off by a fifth of a pixel at most: over a way of n steps that is three
    quarters of the way, divided by n squared."""
    if camera.kind == "hold":
        return 1
    scale = box[2] / filling(View(), stage.source, box[2:]).width
    zoom = max(rest.at.zoom for rest in camera.rests)
    ways = (
        max(abs(a.at.x - b.at.x), abs(a.at.y - b.at.y), abs(a.at.zoom - b.at.zoom) / 2)
        for a, b in pairwise(camera.rests)
    )
    return max(2, ceil(math.sqrt(0.75 * max(ways) * scale * zoom / _OFF_PX)))


def _steps(ms: float, run: PictureRun, stage: Stage) -> int:
    """How many frames of the output after the beginning of a run the source comes to a moment."""
    return round((ms * stage.rate / 1000 - run.source_frame) / run.step)


def _without_repeats(keys: list[Key]) -> tuple[Key, ...]:
    """Keys without those between two that show the same window, and a last one like the one before it."""
    kept = [
        key
        for index, key in enumerate(keys)
        if index == 0
        or key.window != keys[index - 1].window
        or (index + 1 < len(keys) and key.window != keys[index + 1].window)
    ]
    return tuple(kept)


def _panel(box: Rectangle, keys: tuple[Key, ...]) -> Panel:
    x, y, width, height = box
    return Panel(x_px=x, y_px=y, width_px=width, height_px=height, keys=keys)


def _nearest(ms: float, rate: Fraction) -> int:
    """The frame boundary nearest to a moment (halves go up)."""
    return floor(ms * rate.numerator / rate.denominator / 1000 + 0.5)
