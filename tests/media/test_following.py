"""Following a box by its look: it moves, turns, grows, is hidden for a moment, stands before what looks like it; or is nothing."""

import math
from collections.abc import Iterable

import numpy as np
import pytest
from numpy.typing import NDArray

from nimble_quote.media.following import LOST, Follower, Found, TooEven

Grey = NDArray[np.float32]
WIDTH, HEIGHT = 640, 360


def backdrop() -> Grey:
    """Something like a wall with things on it."""
    noise = np.random.default_rng(4).uniform(0, 1, (HEIGHT // 12 + 1, WIDTH // 12 + 1)).astype(np.float32)
    return np.kron(noise, np.ones((12, 12), np.float32))[:HEIGHT, :WIDTH] * 120 + 40


THING = np.random.default_rng(9).uniform(0, 1, (9, 12)).astype(np.float32)


def drawn(x: float, y: float, width: float = 96, height: float = 72, light: float = 1.0, hidden: float = 0.0) -> Grey:
    """A picture with the thing in a box; a part of it hidden from the left."""
    picture = backdrop()
    rows = np.arange(round(y), round(y + height))
    columns = np.arange(round(x + hidden * width), round(x + width))
    across = np.clip(((columns + 0.5 - x) / width * 12).astype(int), 0, 11)
    down = np.clip(((rows + 0.5 - y) / height * 9).astype(int), 0, 8)
    inside = (rows >= 0) & (rows < HEIGHT)
    within = (columns >= 0) & (columns < WIDTH)
    picture[np.ix_(rows[inside], columns[within])] = THING[np.ix_(down[inside], across[within])] * 200 + 20
    return picture * np.float32(light)


def off(found: Found, x: float, y: float, width: float = 96, height: float = 72) -> float:
    return math.hypot(found.x + found.width / 2 - x - width / 2, found.y + found.height / 2 - y - height / 2)


def follow_box(pictures: Iterable[Grey], box: Found) -> list[Found]:
    """Where a box of the first picture is in each."""
    first, *others = pictures
    follower = Follower(first, box)
    return [box, *(follower.next(one) for one in others)]


START = Found(x=100, y=120, width=96, height=72, score=1.0)


def test_a_thing_that_moves_is_followed_to_a_part_of_a_pixel():
    places = [(100 + 9 * step, 120 + 3 * step) for step in range(40)]
    found = list(follow_box((drawn(x, y) for x, y in places), START))
    assert max(off(one, x, y) for one, (x, y) in zip(found, places, strict=True)) < 1.5
    assert min(one.score for one in found) > 0.8


def test_other_light_does_not_matter():
    found = list(follow_box((drawn(100 + 6 * step, 120, light=1 - 0.012 * step) for step in range(50)), START))
    assert off(found[-1], 100 + 6 * 49, 120) < 2


def test_it_may_come_closer():
    sizes = [1 + 0.02 * step for step in range(30)]
    found = list(follow_box((drawn(100, 120, 96 * size, 72 * size) for size in sizes), START))
    assert found[-1].width == pytest.approx(96 * sizes[-1], rel=0.12)
    assert off(found[-1], 100, 120, 96 * sizes[-1], 72 * sizes[-1]) < 8


def test_it_is_found_again_behind_what_hides_half_of_it():
    hides = [0.0] * 5 + [0.5] * 6 + [0.0] * 5
    found = list(follow_box((drawn(100 + 4 * i, 120, hidden=part) for i, part in enumerate(hides)), START))
    assert off(found[-1], 100 + 4 * 15, 120) < 3


def test_what_is_gone_is_lost_and_its_box_stays():
    follower = Follower(drawn(100, 120), START)
    follower.next(drawn(104, 120))
    black = np.tile(np.linspace(0, 200, WIDTH, dtype=np.float32), (HEIGHT, 1))
    gone = [follower.next(black) for _ in range(4)]
    assert gone[-1].score < LOST
    assert off(gone[-1], 104, 120) < 2


def test_nothing_can_be_followed_on_an_even_wall():
    with pytest.raises(TooEven):
        Follower(np.full((HEIGHT, WIDTH), 128, np.float32), START)


@pytest.mark.parametrize(
    "box", [Found(x=-40, y=-30, width=96, height=72, score=1), Found(x=600, y=340, width=96, height=72, score=1)]
)
def test_a_box_over_the_edge_of_the_picture_is_followed(box: Found):
    found = list(follow_box((drawn(box.x + (3 if box.x < 0 else -3) * i, box.y) for i in range(10)), box))
    assert len(found) == 10
    assert found[-1].score > 0.3


def test_what_went_away_is_not_taken_for_the_wall_behind_it():
    """The wall is much like the thing: it correlates well enough to be followed for ever."""
    wall = drawn(100, 120)
    behind = backdrop()
    behind[100:220, :] = drawn(-300, 120)[100:220, :]
    pictures = [
        np.where(np.abs(drawn(100 + 8 * n, 120) - backdrop()) > 0, drawn(100 + 8 * n, 120), behind) for n in range(30)
    ]
    found = list(
        follow_box([wall, *(one.astype(np.float32) for one in pictures), *[behind.astype(np.float32)] * 15], START)
    )
    assert off(found[29], 100 + 8 * 28, 120) < 4
    assert max(one.score for one in found[-12:]) < LOST
