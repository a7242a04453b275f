"""Draws the chapel and the keeper of lamps, a frame at a time, moved by the sound of her own voice."""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import cairo
import numpy as np

WIDTH, HEIGHT, RATE = 1920, 1080, 25
_STAGE = (560, 60, 1240, 1020)  # x, y, width, height of the part of the picture that moves


@dataclass(frozen=True, kw_only=True)
class Pose:
    """How the speaker stands in one frame. Lengths in pixels, the rest -1..1 or 0..1."""

    x: float
    lean: float
    nod: float
    turn: float
    mouth: float
    blink: float
    left_hand: float
    right_hand: float


def loudness_by_frame(samples: np.ndarray, sample_rate: int) -> np.ndarray:
    """0..1 for each frame: how open the mouth is, with a quick opening and a slower closing."""
    step = sample_rate // RATE
    frames = samples[: len(samples) // step * step].reshape(-1, step)
    level = np.sqrt((frames**2).mean(axis=1))
    open_ = np.clip(level / np.percentile(level, 92), 0, 1) ** 0.7
    for i in range(1, len(open_)):
        open_[i] = max(open_[i], open_[i - 1] * 0.55)
    return np.where(open_ < 0.08, 0.0, open_)


def poses(mouth: np.ndarray) -> Iterator[Pose]:
    """One pose a frame: slow sway, turns of the head, blinks, and hands that rise with the voice."""
    effort = np.convolve(mouth, np.ones(30) / 30, mode="same")
    for frame, opening in enumerate(mouth):
        t = frame / RATE
        sway = math.sin(t / 4.1) + 0.6 * math.sin(t / 2.3 + 1)
        blink = max(0.0, 1 - abs((t * 1.0) % 3.7 - 0.12) / 0.12)
        yield Pose(
            x=1150 + 42 * sway,
            lean=0.03 * math.sin(t / 3.3),
            nod=5 * math.sin(t * 1.9) * effort[frame] + 4 * opening,
            turn=_settled(math.sin(t / 3.1) + 0.7 * math.sin(t / 1.7 + 2)),
            mouth=float(opening),
            blink=blink,
            left_hand=float(effort[frame]) * max(0.0, math.sin(t / 2.7)),
            right_hand=float(effort[frame]) * max(0.0, math.sin(t / 3.9 + 2)),
        )


def frames(mouth: np.ndarray) -> Iterator[memoryview]:
    """Every frame as WIDTH x HEIGHT x 4 bytes (BGRA)."""
    room = _room()
    surface = cairo.ImageSurface(cairo.FORMAT_RGB24, WIDTH, HEIGHT)
    pen = cairo.Context(surface)
    pen.set_source_surface(room)
    pen.paint()
    pen.rectangle(*_STAGE)
    pen.clip()
    for pose in poses(mouth):
        pen.set_source_surface(room)
        pen.paint()
        _speaker(pen, pose)
        _lectern(pen)
        surface.flush()
        yield surface.get_data()


def _settled(value: float) -> float:
    """Holds a turn for a while and moves quickly between: a squashed sine."""
    return math.tanh(2.2 * value) * 0.8


def _rgb(code: str) -> tuple[float, float, float]:
    return tuple(int(code[i : i + 2], 16) / 255 for i in (1, 3, 5))  # type: ignore[return-value]


def _fill(pen: cairo.Context, code: str) -> None:
    pen.set_source_rgb(*_rgb(code))
    pen.fill()


def _oval(pen: cairo.Context, x: float, y: float, rx: float, ry: float) -> None:
    pen.save()
    pen.translate(x, y)
    pen.scale(rx, ry)
    pen.arc(0, 0, 1, 0, 2 * math.pi)
    pen.restore()


def _glow(pen: cairo.Context, x: float, y: float, reach: float, strength: float) -> None:
    light = cairo.RadialGradient(x, y, 0, x, y, reach)
    light.add_color_stop_rgba(0, 1, 0.80, 0.45, strength)
    light.add_color_stop_rgba(0.4, 1, 0.66, 0.30, strength * 0.35)
    light.add_color_stop_rgba(1, 1, 0.55, 0.20, 0)
    pen.set_source(light)
    pen.rectangle(x - reach, y - reach, 2 * reach, 2 * reach)
    pen.fill()


def _room() -> cairo.ImageSurface:
    surface = cairo.ImageSurface(cairo.FORMAT_RGB24, WIDTH, HEIGHT)
    pen = cairo.Context(surface)
    wall = cairo.LinearGradient(0, 0, 0, HEIGHT)
    wall.add_color_stop_rgb(0, *_rgb("#2B2A33"))
    wall.add_color_stop_rgb(0.6, *_rgb("#5A4B43"))
    wall.add_color_stop_rgb(1, *_rgb("#3B2F2A"))
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
        _fill(pen, code)
    pen.save()
    pen.rectangle(x + 16, 130, 228, 494)
    pen.clip()
    pen.rectangle(x + 16, 500, 228, 130)
    _fill(pen, "#16202E")
    for i, (dx, y) in enumerate(((50, 492), (120, 486), (190, 494))):
        _glow(pen, x + dx, y, 46, 0.7 - 0.1 * i)
        _oval(pen, x + dx, y, 5, 6)
        _fill(pen, "#FFE6A8")
    pen.restore()
    pen.set_line_width(7)
    pen.set_source_rgb(*_rgb("#77685A"))
    for a, b in (((x + 130, 130), (x + 130, 630)), ((x + 14, 300), (x + 246, 300)), ((x + 14, 460), (x + 246, 460))):
        pen.move_to(*a)
        pen.line_to(*b)
        pen.stroke()


def _panelling(pen: cairo.Context) -> None:
    pen.rectangle(0, 700, WIDTH, 380)
    _fill(pen, "#4A3428")
    pen.rectangle(0, 690, WIDTH, 18)
    _fill(pen, "#6B4C38")
    pen.set_line_width(4)
    for x in range(0, WIDTH, 160):
        pen.set_source_rgb(*_rgb("#3A281F"))
        pen.rectangle(x + 22, 746, 116, 230)
        pen.stroke()
        pen.set_source_rgb(*_rgb("#5C4132"))
        pen.rectangle(x + 26, 750, 108, 222)
        pen.stroke()


def _wall_lamp(pen: cairo.Context, x: float, y: float) -> None:
    _glow(pen, x, y, 330, 0.5)
    pen.rectangle(x - 6, y + 44, 12, 70)
    _fill(pen, "#2A2320")
    pen.rectangle(x - 30, y + 34, 60, 14)
    _fill(pen, "#8A6A35")
    _oval(pen, x, y, 26, 42)
    pen.set_source_rgba(1, 0.93, 0.72, 0.85)
    pen.fill()
    _oval(pen, x, y + 8, 9, 20)
    _fill(pen, "#FFF6DA")


def _lectern(pen: cairo.Context) -> None:
    pen.move_to(760, 830)
    pen.line_to(980, 800)
    pen.line_to(980, 1080)
    pen.line_to(800, 1080)
    pen.close_path()
    _fill(pen, "#5E3F2B")
    pen.move_to(740, 812)
    pen.line_to(996, 778)
    pen.line_to(1000, 806)
    pen.line_to(744, 842)
    pen.close_path()
    _fill(pen, "#7C5639")
    _glow(pen, 800, 742, 150, 0.45)
    pen.rectangle(776, 778, 48, 34)
    _fill(pen, "#9A7A3C")
    _oval(pen, 800, 742, 22, 40)
    pen.set_source_rgba(1, 0.93, 0.72, 0.9)
    pen.fill()


def _speaker(pen: cairo.Context, pose: Pose) -> None:
    pen.save()
    pen.translate(pose.x, 1080)
    pen.rotate(pose.lean)
    _body(pen, pose)
    pen.translate(pose.turn * 10, -690 + pose.nod)
    _head(pen, pose)
    pen.restore()


def _body(pen: cairo.Context, pose: Pose) -> None:
    pen.rectangle(-52, -600, 104, 130)
    _fill(pen, "#B98468")
    coat = cairo.LinearGradient(-280, 0, 280, 0)
    coat.add_color_stop_rgb(0, *_rgb("#1E4A50"))
    coat.add_color_stop_rgb(0.5, *_rgb("#2F6B70"))
    coat.add_color_stop_rgb(1, *_rgb("#17393E"))
    pen.move_to(-70, -530)
    pen.curve_to(-190, -510, -262, -470, -276, -350)
    pen.line_to(-292, 20)
    pen.line_to(292, 20)
    pen.line_to(276, -350)
    pen.curve_to(262, -470, 190, -510, 70, -530)
    pen.close_path()
    pen.set_source(coat)
    pen.fill()
    pen.move_to(-74, -535)
    pen.line_to(0, -330)
    pen.line_to(74, -535)
    pen.close_path()
    _fill(pen, "#E8DCC4")
    _oval(pen, 0, -515, 104, 40)
    _fill(pen, "#B4572E")
    pen.move_to(-20, -500)
    pen.line_to(-64, -300)
    pen.line_to(6, -318)
    pen.line_to(24, -490)
    pen.close_path()
    _fill(pen, "#9E4824")
    for side, lift in ((-1, pose.left_hand), (1, pose.right_hand)):
        _arm(pen, side, lift)


def _arm(pen: cairo.Context, side: int, lift: float) -> None:
    elbow = (side * (300 + 20 * lift), -210 - 40 * lift)
    hand = (side * (210 - 30 * lift), -90 - 330 * lift)
    pen.set_line_cap(cairo.LINE_CAP_ROUND)
    pen.set_line_join(cairo.LINE_JOIN_ROUND)
    pen.set_line_width(96)
    pen.set_source_rgb(*_rgb("#245A60"))
    pen.move_to(side * 238, -420)
    pen.line_to(*elbow)
    pen.line_to(*hand)
    pen.stroke()
    _oval(pen, hand[0] - side * 8, hand[1] - 34, 42, 50)
    _fill(pen, "#D9A184")
    for finger in (-22, -4, 14):
        pen.set_line_width(18)
        pen.set_source_rgb(*_rgb("#D9A184"))
        pen.move_to(hand[0] - side * 8 + finger, hand[1] - 60)
        pen.line_to(hand[0] - side * 12 + finger * 1.3, hand[1] - 104)
        pen.stroke()


def _head(pen: cairo.Context, pose: Pose) -> None:
    turn = pose.turn
    _oval(pen, -turn * 14, -150, 96, 74)
    _fill(pen, "#B9B4AC")
    _oval(pen, -turn * 6, -20, 136, 158)
    _fill(pen, "#A6A098")
    skin = cairo.RadialGradient(turn * 30 - 20, -30, 20, 0, 0, 190)
    skin.add_color_stop_rgb(0, *_rgb("#F0C3A4"))
    skin.add_color_stop_rgb(0.7, *_rgb("#DDA585"))
    skin.add_color_stop_rgb(1, *_rgb("#A9745A"))
    _oval(pen, 0, 10, 112, 146)
    pen.set_source(skin)
    pen.fill()
    pen.move_to(-118, -20)
    pen.curve_to(-112, -160, 112, -160, 118, -20)
    pen.curve_to(80, -96, 20 + turn * 30, -104, -10 + turn * 30, -96)
    pen.curve_to(-60, -92, -96, -70, -118, -20)
    _fill(pen, "#C6C1B8")
    for side in (-1, 1):
        _eye(pen, side, pose)
    _nose_and_mouth(pen, pose)


def _eye(pen: cairo.Context, side: int, pose: Pose) -> None:
    x = side * 44 + pose.turn * 26
    wide = 21 * (1 - 0.25 * max(0.0, pose.turn * side))
    pen.set_line_cap(cairo.LINE_CAP_ROUND)
    pen.set_line_width(9)
    pen.set_source_rgb(*_rgb("#8A8279"))
    pen.move_to(x - 26, -40 - 3 * pose.mouth)
    pen.curve_to(x - 10, -54 - 3 * pose.mouth, x + 10, -54 - 3 * pose.mouth, x + 26, -40 - 3 * pose.mouth)
    pen.stroke()
    _oval(pen, x, -12, wide, 13 * (1 - pose.blink) + 1.5)
    _fill(pen, "#F7F1E8")
    if pose.blink < 0.6:
        _oval(pen, x + pose.turn * 6, -12, 10, 11 * (1 - pose.blink))
        _fill(pen, "#3B4A3F")
        _oval(pen, x + pose.turn * 6 + 3, -15, 3, 3)
        _fill(pen, "#FFFFFF")
    pen.set_line_width(4)
    pen.set_source_rgb(*_rgb("#5C4033"))
    pen.move_to(x - wide, -12)
    pen.curve_to(x - 8, -28 + 14 * pose.blink, x + 8, -28 + 14 * pose.blink, x + wide, -12)
    pen.stroke()


def _nose_and_mouth(pen: cairo.Context, pose: Pose) -> None:
    x = pose.turn * 30
    pen.set_line_width(6)
    pen.set_source_rgba(*_rgb("#9A634A"), 0.8)
    pen.move_to(x - 4, -8)
    pen.curve_to(x + 12 + pose.turn * 8, 20, x + 16 + pose.turn * 8, 38, x - 8, 40)
    pen.stroke()
    mouth = x * 0.8
    _oval(pen, mouth, 84, 38 - 6 * pose.mouth, 7 + 21 * pose.mouth)
    _fill(pen, "#A34B45")
    if pose.mouth > 0.1:
        _oval(pen, mouth, 85, 29 - 5 * pose.mouth, 2 + 17 * pose.mouth)
        _fill(pen, "#4A1B1E")
        pen.rectangle(mouth - 20, 78 - 10 * pose.mouth, 40, 6 * pose.mouth)
        _fill(pen, "#F3EDE4")
    pen.set_line_width(4)
    pen.set_source_rgba(*_rgb("#9A634A"), 0.5)
    for side in (-1, 1):
        pen.move_to(mouth + side * 52, 52)
        pen.curve_to(mouth + side * 64, 74, mouth + side * 62, 92, mouth + side * 54, 104)
        pen.stroke()
