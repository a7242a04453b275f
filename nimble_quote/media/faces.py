"""Finding faces in a picture with the shipped full-range detector.

The network looks at 192x192 pixels and answers for each of 48x48 anchor points with a score, a box and six points of
the face relative to that point, in pixels of its input (as its published model card describes); overlapping answers are
blended by score. Small faces are looked for in square tiles of the picture as well, where the whole shows none.
"""

from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from ai_edge_litert.interpreter import Interpreter
from numpy.typing import NDArray

from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.framing.subjects import Colours, SeenFace

INPUT = 192
_GRID = 48
SURE = 0.62
"""The least score of a face: a ball or the back of a head can reach 0.6."""
_SAME = 0.3
"""Boxes sharing this part of their joint area are answers for one face."""
_TILE_STEP = 0.75
"""Tiles overlap by a quarter, so that a face on an edge of one is whole in the next."""
_SEARCH_EVERY = 5
"""Looks without a face in the whole picture, of which one is followed by a look at every tile."""
_AGAIN_EVERY = 10
"""Looks after which the whole picture is tried again where tiles showed more, and tiles where the whole showed some."""
_SMALL = 0.25
"""Faces under this part of the picture's height: others as small may be missed in the whole picture."""
_STILL = 0.03
"""The part of its height that a steady face moves from look to look."""
_MUCH_THE_SAME = 3.0
"""The mean change (0..255) of a picture in which nobody but a steady speaker moves."""
_EYES, _NOSE = (0, 1), 2

Pixels = NDArray[np.uint8]
"""height x width x 3, RGB."""
Answers = NDArray[np.float32]
"""n x 16: left, top, right, bottom, and six points (x, y), in fractions of what the network was shown."""


@dataclass(frozen=True, kw_only=True)
class Sheet:
    """How ffmpeg lays one frame out for the detector: the whole picture in a square, and beside it the same with its
    short side as long as the square's, from which the tiles are cut."""

    width: int
    height: int

    @classmethod
    def of(cls, width: int, height: int) -> "Sheet":
        """For a picture of this displayed size."""
        scale = INPUT / min(width, height)
        return cls(width=max(INPUT, _even(width * scale)), height=max(INPUT, _even(height * scale)))

    @property
    def whole(self) -> tuple[int, int]:
        """The size of the whole picture in its square."""
        longest = max(self.width, self.height)
        return _even(INPUT * self.width / longest), _even(INPUT * self.height / longest)

    @property
    def size(self) -> tuple[int, int]:
        return INPUT + self.width, self.height

    @property
    def filter(self) -> str:
        """The ffmpeg filters that make it."""
        across, down = self.whole
        return (
            f"split[w][t];[w]scale={across}:{down}:flags=area,pad={INPUT}:{self.height}[w];"
            f"[t]scale={self.width}:{self.height}:flags=area[t];[w][t]hstack"
        )

    def tiles(self) -> list[tuple[int, int]]:
        """The left and top of each tile in the larger picture."""
        return [(x, y) for x in _starts(self.width) for y in _starts(self.height)]


