"""The harbour wall: one take of a speaker who walks, turns away to the water, is passed by somebody, and points at a boat."""

import math
from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise

import cairo
import numpy as np

from nimble_quote.demo.generator.paint import fill, oval, rgb
from nimble_quote.demo.generator.people import EDDA, RATE, TAM, Face, Look, Pose, draw_behind, draw_person, poses
from nimble_quote.demo.generator.scene import Drawn, Shown

WIDTH, HEIGHT = 1280, 720
_SIZE, _PASSING_SIZE = 0.44, 0.5
_PLACES = {"stand": 430, "walk": 760, "away": 760, "back": 760, "passed": 760, "boat": 700, "end": 700}
"""Where she stands in each part, which is what the script calls a picture."""
_WALK_S, _PASSING_S, _BOAT_S = 4.0, 3.6, 17.0


def frames(mouths: dict[str, np.ndarray], shown: list[Shown]) -> Iterator[Drawn]:
    """Every frame; `shown` tells which part begins at which second."""
    back = _quay()
    surface = cairo.ImageSurface(cairo.FORMAT_RGB24, WIDTH, HEIGHT)
    pen = cairo.Context(surface)
    silent = poses(np.zeros(len(mouths["Edda"])), towards=-0.9, phase=5)
    starts = {one.picture: one.from_s for one in shown}
    for number, (pose, other) in enumerate(zip(poses(mouths["Edda"]), silent, strict=True)):
        at = number / RATE
        part = [one for one in shown if round(one.from_s * RATE) <= number][-1].picture
        pen.set_source_surface(back)
        pen.paint()
        boat = _boat(pen, (at - starts["boat"]) / _BOAT_S, at)
        head = _speaker(pen, part, _place(at, shown), _pointing(pose) if part == "boat" else pose)
        passer = _passer(pen, (at - starts["passed"]) / _PASSING_S, other)
        seen = part != "away" and not (passer and _hides(passer, head))
        surface.flush()
        yield Drawn(
            pixels=surface.get_data(),
            faces=[*([head] if seen else []), *([passer] if passer else [])],
            heads=[head],
            things=[boat] if boat else [],
        )


def events(shown: list[Shown]) -> dict[str, list[float]]:
    """When parts begin: no camera is cut."""
    return {"flashes_s": [], "cuts_s": [], "slides_s": [], "parts_s": [one.from_s for one in shown]}


def _place(at: float, shown: list[Shown]) -> float:
    sway = 8 * math.sin(at / 3.7)
    for before, after in pairwise(shown):
        a, b = _PLACES[before.picture], _PLACES[after.picture]
        if after.from_s <= at < after.from_s + _WALK_S:
            part = (at - after.from_s) / _WALK_S
            return a + (b - a) * part * part * (3 - 2 * part) + sway
    return _PLACES[[one for one in shown if one.from_s <= at][-1].picture] + sway


def _pointing(pose: Pose) -> Pose:
    return replace(pose, right_hand=1.0, turn=0.6)


def _speaker(pen: cairo.Context, part: str, x: float, pose: Pose) -> Face:
    pen.save()
    pen.translate(x, HEIGHT + 36)
    pen.scale(_SIZE, _SIZE)
    draw = draw_behind if part == "away" else draw_person
    face = draw(pen, "Edda Marsh", EDDA, pose)
    pen.restore()
    return face


def _passer(pen: cairo.Context, part: float, pose: Pose) -> Face | None:
    """Somebody who walks across in front of her."""
    if not 0 <= part <= 1:
        return None
    return _walking(pen, WIDTH + 200 - (WIDTH + 400) * part, 10 * math.sin(part * 26), TAM, pose)


def _walking(pen: cairo.Context, x: float, step: float, look: Look, pose: Pose) -> Face:
    pen.save()
    pen.translate(x, HEIGHT + 70 + step)
    pen.scale(_PASSING_SIZE, _PASSING_SIZE)
    face = draw_person(pen, "Tam", look, pose)
    pen.restore()
    return face


def _hides(passer: Face, face: Face) -> bool:
    """Whether the body of somebody in front is over a face."""
    reach = 300 * _PASSING_SIZE
    middle = passer.x + passer.width / 2
    return middle - reach < face.x + face.width / 2 < middle + reach


