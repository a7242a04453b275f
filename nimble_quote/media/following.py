"""Following whatever a person drew a box around, by its look, from frame to frame.

Where the look of the box correlates best (normalised, so that light does not matter) with what is near its last place, there
it is now; at three sizes, so that it may come closer. The look is the mean of the first one and one that is slowly renewed: the
first keeps it from sliding off, the other lets it turn.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy.fft import irfft2, next_fast_len, rfft2
from scipy.ndimage import map_coordinates

Grey = NDArray[np.float32]
"""height x width, any scale."""

LOST = 0.2
"""A look that correlates less than this is of something else; 0.4 was still right where a thing turned."""
_SIDE = 48
"""The longer side of the look, in pixels of its own: more tells no better."""
_REACH = 1.1
"""How far a thing may go from one look to the next, in its own lengths to either side."""
_SIZES = (0.94, 1.0, 1.06)
_RENEWED, _RENEWED_ABOVE = 0.12, 0.5
_KEPT_SIZE = 0.985
"""Another size must correlate better than the same by this part: noise would make a box breathe."""
_EVEN = 4.0
"""A look whose pixels spread less than this (of 255) has nothing to be known by."""


_PATCH = (24, 32)
_SAME = 0.97
"""Two looks at one place that correlate so are of the same thing, which did not move."""
_REMEMBERED_EVERY, _MOST_REMEMBERED = 5, 60


class TooEven(ValueError):
    """There is nothing in a box that it could be followed by."""


@dataclass(frozen=True, kw_only=True)
class Found:
    """A box, in pixels of the picture, and how well its look correlates (0..1)."""

    x: float
    y: float
    width: float
    height: float
    score: float


class Follower:
    """Follows one box. Raises `TooEven` where nothing is in it."""

    def __init__(self, picture: Grey, box: Found) -> None:
        self._box = box
        scale = _SIDE / max(box.width, box.height)
        self._look_size = max(8, round(box.height * scale)), max(8, round(box.width * scale))
        # A large thing is looked at in a smaller picture, made once for each look.
        self._by = max(1, int(1 / scale + 0.5))
        self._first = _sampled(self._smaller(picture), box, self._look_size)
        if float(self._first.std()) < _EVEN:
            raise TooEven
        self._renewed = self._first.copy()
        self.seen: list[Seen] = [Seen(self._smaller(picture).kept(), box)]
        """Pictures now and then, and where the thing was found in them."""
        self._looks = 0
        self.remembered = True
        """Whether the picture that was looked at last is among them."""

    def next(self, picture: Grey) -> Found:
        """Where it is in the next picture. Where its look is lost, it stays where it was."""
        smaller, self.remembered = self._smaller(picture), False
        best = max((self._at_size(smaller, size) for size in _SIZES), key=lambda one: one[0])
        score, found = best[0], best[1]
        if score < LOST or self._is_background(smaller, found):
            self._box = replace(self._box, score=min(score, LOST / 2))
            return self._box
        self._box = found
        self._remember(smaller, found)
        if score > _RENEWED_ABOVE:
            look = _sampled(smaller, found, self._look_size)
            self._renewed += _RENEWED * (look - self._renewed)
        return found

    def _remember(self, picture: "_Smaller", found: Found) -> None:
        """Keeps a picture now and then, for what is there where the thing is not."""
        self._looks += 1
        self.remembered = self._looks % _REMEMBERED_EVERY == 0
        if self.remembered:
            self.seen.append(Seen(picture.kept(), found))
            # Of those in the middle the most are alike.
            if len(self.seen) > _MOST_REMEMBERED:
                del self.seen[1::2]

    def _is_background(self, picture: "_Smaller", found: Found) -> bool:
        return any(_left_behind(Seen(picture, found), before) for before in self.seen)

    def _smaller(self, picture: Grey) -> "_Smaller":
        return _Smaller(_shrunk(picture, self._by), self._by)

    def _at_size(self, picture: "_Smaller", size: float) -> tuple[float, Found]:
        box, (rows, columns) = self._box, self._look_size
        wide, high = box.width * size, box.height * size
        across, down = round(columns * _REACH), round(rows * _REACH)
        around = Found(
            x=box.x + box.width / 2 - wide / 2 - across * wide / columns,
            y=box.y + box.height / 2 - high / 2 - down * high / rows,
            width=wide * (1 + 2 * across / columns),
            height=high * (1 + 2 * down / rows),
            score=0.0,
        )
        near = _sampled(picture, around, (rows + 2 * down, columns + 2 * across))
        row, column, score = _best_place(near, ((self._first + self._renewed) / 2).astype(np.float32))
        x = box.x + box.width / 2 - wide / 2 + (column - across) * wide / columns
        y = box.y + box.height / 2 - high / 2 + (row - down) * high / rows
        weight = 1.0 if size == 1.0 else _KEPT_SIZE
        return score * weight, Found(x=x, y=y, width=wide, height=high, score=score)


@dataclass(frozen=True)
class _Smaller:
    """A picture made smaller by a whole number."""

    pixels: NDArray[np.generic]
    by: int

    def kept(self) -> "_Smaller":
        """The same in a byte a pixel, to be kept for long."""
        return _Smaller(np.clip(self.pixels, 0, 255).astype(np.uint8), self.by)


def _sampled(picture: _Smaller, box: Found, size: tuple[int, int]) -> Grey:
    """A box of a picture at a size; beyond its edges the picture goes on as it ends."""
    rows, columns = size
    down = box.y + (np.arange(rows) + 0.5) * box.height / rows
    across = box.x + (np.arange(columns) + 0.5) * box.width / columns
    places = np.meshgrid(down / picture.by - 0.5, across / picture.by - 0.5, indexing="ij")
    sampled: Grey = map_coordinates(picture.pixels, places, order=1, mode="nearest", output=np.float32)
    return sampled


def _shrunk(picture: Grey, by: int) -> Grey:
    """A picture smaller by a whole number, each pixel the mean of a square."""
    if by == 1:
        return picture
    rows, columns = picture.shape[0] // by * by, picture.shape[1] // by * by
    whole = np.zeros((rows // by, columns // by), np.float32)
    for down in range(by):
        for across in range(by):
            whole += picture[down:rows:by, across:columns:by]
    return (whole / (by * by)).astype(np.float32)


@dataclass(frozen=True)
class Seen:
    """A picture, and where a thing was found in it."""

    picture: "_Smaller"
    found: Found


def gone(seen: Sequence[Seen]) -> list[bool]:
    """Of some finds, whether each is only what stands at that place anyway, as others show in which the thing is elsewhere."""
    return [any(_left_behind(one, other) for other in seen) for one in seen]


def _left_behind(one: Seen, other: Seen) -> bool:
    """Whether what was found in a picture looks as its place does in another, where the thing is elsewhere."""
    if not _apart(one.found, other.found):
        return False
    now, then = (_sampled(picture, one.found, _PATCH) for picture in (one.picture, other.picture))
    return float(now.std()) > _EVEN and _alike(now, then) > _SAME


def _apart(one: Found, other: Found) -> bool:
    """Whether two boxes share nothing."""
    across = abs(one.x + one.width / 2 - other.x - other.width / 2) >= (one.width + other.width) / 2
    down = abs(one.y + one.height / 2 - other.y - other.height / 2) >= (one.height + other.height) / 2
    return across or down


def _alike(one: Grey, other: Grey) -> float:
    """How two looks of one size correlate."""
    a, b = one - one.mean(), other - other.mean()
    return float((a * b).sum() / max(float(np.sqrt((a**2).sum() * (b**2).sum())), 1e-6))


def _best_place(near: Grey, look: Grey) -> tuple[float, float, float]:
    """Where in `near` a look correlates best (row, column, to a part of a pixel), and how well."""
    rows, columns = look.shape
    shape = next_fast_len(near.shape[0], real=True), next_fast_len(near.shape[1], real=True)
    flat = look - look.mean()
    spread = float(np.sqrt((flat**2).sum())) or 1.0
    products = irfft2(rfft2(near, shape) * np.conj(rfft2(flat, shape)), shape)
    valid = near.shape[0] - rows + 1, near.shape[1] - columns + 1
    count = rows * columns
    sums, squares = _box_sums(near, rows, columns), _box_sums(near**2, rows, columns)
    energy = np.sqrt(np.maximum(squares - sums**2 / count, 1e-3 * count))
    scores = products[: valid[0], : valid[1]] / (energy * spread)
    row, column = (int(i) for i in np.unravel_index(int(scores.argmax()), scores.shape))
    return (
        row + _peak(scores[:, column], row),
        column + _peak(scores[row, :], column),
        float(min(1.0, max(0.0, scores[row, column]))),
    )


def _box_sums(picture: Grey, rows: int, columns: int) -> NDArray[np.float64]:
    """The sum of each rectangle of that size."""
    sums = np.zeros((picture.shape[0] + 1, picture.shape[1] + 1))
    sums[1:, 1:] = picture.astype(np.float64).cumsum(axis=0).cumsum(axis=1)
    whole: NDArray[np.float64] = (
        sums[rows:, columns:] - sums[:-rows, columns:] - sums[rows:, :-columns] + sums[:-rows, :-columns]
    )
    return whole


def _peak(values: NDArray[np.float64], at: int) -> float:
    """How far from a whole place the peak is, by the parabola through three."""
    if not 0 < at < len(values) - 1:
        return 0.0
    before, here, after = (float(value) for value in values[at - 1 : at + 2])
    bend = before - 2 * here + after
    return 0.0 if bend >= 0 else 0.5 * (before - after) / bend