class FaceFinder:
    """The detector, for pictures laid out on sheets of one kind; it looks where it found a face last."""

    def __init__(self, model: Path, sheet: Sheet) -> None:
        self._network: Any = Interpreter(model_path=str(model), num_threads=1)
        self._network.allocate_tensors()
        self._input = self._network.get_input_details()[0]["index"]
        outputs = sorted(self._network.get_output_details(), key=lambda one: int(one["shape"][-1]))
        self._scores, self._boxes = (one["index"] for one in outputs)
        self._sheet = sheet
        self._tiles = sheet.tiles()
        self._in_tiles: list[int] = []
        self._before: list[Answers] = []
        self._steady = False
        self._seen_last: Pixels | None = None
        self._looks = self._empty = 0

    def find(self, pixels: Pixels, at_ms: int) -> list[SeenFace]:
        """The faces in one frame, laid out as the sheet says."""
        larger = pixels[:, INPUT:]
        self._seen_last = pixels
        again = self._looks % _AGAIN_EVERY == 0
        self._looks += 1
        if self._in_tiles and not again:
            found = blended([answer for number in self._in_tiles for answer in self._in(larger, number)])
        else:
            found = self._whole(pixels)
            self._in_tiles = []
        if self._worth_a_search(found, again):
            more = self._search(larger)
            if len(more) > len(found):
                found = more
            else:
                self._in_tiles = []
        self._empty = 0 if found else self._empty + 1
        self._steady = _steady([answer for answer, _ in found], self._before)
        self._before = [answer for answer, _ in found]
        return [seen for answer, score in found if (seen := _seen(answer, score, at_ms, larger))]

    def may_pass_over(self, pixels: Pixels) -> bool:
        """Whether a frame need not be looked at: the faces stood still between the last two looks, and the picture is
        much the same as at the last. No two frames in a row are passed over."""
        if not self._steady or self._in_tiles or self._seen_last is None:
            return False
        self._steady = False
        changed = np.abs(pixels[::4, ::4].astype(np.int16) - self._seen_last[::4, ::4]).mean()
        return bool(changed < _MUCH_THE_SAME)

    def _worth_a_search(self, found: list[tuple[Answers, float]], again: bool) -> bool:
        """Whether tiles may show more: where a face was lost, where there has been none for a while, and where faces are
        small, now and then and after a cut."""
        if not found:
            return bool(self._before) or self._empty % _SEARCH_EVERY == 0
        elsewhere = not self._before or not any(_overlap(one, np.stack(self._before)).any() for one, _ in found)
        return (again or elsewhere) and min(a[3] - a[1] for a, _ in found) < _SMALL

    def _whole(self, pixels: Pixels) -> list[tuple[Answers, float]]:
        across, down = self._sheet.whole
        return blended(self._look(pixels[:INPUT, :INPUT], (across / INPUT, down / INPUT), (0.0, 0.0)))

    def _search(self, larger: Pixels) -> list[tuple[Answers, float]]:
        """Looks at every tile, and remembers those with a face."""
        answers = {number: self._in(larger, number) for number in range(len(self._tiles))}
        self._in_tiles = [number for number, found in answers.items() if found]
        return blended([answer for found in answers.values() for answer in found])

    def _in(self, larger: Pixels, number: int) -> list[tuple[Answers, float]]:
        x, y = self._tiles[number]
        height, width = larger.shape[:2]
        scale = (INPUT / width, INPUT / height)
        tile = larger[y : y + INPUT, x : x + INPUT]
        return self._look(tile, (1 / scale[0], 1 / scale[1]), (x / width, y / height))

    def _look(
        self, shown: Pixels, covers: tuple[float, float], origin: tuple[float, float]
    ) -> list[tuple[Answers, float]]:
        """The answers for one square, in fractions of the picture.

        `covers` is the part of the square that the picture fills (more than 1 for a tile), `origin` where in the
        picture the square's corner is.
        """
        self._network.set_tensor(self._input, shown[None].astype(np.float32) / 127.5 - 1)
        self._network.invoke()
        raw = self._network.get_tensor(self._scores)[0, :, 0]
        likely = np.nonzero(raw >= np.log(SURE / (1 - SURE)))[0]
        if not len(likely):
            return []
        scores = 1 / (1 + np.exp(-raw[likely]))
        answers = _answers(self._network.get_tensor(self._boxes)[0], likely)
        answers[:, 0::2] = answers[:, 0::2] / covers[0] + origin[0]
        answers[:, 1::2] = answers[:, 1::2] / covers[1] + origin[1]
        return [(answer, float(score)) for answer, score in zip(answers, scores, strict=True)]