def _boat(pen: cairo.Context, part: float, at: float) -> Face | None:
    """The red pilot boat, on its way out."""
    if not 0 <= part <= 1:
        return None
    x, y = 1130 - 900 * part, 318 + 5 * math.sin(at * 1.3)
    pen.save()
    pen.translate(x, y)
    pen.rotate(0.03 * math.sin(at * 1.3 + 1))
    pen.move_to(-92, -26)
    pen.line_to(84, -26)
    pen.line_to(66, 10)
    pen.line_to(-74, 10)
    pen.close_path()
    fill(pen, "#B5281E")
    pen.rectangle(-92, -32, 176, 8)
    fill(pen, "#F2EDE2")
    pen.rectangle(-46, -78, 74, 46)
    fill(pen, "#F2EDE2")
    for left in (-38, -12, 12):
        pen.rectangle(left, -70, 16, 18)
        fill(pen, "#2B3E4C")
    pen.rectangle(-4, -106, 5, 28)
    fill(pen, "#3B3B3B")
    pen.rectangle(1, -106, 24, 14)
    fill(pen, "#E0B23C")
    pen.restore()
    return Face(who="the pilot boat", x=x - 94, y=y - 108, width=190, height=120, turn=0.0)


def _quay() -> cairo.ImageSurface:
    surface = cairo.ImageSurface(cairo.FORMAT_RGB24, WIDTH, HEIGHT)
    pen = cairo.Context(surface)
    sky = cairo.LinearGradient(0, 0, 0, 300)
    sky.add_color_stop_rgb(0, *rgb("#8FB2C9"))
    sky.add_color_stop_rgb(1, *rgb("#D9E2DF"))
    pen.set_source(sky)
    pen.paint()
    pen.move_to(0, 250)
    for x, y in ((180, 214), (420, 240), (700, 206), (980, 236), (1280, 218)):
        pen.line_to(x, y)
    pen.line_to(WIDTH, 290)
    pen.line_to(0, 290)
    pen.close_path()
    fill(pen, "#7C8F88")
    pen.rectangle(0, 280, WIDTH, 240)
    fill(pen, "#4F7A8C")
    pen.set_line_width(3)
    drawn = np.random.default_rng(5)
    for _ in range(150):
        x, y = drawn.uniform(0, WIDTH), drawn.uniform(290, 510)
        pen.set_source_rgba(0.85, 0.93, 0.95, 0.25)
        pen.move_to(x, y)
        pen.curve_to(x + 14, y - 5, x + 26, y - 5, x + 40, y)
        pen.stroke()
    for x, code in ((120, "#2F4C63"), (980, "#3B7A48"), (1130, "#C9A04A")):
        _moored(pen, x, code)
    _stones(pen, drawn)
    return surface


def _moored(pen: cairo.Context, x: float, code: str) -> None:
    pen.move_to(x - 60, 404)
    pen.line_to(x + 60, 404)
    pen.line_to(x + 42, 436)
    pen.line_to(x - 46, 436)
    pen.close_path()
    fill(pen, code)
    pen.rectangle(x - 3, 300, 6, 104)
    fill(pen, "#5B4636")


def _stones(pen: cairo.Context, drawn: np.random.Generator) -> None:
    """The wall she stands on, and the ladder."""
    pen.rectangle(0, 500, WIDTH, 220)
    fill(pen, "#6F6A60")
    for row, y in enumerate(range(508, 720, 54)):
        for x in range(-60 * (row % 2), WIDTH, 118):
            pen.rectangle(x + 3, y + 3, 112, 48)
            fill(pen, ("#8B857A", "#7E786D", "#968F83", "#877F72")[int(drawn.integers(4))])
    pen.rectangle(0, 494, WIDTH, 16)
    fill(pen, "#A29B8E")
    for x in (900, 960):
        pen.rectangle(x, 470, 8, 250)
        fill(pen, "#4A3B30")
    for y in range(490, 720, 36):
        pen.rectangle(900, y, 68, 7)
        fill(pen, "#4A3B30")
    for x in (240, 1180):
        oval(pen, x, 486, 24, 16)
        fill(pen, "#33373B")
        pen.rectangle(x - 14, 486, 28, 22)
        fill(pen, "#33373B")
