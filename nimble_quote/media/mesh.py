"""The shipped face mesh: 468 points of a face, of which a few on lips, lids, brow and chin tell how open mouth and eyes are."""

import hashlib
from pathlib import Path

import numpy as np
from ai_edge_litert.interpreter import Interpreter
from numpy.typing import NDArray

Pixels = NDArray[np.uint8]
Points = NDArray[np.float32]
"""468 x 2, in pixels of what the mesh was shown."""
_INPUT = 192
_ROOM = 1.5
"""The side of what the mesh is shown, in longer sides of the face's box."""
_UPPER_LIP, _LOWER_LIP, _BROW, _CHIN = 13, 14, 10, 152
_EYES = ((159, 145, 33, 133), (386, 374, 263, 362))
"""Upper lid, lower lid, outer and inner corner of each eye."""
_WEIGHTS = slice(2495952, 3737848)
"""Where the mesh's weights are among what its package ships in one file."""
_SUM = "c603fa6149219a3e"


class MeshMissing(RuntimeError):
    """The weights of the face mesh are not those that ship."""


class FaceMesh:
    """Finds the points of a face. Raises `MeshMissing`."""

    def __init__(self, packed: Path) -> None:
        weights = packed.read_bytes()[_WEIGHTS]
        if hashlib.sha256(weights).hexdigest()[:16] != _SUM:
            raise MeshMissing(f"{packed} is not the face mesh that ships. Install the front end's packages again.")
        self._network = Interpreter(model_content=weights, num_threads=1)
        self._network.allocate_tensors()
        self._input = self._network.get_input_details()[0]["index"]
        self._points = max(self._network.get_output_details(), key=lambda one: int(np.prod(one["shape"])))["index"]

    def points(self, picture: Pixels, box: tuple[float, float, float, float]) -> Points:
        """The points of a face whose box (left, top, width, height) is told in pixels."""
        side = _ROOM * max(box[2], box[3])
        left, top = box[0] + box[2] / 2 - side / 2, box[1] + box[3] / 2 - side / 2
        self._network.set_tensor(self._input, _square(picture, left, top, side)[None] / np.float32(255))
        self._network.invoke()
        points: Points = self._network.get_tensor(self._points).reshape(-1, 3)[:, :2].copy()
        return points


def mouth_open(points: Points) -> float:
    """How far the lips of a face are apart, in heights of the face."""
    return _apart(points, _UPPER_LIP, _LOWER_LIP) / max(_apart(points, _BROW, _CHIN), 1e-3)


def eyes_open(points: Points) -> float:
    """How far the lids of the eye that is less open are apart, in widths of it."""
    return min(_apart(points, up, low) / max(_apart(points, outer, inner), 1e-3) for up, low, outer, inner in _EYES)


def _apart(points: Points, one: int, other: int) -> float:
    return float(np.linalg.norm(points[one] - points[other]))


def _square(picture: Pixels, left: float, top: float, side: float) -> Pixels:
    """A square of a picture, as the mesh is shown it; beyond the picture it goes on as it ends. To the nearest pixel: smoother it
    tells no more, and takes ten times as long."""
    places = (np.arange(_INPUT) + 0.5) * side / _INPUT
    rows = np.clip(places + top, 0, picture.shape[0] - 1).astype(np.int64)
    columns = np.clip(places + left, 0, picture.shape[1] - 1).astype(np.int64)
    square: Pixels = picture[rows[:, None], columns]
    return square
