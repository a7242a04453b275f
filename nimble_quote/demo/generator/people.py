"""Draws a person who talks: moved by the sound of their own voice, and drawn at any place and size.

A person is drawn in units of the chapel talk's pixels, standing on (0, 0) with the head about 700 above.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import cairo
import numpy as np

from nimble_quote.demo.generator.paint import fill, oval, rgb

RATE = 25
TALL = 860
"""The height of a person with raised hands, and REACH how far they reach to either side, in units."""
REACH = 350


@dataclass(frozen=True, kw_only=True)
class Look:
    """The colours of a person: coat (edge, middle), scarf, skin (light, middle, dark), hair (front, back)."""

    coat: tuple[str, str]
    scarf: str
    skin: tuple[str, str, str]
    hair: tuple[str, str]
    bun: bool = True
    beard: bool = False


MAREN = Look(
    coat=("#1E4A50", "#2F6B70"), scarf="#B4572E", skin=("#F0C3A4", "#DDA585", "#A9745A"), hair=("#C6C1B8", "#A6A098")
)
IVO = Look(
    coat=("#5A2F2A", "#8A4A3C"),
    scarf="#D8B45A",
    skin=("#C98F6B", "#A8714F", "#7A4E35"),
    hair=("#2B2320", "#1E1816"),
    bun=False,
    beard=True,
)
SANNA = Look(
    coat=("#3A3F6B", "#59609A"), scarf="#E7E0D0", skin=("#F3CDB4", "#E2B094", "#B07F66"), hair=("#B4622E", "#8E4A20")
)
PETRA = Look(
    coat=("#24512F", "#3B7A48"), scarf="#F0E8D8", skin=("#E0AE88", "#C68E68", "#8F6144"), hair=("#4A3526", "#33241A")
)


EDDA = Look(
    coat=("#8A5A1E", "#C28A34"), scarf="#2F4C63", skin=("#E9B896", "#CF9873", "#976A4E"), hair=("#3A3F46", "#2A2E34")
)
TAM = Look(
    coat=("#20303C", "#34495A"),
    scarf="#8C8F94",
    skin=("#EBC3A6", "#D3A283", "#9F7058"),
    hair=("#6B5A48", "#54463A"),
    bun=False,
)


@dataclass(frozen=True, kw_only=True)
class Pose:
    """How a person stands in one frame: head and mouth in -1..1 or 0..1, `nod` in units, `lean` in radians."""

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
    open_ = np.clip(level / max(1e-6, np.percentile(level, 92)), 0, 1) ** 0.7
    for i in range(1, len(open_)):
        open_[i] = max(open_[i], open_[i - 1] * 0.55)
    return np.where(open_ < 0.08, 0.0, open_)


def poses(mouth: np.ndarray, towards: float = 0.0, phase: float = 0.0) -> Iterator[Pose]:
    """One pose a frame: turns of the head about a direction, blinks, and hands that rise with the voice."""
    effort = np.convolve(mouth, np.ones(30) / 30, mode="same")
    for frame, opening in enumerate(mouth):
        t = frame / RATE + phase
        turn = _settled(math.sin(t / 3.1) + 0.7 * math.sin(t / 1.7 + 2))
        yield Pose(
            lean=0.03 * math.sin(t / 3.3),
            nod=5 * math.sin(t * 1.9) * effort[frame] + 4 * opening,
            turn=turn if not towards else towards + 0.2 * turn,
            mouth=float(opening),
            blink=max(0.0, 1 - abs((t * 1.0) % 3.7 - 0.12) / 0.12),
            left_hand=float(effort[frame]) * max(0.0, math.sin(t / 2.7)),
            right_hand=float(effort[frame]) * max(0.0, math.sin(t / 3.9 + 2)),
        )


@dataclass(frozen=True, kw_only=True)
class Face:
    """Where a face was drawn, hairline to chin and ear to ear, in pixels of the picture."""

    who: str
    x: float
    y: float
    width: float
    height: float
    turn: float


def draw_person(pen: cairo.Context, who: str, look: Look, pose: Pose) -> Face:
    """Draws a person standing on the pen's origin; where the face is."""
    pen.save()
    pen.rotate(pose.lean)
    _body(pen, pose, look)
    pen.translate(pose.turn * 10, -690 + pose.nod)
    _head(pen, pose, look)
    middle = pen.user_to_device(pose.turn * 22, 28)
    size = math.hypot(*pen.user_to_device_distance(0, 1))
    pen.restore()
    width, height = 208 * size, 256 * size
    return Face(who=who, x=middle[0] - width / 2, y=middle[1] - height / 2, width=width, height=height, turn=pose.turn)


