"""A few strokes that every picture is made with."""

import math

import cairo


def rgb(code: str) -> tuple[float, float, float]:
    return tuple(int(code[i : i + 2], 16) / 255 for i in (1, 3, 5))  # type: ignore[return-value]


def fill(pen: cairo.Context, code: str) -> None:
    pen.set_source_rgb(*rgb(code))
    pen.fill()


def oval(pen: cairo.Context, x: float, y: float, rx: float, ry: float) -> None:
    pen.save()
    pen.translate(x, y)
    pen.scale(rx, ry)
    pen.arc(0, 0, 1, 0, 2 * math.pi)
    pen.restore()


def glow(pen: cairo.Context, x: float, y: float, reach: float, strength: float) -> None:
    light = cairo.RadialGradient(x, y, 0, x, y, reach)
    light.add_color_stop_rgba(0, 1, 0.80, 0.45, strength)
    light.add_color_stop_rgba(0.4, 1, 0.66, 0.30, strength * 0.35)
    light.add_color_stop_rgba(1, 1, 0.55, 0.20, 0)
    pen.set_source(light)
    pen.rectangle(x - reach, y - reach, 2 * reach, 2 * reach)
    pen.fill()
