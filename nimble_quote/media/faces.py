"""Finding faces in a picture with the shipped full-range detector.

The network looks at 192x192 pixels and answers for each of 48x48 anchor points with a score and a box relative to that
point, in pixels of its input (as its published model card describes); overlapping answers are blended by score.
"""

from pathlib import Path
from typing import Any

import numpy as np
from ai_edge_litert.interpreter import Interpreter
from numpy.typing import NDArray

from nimble_quote.core.framing.placement import FaceSample

INPUT_SIZE = 192
_GRID = 48
SURE = 0.62
"""The least score of a face: a ball or the back of a head can reach 0.6."""
_SAME = 0.3
"""Boxes sharing this part of their joint area are answers for one face."""

Boxes = NDArray[np.float32]
"""n x 4: left, top, right, bottom, in fractions of the network's input."""


class FaceFinder:
    """The detector, for pictures of one displayed size."""

    def __init__(self, model: Path, width: int, height: int) -> None:
        self._network: Any = Interpreter(model_path=str(model), num_threads=2)
        self._network.allocate_tensors()
        self._input = self._network.get_input_details()[0]["index"]
        outputs = sorted(self._network.get_output_details(), key=lambda one: int(one["shape"][-1]))
        self._scores, self._boxes = (one["index"] for one in outputs)
        self._across = width / max(width, height)
        self._down = height / max(width, height)

    @property
    def filter(self) -> str:
        """The ffmpeg filter that makes the network's input: the whole picture, middle of a black square."""
        across, down = (max(2, round(INPUT_SIZE * part)) for part in (self._across, self._down))
        return f"scale={across}:{down}:flags=area,pad={INPUT_SIZE}:{INPUT_SIZE}:(ow-iw)/2:(oh-ih)/2"

    def find(self, pixels: NDArray[np.uint8], at_ms: int) -> list[FaceSample]:
        """The faces in one frame (INPUT_SIZE x INPUT_SIZE x 3, RGB, made by `filter`)."""
        self._network.set_tensor(self._input, pixels[None].astype(np.float32) / 127.5 - 1)
        self._network.invoke()
        raw_scores = self._network.get_tensor(self._scores)[0, :, 0]
        raw_boxes = self._network.get_tensor(self._boxes)[0]
        scores = 1 / (1 + np.exp(-np.clip(raw_scores, -80, 80)))
        likely = scores >= SURE
        found = blended(_boxes(raw_boxes)[likely], scores[likely])
        return [sample for box, score in found if (sample := self._sample(box, score, at_ms))]

    def _sample(self, box: Boxes, score: float, at_ms: int) -> FaceSample | None:
        margin_x, margin_y = (1 - self._across) / 2, (1 - self._down) / 2
        left, right = np.clip((box[[0, 2]] - margin_x) / self._across, 0, 1)
        top, bottom = np.clip((box[[1, 3]] - margin_y) / self._down, 0, 1)
        if right <= left or bottom <= top:
            return None
        return FaceSample(
            at_ms=at_ms, x=float(left), y=float(top), width=float(right - left), height=float(bottom - top), score=score
        )


def _boxes(raw: NDArray[np.float32]) -> Boxes:
    points = (np.arange(_GRID, dtype=np.float32) + 0.5) / _GRID
    middle_x = np.tile(points, _GRID) + raw[:, 0] / INPUT_SIZE
    middle_y = np.repeat(points, _GRID) + raw[:, 1] / INPUT_SIZE
    half_width, half_height = raw[:, 2] / INPUT_SIZE / 2, raw[:, 3] / INPUT_SIZE / 2
    return np.stack(
        [middle_x - half_width, middle_y - half_height, middle_x + half_width, middle_y + half_height], axis=1
    )


def blended(boxes: Boxes, scores: NDArray[np.float32]) -> list[tuple[Boxes, float]]:
    """One box for each face: the score-weighted mean of those that overlap its surest, and that one's score."""
    left = np.argsort(-scores)
    faces: list[tuple[Boxes, float]] = []
    while len(left):
        same = _overlap(boxes[left[0]], boxes[left]) > _SAME
        same[0] = True
        group = left[same]
        weights = scores[group][:, None]
        faces.append(((boxes[group] * weights).sum(axis=0) / weights.sum(), float(scores[left[0]])))
        left = left[~same]
    return faces


def _overlap(one: Boxes, others: Boxes) -> NDArray[np.float32]:
    width = np.minimum(one[2], others[:, 2]) - np.maximum(one[0], others[:, 0])
    height = np.minimum(one[3], others[:, 3]) - np.maximum(one[1], others[:, 1])
    shared = np.clip(width, 0, None) * np.clip(height, 0, None)
    area = (others[:, 2] - others[:, 0]) * (others[:, 3] - others[:, 1])
    whole = (one[2] - one[0]) * (one[3] - one[1]) + area - shared
    result: NDArray[np.float32] = shared / np.maximum(whole, 1e-9)
    return result