def draw_behind(pen: cairo.Context, who: str, look: Look, pose: Pose) -> Face:
    """Draws a person who has turned away; where the face would be."""
    pen.save()
    pen.rotate(pose.lean)
    _back(pen, pose, look)
    pen.translate(0, -690 + 0.4 * pose.nod)
    if look.bun:
        oval(pen, 0, -150, 96, 74)
        fill(pen, look.hair[1])
    oval(pen, 0, -8, 130, 160)
    fill(pen, look.hair[0])
    oval(pen, 0, -20, 104, 128)
    fill(pen, look.hair[1])
    middle = pen.user_to_device(0, 28)
    size = math.hypot(*pen.user_to_device_distance(0, 1))
    pen.restore()
    width, height = 208 * size, 256 * size
    return Face(who=who, x=middle[0] - width / 2, y=middle[1] - height / 2, width=width, height=height, turn=0.0)


def _back(pen: cairo.Context, pose: Pose, look: Look) -> None:
    pen.rectangle(-52, -600, 104, 130)
    fill(pen, look.skin[2])
    _coat(pen, look)
    oval(pen, 0, -520, 108, 44)
    fill(pen, look.scarf)
    for side in (-1, 1):
        _arm(pen, side, 0.0, look)


def _settled(value: float) -> float:
    """Holds a turn for a while and moves quickly between: a squashed sine."""
    return math.tanh(2.2 * value) * 0.8


def _body(pen: cairo.Context, pose: Pose, look: Look) -> None:
    pen.rectangle(-52, -600, 104, 130)
    fill(pen, look.skin[2])
    _coat(pen, look)
    pen.move_to(-74, -535)
    pen.line_to(0, -330)
    pen.line_to(74, -535)
    pen.close_path()
    fill(pen, "#E8DCC4")
    oval(pen, 0, -515, 104, 40)
    fill(pen, look.scarf)
    pen.move_to(-20, -500)
    pen.line_to(-64, -300)
    pen.line_to(6, -318)
    pen.line_to(24, -490)
    pen.close_path()
    fill(pen, look.scarf)
    for side, lift in ((-1, pose.left_hand), (1, pose.right_hand)):
        _arm(pen, side, lift, look)


def _coat(pen: cairo.Context, look: Look) -> None:
    coat = cairo.LinearGradient(-280, 0, 280, 0)
    coat.add_color_stop_rgb(0, *rgb(look.coat[0]))
    coat.add_color_stop_rgb(0.5, *rgb(look.coat[1]))
    coat.add_color_stop_rgb(1, *rgb(look.coat[0]))
    pen.move_to(-70, -530)
    pen.curve_to(-190, -510, -262, -470, -276, -350)
    pen.line_to(-292, 20)
    pen.line_to(292, 20)
    pen.line_to(276, -350)
    pen.curve_to(262, -470, 190, -510, 70, -530)
    pen.close_path()
    pen.set_source(coat)
    pen.fill()


def _arm(pen: cairo.Context, side: int, lift: float, look: Look) -> None:
    elbow = (side * (300 + 20 * lift), -210 - 40 * lift)
    hand = (side * (210 - 30 * lift), -90 - 330 * lift)
    pen.set_line_cap(cairo.LINE_CAP_ROUND)
    pen.set_line_join(cairo.LINE_JOIN_ROUND)
    pen.set_line_width(96)
    pen.set_source_rgb(*rgb(look.coat[0]))
    pen.move_to(side * 238, -420)
    pen.line_to(*elbow)
    pen.line_to(*hand)
    pen.stroke()
    oval(pen, hand[0] - side * 8, hand[1] - 34, 42, 50)
    fill(pen, look.skin[1])
    for finger in (-22, -4, 14):
        pen.set_line_width(18)
        pen.set_source_rgb(*rgb(look.skin[1]))
        pen.move_to(hand[0] - side * 8 + finger, hand[1] - 60)
        pen.line_to(hand[0] - side * 12 + finger * 1.3, hand[1] - 104)
        pen.stroke()