def _answers(raw: NDArray[np.float32], which: NDArray[np.int64]) -> Answers:
    """Boxes and points of some anchor points, in fractions of the network's input."""
    x, y = (which % _GRID + 0.5) / _GRID, (which // _GRID + 0.5) / _GRID
    boxes = raw[which] / INPUT
    half_width, half_height = boxes[:, 2] / 2, boxes[:, 3] / 2
    middle_x, middle_y = x + boxes[:, 0], y + boxes[:, 1]
    box = np.stack(
        [middle_x - half_width, middle_y - half_height, middle_x + half_width, middle_y + half_height], axis=1
    )
    points = boxes[:, 4:16].copy()
    points[:, 0::2] += x[:, None]
    points[:, 1::2] += y[:, None]
    return np.concatenate([box, points], axis=1).astype(np.float32)


def blended(found: list[tuple[Answers, float]]) -> list[tuple[Answers, float]]:
    """One answer for each face: the score-weighted mean of those that overlap its surest, and that one's score."""
    if not found:
        return []
    answers, scores = np.stack([a for a, _ in found]), np.array([s for _, s in found], np.float32)
    left = np.argsort(-scores)
    faces: list[tuple[Answers, float]] = []
    while len(left):
        same = _overlap(answers[left[0]], answers[left]) > _SAME
        same[0] = True
        group = left[same]
        weights = scores[group][:, None]
        faces.append(((answers[group] * weights).sum(axis=0) / weights.sum(), float(scores[left[0]])))
        left = left[~same]
    return faces


def _steady(now: list[Answers], before: list[Answers]) -> bool:
    """Whether the same faces stand where they stood, but for a little of their height."""
    if not now or len(now) != len(before):
        return False
    moved = [min(float(np.abs(one[:4] - other[:4]).max()) / (one[3] - one[1]) for other in before) for one in now]
    return bool(max(moved) < _STILL)


def _seen(answer: Answers, score: float, at_ms: int, picture: Pixels) -> SeenFace | None:
    left, top, right, bottom = (float(v) for v in np.clip(answer[:4], 0, 1))
    if right <= left or bottom <= top:
        return None
    sample = FaceSample(at_ms=at_ms, x=left, y=top, width=right - left, height=bottom - top, score=score)
    return SeenFace(sample=sample, turn=_turn(answer), colours=colours(picture, sample))


def _turn(answer: Answers) -> float:
    """How far the nose stands to the side of the eyes' middle, in half their distance: about the sine of the turn."""
    points = answer[4:].reshape(6, 2)
    right, left = points[_EYES[0], 0], points[_EYES[1], 0]
    apart = max(abs(float(left - right)), 1e-4)
    return float(np.clip(2 * (points[_NOSE, 0] - (right + left) / 2) / apart, -1, 1))


def colours(picture: Pixels, face: FaceSample) -> Colours:
    """The mean colours of the hair, the face and the clothes under it: what tells people apart from afar."""
    height, width = picture.shape[:2]
    x, y = face.middle
    found = []
    for across, up, down in ((0.45, -0.85, -0.6), (0.25, -0.15, 0.15), (0.3, 0.75, 1.0), (0.6, 1.1, 1.6)):
        rows = slice(*_inside(y + up * face.height, y + down * face.height, height))
        columns = slice(*_inside(x - across * face.width, x + across * face.width, width))
        found.append(picture[rows, columns].reshape(-1, 3).mean(axis=0) / 255)
    return np.concatenate(found).astype(np.float32)


def _inside(low: float, high: float, size: int) -> tuple[int, int]:
    """At least one pixel of a row or column, inside the picture."""
    first = min(size - 1, max(0, int(low * size)))
    return first, max(first + 1, min(size, int(high * size)))


def _overlap(one: Answers, others: Answers) -> NDArray[np.float32]:
    width = np.minimum(one[2], others[:, 2]) - np.maximum(one[0], others[:, 0])
    height = np.minimum(one[3], others[:, 3]) - np.maximum(one[1], others[:, 1])
    shared = np.clip(width, 0, None) * np.clip(height, 0, None)
    area = (others[:, 2] - others[:, 0]) * (others[:, 3] - others[:, 1])
    whole = (one[2] - one[0]) * (one[3] - one[1]) + area - shared
    result: NDArray[np.float32] = shared / np.maximum(whole, 1e-9)
    return result


def _starts(length: int) -> list[int]:
    """Where tiles begin along a side, the last at its end."""
    if length <= INPUT:
        return [0]
    count = int(np.ceil((length - INPUT) / (INPUT * _TILE_STEP))) + 1
    return [round(i * (length - INPUT) / (count - 1)) for i in range(count)]


def _even(value: float) -> int:
    return max(2, round(value / 2) * 2)
