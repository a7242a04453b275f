"""Drawings of the script that are no text: lines that grow, waves that move, marks. Each as what an event says: from which frame,
to which, its tags and its shape."""

from collections.abc import Iterator, Sequence
from fractions import Fraction
from itertools import groupby, pairwise
from math import cos, hypot, pi, sin

from nimble_quote.core.assembly.placed import QUIET, PlacedBar, PlacedCode, PlacedStrokes, PlacedWave, Shift, Strip
from nimble_quote.core.document import Colour
from nimble_quote.core.timebase import ms_at
from nimble_quote.formats.ass.notation import STEPS, alpha, colour, rounded

Point = tuple[float, float]
Drawn = tuple[int, int, str, str]
"""The first frame, the end, tags, and the shape."""
_GROWS_FROM = {"left": 7, "top": 7, "right": 9, "bottom": 1}
_WAVE_LEAST = 0.06
"""A part of a wave is so high at least, so that it is seen where nobody speaks."""
_UNPLAYED = 0.4
"""How much is seen of what of a wave has not been heard yet."""
_DRAWN_IN = 12
"""A mark is drawn on in so many steps at most."""
_CORNERS = 8


def bar(one: PlacedBar, rate: Fraction) -> Iterator[Drawn]:
    """A line that grows strip after strip, each in its share of the time."""
    lengths = [max(strip.width, strip.height) for strip in one.strips]
    long, at = sum(lengths), 0.0
    frames = one.end_frame - one.first_frame
    for strip, length in zip(one.strips, lengths, strict=True):
        shape = rounded([(0, 0, strip.width, strip.height)], 0)
        if one.track is not None:
            place = rf"\an7\pos({strip.x:g},{strip.y:g})"
            yield one.first_frame, one.end_frame, rf"{place}\1c{colour(one.track)}", shape
        first = one.first_frame + round(frames * at / long)
        end = one.first_frame + round(frames * (at + length) / long)
        at += length
        if first < one.end_frame:
            yield first, one.end_frame, _growing(strip, round(ms_at(end - first, rate)), one.colour), shape


def _growing(strip: Strip, ms: int, code: Colour) -> str:
    grows = "fscx" if strip.side in ("left", "right") else "fscy"
    x = strip.x + strip.width if strip.side == "right" else strip.x
    y = strip.y + strip.height if strip.side == "bottom" else strip.y
    return rf"\an{_GROWS_FROM[strip.side]}\pos({x:g},{y:g})\1c{colour(code)}\{grows}0\t(0,{ms},\{grows}100)"


def wave(one: PlacedWave, output: tuple[int, int], rate: Fraction) -> Iterator[Drawn]:
    """A wave, as one event for each of its steps; a line as two, the second of which is uncovered as the clip is heard."""
    tags = rf"\an7\pos(0,0)\1c{colour(one.colour)}"
    box = one.area.x * output[0], one.area.y * output[1], one.area.width * output[0], one.area.height * output[1]
    if one.form == "line":
        shape = _bars(box, list(bytes.fromhex(one.levels[0])))
        x, y, width, height = (round(value) for value in box)
        ms = round(ms_at(one.end_frame - one.first_frame, rate))
        yield one.first_frame, one.end_frame, rf"{tags}\1a{alpha(_UNPLAYED)}", shape
        covered, whole = f"{x},{y},{x},{y + height}", f"{x},{y},{x + width},{y + height}"
        yield one.first_frame, one.end_frame, rf"{tags}\clip({covered})\t(0,{ms},\clip({whole}))", shape
        return
    draw = {"bars": _bars, "dots": _dots, "ring": _ring}[one.form]
    step = one.step_frames
    begins = one.first_frame // step
    for number, levels in enumerate(one.levels):
        first = max(one.first_frame, (begins + number) * step)
        end = min(one.end_frame, (begins + number + 1) * step)
        if first < end:
            yield first, end, tags, draw(box, list(bytes.fromhex(levels)))


Box = tuple[float, float, float, float]


def _bars(box: Box, levels: Sequence[int]) -> str:
    x, y, width, height = box
    step = width / len(levels)
    wide = step * 0.6
    highs = [max(wide, height * max(_WAVE_LEAST, level / 255)) for level in levels]
    bars = [(x + step * (n + 0.2), y + (height - high) / 2, wide, high) for n, high in enumerate(highs)]
    return rounded(bars, wide / 2)


def _dots(box: Box, levels: Sequence[int]) -> str:
    x, y, width, height = box
    step = width / len(levels)
    sizes = [min(height, step * (0.2 + 0.75 * level / 255)) for level in levels]
    dots = [(x + step * (n + 0.5) - size / 2, y + (height - size) / 2, size, size) for n, size in enumerate(sizes)]
    return rounded(dots, height)


def _ring(box: Box, levels: Sequence[int]) -> str:
    """Rays around a ring, the first at its top."""
    x, y, width, height = box
    middle, outer = (x + width / 2, y + height / 2), min(width, height) / 2
    inner, wide = outer * 0.62, 2 * pi * outer * 0.62 / len(levels) * 0.5
    rays = []
    for number, level in enumerate(levels):
        turn = 2 * pi * number / len(levels) - pi / 2
        reach = inner + (outer - inner) * max(_WAVE_LEAST, level / 255)
        rays.append([_on(middle, inner, turn), _on(middle, reach, turn)])
    return " ".join(_thick(ray, wide) for ray in rays)


