"""The chapel at dusk: the keeper of lamps walks across, leans on the lectern, and is photographed once with a flash."""

import math
from collections.abc import Iterator
from itertools import pairwise

import cairo
import numpy as np

from nimble_quote.demo.generator.paint import fill, glow, oval, rgb
from nimble_quote.demo.generator.people import MAREN, RATE, REACH, TALL, draw_person, poses
from nimble_quote.demo.generator.scene import Drawn, Shown

WIDTH, HEIGHT = 1920, 1080
_STANDS = ((0, 1150), (40, 1150), (46, 700), (95, 700), (102, 1420), (150, 1420), (156, 1150), (230, 1150), (237, 560),
           (238, 560), (247, 1460), (300, 1460), (306, 900), (370, 900), (376, 1150))  # fmt: skip
"""Seconds, and where she stands then; between two places she walks."""
_LEANS_S = ((60, 90), (176, 196), (318, 340))
_FLASH_S = 121.4


def frames(mouths: dict[str, np.ndarray], shown: list[Shown]) -> Iterator[Drawn]:
    """Every frame, and where her face is in it."""
    room, surface = _room(), cairo.ImageSurface(cairo.FORMAT_RGB24, WIDTH, HEIGHT)
    pen = cairo.Context(surface)
    pen.set_source_surface(room)
    pen.paint()
    before = WIDTH / 2
    for number, pose in enumerate(poses(mouths["Maren"])):
        at = number / RATE
        x, lean = _place(at), _lean(at)
        pen.save()
        if number:
            left, right = min(x, before) - REACH - 120, max(x, before) + REACH + 120
            pen.rectangle(left, HEIGHT - TALL - 80, right - left, TALL + 80)
            pen.clip()
        pen.set_source_surface(room)
        pen.paint()
        pen.save()
        pen.translate(x, HEIGHT)
        pen.rotate(lean)
        face = draw_person(pen, "Maren Tolley", MAREN, pose)
        pen.restore()
        _lectern(pen)
        pen.restore()
        before = x
        if flash := _flash(number):
            yield Drawn(pixels=_lit(surface, flash), faces=[face])
            continue
        surface.flush()
        yield Drawn(pixels=surface.get_data(), faces=[face])


def events(shown: list[Shown]) -> dict[str, list[float]]:
    """What happens in the picture that is no cut."""
    return {"flashes_s": [_FLASH_S], "cuts_s": [], "slides_s": []}


def _place(at: float) -> float:
    sway = 26 * (math.sin(at / 4.1) + 0.6 * math.sin(at / 2.3 + 1))
    for (from_s, from_x), (to_s, to_x) in pairwise(_STANDS):
        if at < to_s:
            part = (at - from_s) / (to_s - from_s)
            walked = from_x + (to_x - from_x) * part * part * (3 - 2 * part)
            return walked + (sway if from_x == to_x else 0.4 * sway)
    return _STANDS[-1][1] + sway


def _lean(at: float) -> float:
    for start, end in _LEANS_S:
        if start < at < end:
            return -0.16 * min(1.0, (at - start) / 1.2, (end - at) / 1.2)
    return 0.0


def _flash(number: int) -> float:
    return {0: 0.85, 1: 0.5, 2: 0.2}.get(number - round(_FLASH_S * RATE), 0.0)


def _lit(surface: cairo.ImageSurface, strength: float) -> memoryview:
    lit = cairo.ImageSurface(cairo.FORMAT_RGB24, WIDTH, HEIGHT)
    pen = cairo.Context(lit)
    pen.set_source_surface(surface)
    pen.paint()
    pen.set_source_rgba(1, 1, 1, strength)
    pen.paint()
    lit.flush()
    return lit.get_data()


def _room() -> cairo.ImageSurface:
    surface = cairo.ImageSurface(cairo.FORMAT_RGB24, WIDTH, HEIGHT)
    pen = cairo.Context(surface)
    wall = cairo.LinearGradient(0, 0, 0, HEIGHT)
    wall.add_color_stop_rgb(0, *rgb("#2B2A33"))
    wall.add_color_stop_rgb(0.6, *rgb("#5A4B43"))
    wall.add_color_stop_rgb(1, *rgb("#3B2F2A"))
    pen.set_source(wall)
    pen.paint()
    for x in (120, 640, 1500):
        _window(pen, x)
    _panelling(pen)
    for x in (500, 1390, 1850):
        _wall_lamp(pen, x, 420)
    return surface


def _window(pen: cairo.Context, x: float) -> None:
    """An arched window with the harbour at dusk behind it."""
    for inset, code in ((0, "#77685A"), (16, "#1D2B3F")):
        pen.new_path()
        pen.arc(x + 130, 260, 130 - inset, math.pi, 0)
        pen.line_to(x + 260 - inset, 640 - inset)
        pen.line_to(x + inset, 640 - inset)
        pen.close_path()
        fill(pen, code)
    pen.save()
    pen.rectangle(x + 16, 130, 228, 494)
    pen.clip()
    pen.rectangle(x + 16, 500, 228, 130)
    fill(pen, "#16202E")
    for i, (dx, y) in enumerate(((50, 492), (120, 486), (190, 494))):
        glow(pen, x + dx, y, 46, 0.7 - 0.1 * i)
        oval(pen, x + dx, y, 5, 6)
        fill(pen, "#FFE6A8")
    pen.restore()
    pen.set_line_width(7)
    pen.set_source_rgb(*rgb("#77685A"))
    for a, b in (((x + 130, 130), (x + 130, 630)), ((x + 14, 300), (x + 246, 300)), ((x + 14, 460), (x + 246, 460))):
        pen.move_to(*a)
        pen.line_to(*b)
        pen.stroke()


def _panelling(pen: cairo.Context) -> None:
    pen.rectangle(0, 700, WIDTH, 380)
    fill(pen, "#4A3428")
    pen.rectangle(0, 690, WIDTH, 18)
    fill(pen, "#6B4C38")
    pen.set_line_width(4)
    for x in range(0, WIDTH, 160):
        pen.set_source_rgb(*rgb("#3A281F"))
        pen.rectangle(x + 22, 746, 116, 230)
        pen.stroke()
        pen.set_source_rgb(*rgb("#5C4132"))
        pen.rectangle(x + 26, 750, 108, 222)
        pen.stroke()


def _wall_lamp(pen: cairo.Context, x: float, y: float) -> None:
    glow(pen, x, y, 330, 0.5)
    pen.rectangle(x - 6, y + 44, 12, 70)
    fill(pen, "#2A2320")
    pen.rectangle(x - 30, y + 34, 60, 14)
    fill(pen, "#8A6A35")
    oval(pen, x, y, 26, 42)
    pen.set_source_rgba(1, 0.93, 0.72, 0.85)
    pen.fill()
    oval(pen, x, y + 8, 9, 20)
    fill(pen, "#FFF6DA")


def _lectern(pen: cairo.Context) -> None:
    pen.move_to(760, 830)
    pen.line_to(980, 800)
    pen.line_to(980, 1080)
    pen.line_to(800, 1080)
    pen.close_path()
    fill(pen, "#5E3F2B")
    pen.move_to(740, 812)
    pen.line_to(996, 778)
    pen.line_to(1000, 806)
    pen.line_to(744, 842)
    pen.close_path()
    fill(pen, "#7C5639")
    glow(pen, 800, 742, 150, 0.45)
    pen.rectangle(776, 778, 48, 34)
    fill(pen, "#9A7A3C")
    oval(pen, 800, 742, 22, 40)
    pen.set_source_rgba(1, 0.93, 0.72, 0.9)
    pen.fill()
