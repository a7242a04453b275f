"""A webinar: white slides that change with the talk, and the speaker in a small picture at the lower right."""

from collections.abc import Iterator

import cairo
import numpy as np

from nimble_quote.demo.generator.paint import fill, oval, rgb
from nimble_quote.demo.generator.people import PETRA, RATE, draw_person, poses
from nimble_quote.demo.generator.scene import Drawn, Shown

WIDTH, HEIGHT = 1280, 720
_BOX = (1040, 500, 200, 190)
"""The speaker's picture: left, top, width, height."""
_SLIDES = {
    "title": ("Rain barrels for small roofs", ("Petra Lowe", "Allotments of Skerry Sound")),
    "roof": ("How big a barrel?", ("1 mm on 1 m² is 1 litre", "6 m² × 50 mm = 300 litres", "Less a fifth: 240 litres")),
    "barrel": ("Three parts that matter", ("The lid", "The tap, a hand above ground", "The overflow")),
    "mistakes": ("My three mistakes", ("It walked", "It froze", "It was empty in August")),
    "plan": ("The plan", ("Measure the roof", "Do the sum", "Level the ground", "Buy the barrel")),
    "questions": ("Your questions", ("Throw the first rain away?",)),
}


def frames(mouths: dict[str, np.ndarray], shown: list[Shown]) -> Iterator[Drawn]:
    """Every frame; `shown` tells which slide is up from which second on."""
    slides = {name: _slide(name) for name in _SLIDES}
    surface = cairo.ImageSurface(cairo.FORMAT_RGB24, WIDTH, HEIGHT)
    pen = cairo.Context(surface)
    left, top, width, height = _BOX
    for number, pose in enumerate(poses(mouths["Petra"])):
        slide = [one for one in shown if round(one.from_s * RATE) <= number][-1].picture
        pen.set_source_surface(slides[slide])
        pen.paint()
        pen.save()
        pen.rectangle(*_BOX)
        pen.clip()
        pen.set_source_rgb(*rgb("#C9D3CB"))
        pen.paint()
        pen.translate(left + width / 2, top + height + 118)
        pen.scale(0.3, 0.3)
        face = draw_person(pen, "Petra Lowe", PETRA, pose)
        pen.restore()
        surface.flush()
        yield Drawn(pixels=surface.get_data(), faces=[face])


def events(shown: list[Shown]) -> dict[str, list[float]]:
    """When a slide changes; no camera is cut."""
    return {"flashes_s": [], "cuts_s": [], "slides_s": [one.from_s for one in shown[1:]]}


def _slide(name: str) -> cairo.ImageSurface:
    title, lines = _SLIDES[name]
    surface = cairo.ImageSurface(cairo.FORMAT_RGB24, WIDTH, HEIGHT)
    pen = cairo.Context(surface)
    pen.set_source_rgb(1, 1, 1)
    pen.paint()
    pen.rectangle(0, 0, 26, HEIGHT)
    fill(pen, "#3B7A48")
    pen.select_font_face("Sans", cairo.FONT_SLANT_NORMAL, cairo.FONT_WEIGHT_BOLD)
    pen.set_font_size(64 if name == "title" else 52)
    pen.move_to(90, 300 if name == "title" else 130)
    pen.set_source_rgb(*rgb("#1F3B2A"))
    pen.show_text(title)
    pen.select_font_face("Sans", cairo.FONT_SLANT_NORMAL, cairo.FONT_WEIGHT_NORMAL)
    pen.set_font_size(36)
    for i, line in enumerate(lines):
        y = (380 if name == "title" else 230) + i * 78
        oval(pen, 104, y - 12, 8, 8)
        fill(pen, "#3B7A48")
        pen.move_to(132, y)
        pen.set_source_rgb(*rgb("#33403A"))
        pen.show_text(line)
    if name == "barrel":
        _barrel(pen)
    return surface


def _barrel(pen: cairo.Context) -> None:
    pen.rectangle(800, 190, 190, 270)
    fill(pen, "#5B84A6")
    pen.rectangle(790, 176, 210, 20)
    fill(pen, "#2F4C63")
    pen.rectangle(986, 216, 60, 14)
    fill(pen, "#2F4C63")
    pen.rectangle(776, 410, 30, 14)
    fill(pen, "#B4472E")