def _on(middle: Point, radius: float, turn: float) -> Point:
    return middle[0] + radius * cos(turn), middle[1] + radius * sin(turn)


def strokes(one: PlacedStrokes) -> Iterator[Drawn]:
    """A mark as it is drawn on, step by step, and then as it stands."""
    steps = min(_DRAWN_IN, max(1, one.draw_frames))
    edges = [one.first_frame + round(one.draw_frames * n / steps) for n in range(steps)]
    for number, (first, end) in enumerate(pairwise([*edges, one.end_frame])):
        part = (number + 1) / steps
        shape = " ".join(
            _thick(points, one.width_px)
            for points in _as_far_as([[(spot.x, spot.y) for spot in stroke] for stroke in one.strokes], part)
        )
        if shape and first < end:
            for a, b, moves in _moving(one.path, first, end):
                yield a, b, rf"\an7{moves}\1c{colour(one.colour)}", shape


def code(one: PlacedCode) -> Iterator[Drawn]:
    """A QR code: its light plate, and all that is dark as one shape."""
    size = one.cell_px * (len(one.rows) + 2 * QUIET)
    place = rf"\an7\pos({one.x_px},{one.y_px})"
    yield one.first_frame, one.end_frame, rf"{place}\1c{colour('#FFFFFF')}", rounded([(0, 0, size, size)], one.cell_px)
    boxes = []
    for down, row in enumerate(one.rows):
        at = 0
        for dark, cells in groupby(row):
            long = len(list(cells))
            if dark == "1":
                box = (at + QUIET, down + QUIET, long, 1)
                boxes.append(tuple(one.cell_px * value for value in box))
            at += long
    dark_shape = rounded([(x, y, width, height) for x, y, width, height in boxes], 0)
    yield one.first_frame, one.end_frame, rf"{place}\1c{colour('#000000')}", dark_shape


def _moving(path: Sequence[Shift], first: int, end: int) -> Iterator[tuple[int, int, str]]:
    """The stretches of some frames in which something moves straight, each with how it does."""
    if not path:
        yield first, end, r"\pos(0,0)"
        return
    for a, b in pairwise(sorted({first, end, *(key.frame for key in path if first < key.frame < end)})):
        # An event begins half a frame before its first frame, and ends as much before the next.
        (x1, y1), (x2, y2) = _shift_at(path, a - 0.5), _shift_at(path, b - 0.5)
        still = abs(x1 - x2) < 0.01 and abs(y1 - y2) < 0.01
        yield a, b, rf"\pos({x1:.2f},{y1:.2f})" if still else rf"\move({x1:.2f},{y1:.2f},{x2:.2f},{y2:.2f})"


def _shift_at(path: Sequence[Shift], frame: float) -> Point:
    """How far something has moved at a frame: straight from key to key, still before the first and after the last."""
    after = next((number for number, key in enumerate(path) if key.frame > frame), len(path))
    if after in (0, len(path)):
        key = path[0] if after == 0 else path[-1]
        return key.x, key.y
    one, other = path[after - 1], path[after]
    part = (frame - one.frame) / (other.frame - one.frame)
    return one.x + (other.x - one.x) * part, one.y + (other.y - one.y) * part


def _as_far_as(all_strokes: Sequence[Sequence[Point]], part: float) -> Iterator[list[Point]]:
    """Strokes as far as they are drawn when so much of all is."""
    lengths = [sum(_apart(a, b) for a, b in pairwise(one)) for one in all_strokes]
    left = sum(lengths) * part
    for points, length in zip(all_strokes, lengths, strict=True):
        if left <= 0:
            return
        yield list(points) if left >= length - 1e-6 else _first_of(points, left)
        left -= length


def _first_of(points: Sequence[Point], left: float) -> list[Point]:
    out = [points[0]]
    for a, b in pairwise(points):
        far = _apart(a, b)
        if far >= left:
            return [*out, (a[0] + (b[0] - a[0]) * left / far, a[1] + (b[1] - a[1]) * left / far)]
        out.append(b)
        left -= far
    return out


def _apart(a: Point, b: Point) -> float:
    return hypot(b[0] - a[0], b[1] - a[1])


def _thick(points: Sequence[Point], width: float) -> str:
    """A line with round ends and corners: a box along each piece, and a disc at each point, all turned one way so that they add up."""
    half = width / 2
    parts = [_disc(point, half) for point in points]
    for a, b in pairwise(points):
        far = _apart(a, b)
        if far > 1e-6:
            dx, dy = (b[0] - a[0]) / far * half, (b[1] - a[1]) / far * half
            parts.append(
                _polygon(
                    [(a[0] + dy, a[1] - dx), (b[0] + dy, b[1] - dx), (b[0] - dy, b[1] + dx), (a[0] - dy, a[1] + dx)]
                )
            )
    return " ".join(parts)


def _disc(middle: Point, radius: float) -> str:
    return _polygon([_on(middle, radius, 2 * pi * n / _CORNERS) for n in range(_CORNERS)])


def _polygon(points: Sequence[Point]) -> str:
    told = [f"{round(x * STEPS)} {round(y * STEPS)}" for x, y in points]
    return f"m {told[0]} l {' '.join(told[1:])}"