def _head(pen: cairo.Context, pose: Pose, look: Look) -> None:
    turn = pose.turn
    if look.bun:
        oval(pen, -turn * 14, -150, 96, 74)
        fill(pen, look.hair[0])
    oval(pen, -turn * 6, -20 if look.bun else -42, 136 if look.bun else 126, 158 if look.bun else 118)
    fill(pen, look.hair[1])
    skin = cairo.RadialGradient(turn * 30 - 20, -30, 20, 0, 0, 190)
    skin.add_color_stop_rgb(0, *rgb(look.skin[0]))
    skin.add_color_stop_rgb(0.7, *rgb(look.skin[1]))
    skin.add_color_stop_rgb(1, *rgb(look.skin[2]))
    oval(pen, 0, 10, 112, 146)
    pen.set_source(skin)
    pen.fill()
    if look.beard:
        pen.move_to(-110, 30)
        pen.curve_to(-100, 200, 100, 200, 110, 30)
        pen.curve_to(90, 70, 60, 56, turn * 24, 54)
        pen.curve_to(-60, 56, -90, 70, -110, 30)
        fill(pen, look.hair[0])
    pen.move_to(-118, -20)
    pen.curve_to(-112, -160, 112, -160, 118, -20)
    pen.curve_to(80, -96, 20 + turn * 30, -104, -10 + turn * 30, -96)
    pen.curve_to(-60, -92, -96, -70, -118, -20)
    fill(pen, look.hair[0])
    for side in (-1, 1):
        _eye(pen, side, pose, look)
    _nose_and_mouth(pen, pose)


def _eye(pen: cairo.Context, side: int, pose: Pose, look: Look) -> None:
    x = side * 44 + pose.turn * 26
    wide = 21 * (1 - 0.25 * max(0.0, pose.turn * side))
    pen.set_line_cap(cairo.LINE_CAP_ROUND)
    pen.set_line_width(9)
    pen.set_source_rgb(*rgb(look.hair[1]))
    pen.move_to(x - 26, -40 - 3 * pose.mouth)
    pen.curve_to(x - 10, -54 - 3 * pose.mouth, x + 10, -54 - 3 * pose.mouth, x + 26, -40 - 3 * pose.mouth)
    pen.stroke()
    oval(pen, x, -12, wide, 13 * (1 - pose.blink) + 1.5)
    fill(pen, "#F7F1E8")
    if pose.blink < 0.6:
        oval(pen, x + pose.turn * 6, -12, 10, 11 * (1 - pose.blink))
        fill(pen, "#3B4A3F")
        oval(pen, x + pose.turn * 6 + 3, -15, 3, 3)
        fill(pen, "#FFFFFF")
    pen.set_line_width(4)
    pen.set_source_rgb(*rgb("#5C4033"))
    pen.move_to(x - wide, -12)
    pen.curve_to(x - 8, -28 + 14 * pose.blink, x + 8, -28 + 14 * pose.blink, x + wide, -12)
    pen.stroke()


def _nose_and_mouth(pen: cairo.Context, pose: Pose) -> None:
    x = pose.turn * 30
    pen.set_line_width(6)
    pen.set_source_rgba(*rgb("#9A634A"), 0.8)
    pen.move_to(x - 4, -8)
    pen.curve_to(x + 12 + pose.turn * 8, 20, x + 16 + pose.turn * 8, 38, x - 8, 40)
    pen.stroke()
    mouth = x * 0.8
    oval(pen, mouth, 84, 38 - 6 * pose.mouth, 7 + 21 * pose.mouth)
    fill(pen, "#A34B45")
    if pose.mouth > 0.1:
        oval(pen, mouth, 85, 29 - 5 * pose.mouth, 2 + 17 * pose.mouth)
        fill(pen, "#4A1B1E")
        pen.rectangle(mouth - 20, 78 - 10 * pose.mouth, 40, 6 * pose.mouth)
        fill(pen, "#F3EDE4")
    pen.set_line_width(4)
    pen.set_source_rgba(*rgb("#9A634A"), 0.5)
    for side in (-1, 1):
        pen.move_to(mouth + side * 52, 52)
        pen.curve_to(mouth + side * 64, 74, mouth + side * 62, 92, mouth + side * 54, 104)
        pen.stroke()
