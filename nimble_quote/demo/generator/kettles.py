"""The upper room of a boat shed: two people at a bench, seen by three cameras with hard cuts between them."""

from collections.abc import Iterator
from itertools import pairwise

import cairo
import numpy as np

from nimble_quote.demo.generator.paint import fill, glow, oval, rgb
from nimble_quote.demo.generator.people import IVO, RATE, SANNA, Face, Pose, draw_person, poses
from nimble_quote.demo.generator.scene import Drawn, Shown

WIDTH, HEIGHT = 1280, 720
_FLASH_S = 61.3
_PEOPLE = {"Ivo": ("Ivo Brandt", IVO), "Sanna": ("Sanna Quill", SANNA)}
_PLACES = {
    "wide": (("Ivo", 410, 0.56), ("Sanna", 880, 0.56)),
    "ivo": (("Ivo", 540, 0.78),),
    "sanna": (("Sanna", 740, 0.78),),
}
"""For each camera: who is seen, where, and how large."""


def frames(mouths: dict[str, np.ndarray], shown: list[Shown]) -> Iterator[Drawn]:
    """Every frame; `shown` tells which camera sees from which second on."""
    backs = {name: _shed(name) for name in _PLACES}
    surface = cairo.ImageSurface(cairo.FORMAT_RGB24, WIDTH, HEIGHT)
    pen = cairo.Context(surface)
    moving = {
        "Ivo": poses(mouths["Ivo"], towards=0.55, phase=3),
        "Sanna": poses(mouths["Sanna"], towards=-0.55, phase=9),
    }
    for number in range(len(mouths["Ivo"])):
        now = {who: next(pose) for who, pose in moving.items()}
        camera = [one for one in shown if round(one.from_s * RATE) <= number][-1].picture
        pen.set_source_surface(backs[camera])
        pen.paint()
        faces = [_person(pen, who, now[who], x, size) for who, x, size in _PLACES[camera]]
        _bench(pen, camera)
        if number - round(_FLASH_S * RATE) in (0, 1):
            pen.set_source_rgba(1, 1, 1, 0.8)
            pen.paint()
        surface.flush()
        yield Drawn(pixels=surface.get_data(), faces=faces)


def events(shown: list[Shown]) -> dict[str, list[float]]:
    """When the camera changes, and when it flashes."""
    cuts = [b.from_s for a, b in pairwise(shown) if a.picture != b.picture]
    return {"flashes_s": [_FLASH_S], "cuts_s": cuts, "slides_s": []}


def _person(pen: cairo.Context, who: str, pose: Pose, x: float, size: float) -> Face:
    name, look = _PEOPLE[who]
    pen.save()
    pen.translate(x, HEIGHT + 30)
    pen.scale(size, size)
    face = draw_person(pen, name, look, pose)
    pen.restore()
    return face


def _shed(camera: str) -> cairo.ImageSurface:
    surface = cairo.ImageSurface(cairo.FORMAT_RGB24, WIDTH, HEIGHT)
    pen = cairo.Context(surface)
    light, dark = {"wide": ("#7C6A55", "#4B3F34"), "ivo": ("#6A5C4C", "#3A3128"), "sanna": ("#8A765C", "#55483A")}[
        camera
    ]
    wall = cairo.LinearGradient(0, 0, 0, HEIGHT)
    wall.add_color_stop_rgb(0, *rgb(light))
    wall.add_color_stop_rgb(1, *rgb(dark))
    pen.set_source(wall)
    pen.paint()
    shift, size = {"wide": (0, 1.0), "ivo": (-150, 1.7), "sanna": (-1040, 1.7)}[camera]
    pen.translate(shift, 0)
    pen.scale(size, size)
    pen.set_line_width(3)
    for x in range(-40, 1400, 92):
        pen.set_source_rgba(0.1, 0.07, 0.05, 0.35)
        pen.move_to(x, 0)
        pen.line_to(x, HEIGHT)
        pen.stroke()
    _shelf(pen, 90, 170)
    _shelf(pen, 820, 130)
    pen.rectangle(560, 70, 190, 240)
    fill(pen, "#3B4E5C")
    pen.rectangle(572, 82, 166, 216)
    fill(pen, "#93AEBB")
    for x in (655,):
        pen.rectangle(x - 3, 82, 6, 216)
        fill(pen, "#3B4E5C")
    glow(pen, 650, 30, 260, 0.35)
    return surface


def _shelf(pen: cairo.Context, x: float, y: float) -> None:
    pen.rectangle(x, y, 340, 14)
    fill(pen, "#2F261F")
    for i, code in enumerate(("#B4472E", "#C9A04A", "#5E7B6B", "#8C8F94", "#3E4C6A")):
        left = x + 18 + i * 64
        pen.rectangle(left, y - 54 - 6 * (i % 2), 44, 54 + 6 * (i % 2))
        fill(pen, code)
        oval(pen, left + 22, y - 60 - 6 * (i % 2), 12, 8)
        fill(pen, "#2A2320")


def _bench(pen: cairo.Context, camera: str) -> None:
    top = 612 if camera == "wide" else 640
    pen.rectangle(0, top, WIDTH, HEIGHT - top)
    fill(pen, "#6B4B33")
    pen.rectangle(0, top, WIDTH, 10)
    fill(pen, "#8A6547")
    if camera == "wide":
        for x, code in ((600, "#B8BCC2"), (690, "#A34B45")):
            oval(pen, x, top - 22, 38, 34)
            fill(pen, code)
            pen.rectangle(x - 6, top - 66, 12, 14)
            fill(pen, "#2A2320")
