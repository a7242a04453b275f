"""The program's own answer for a stretch of a cut: which layout it has in a shape, and whom it shows.

nobody is found              the picture where little of it is lost, else the whole picture on a backdrop
a head in a corner           the slide above, who speaks below
one person                   that person
several, one of whom speaks  who speaks
several who speak            all in one window where they fit, else in tiles

A shape that loses nothing of the picture shows it as the camera did.
"""

from dataclasses import dataclass

import numpy as np

from nimble_quote.core.document import Choice, LayoutName
from nimble_quote.core.framing.camera import Gate, holds_all
from nimble_quote.core.framing.following import Track
from nimble_quote.core.framing.scenes import Scene

_HONEST = 0.75
"""A window that shows so much of a picture without a face can't be far wrong."""
_CORNER, _SMALL = 0.25, 0.17
"""A face that is so far from the middle in both directions, and no larger, is a talking head beside a slide."""
_MOST_TILES = 2
_ALONE = ("one", "slide")
"""Layouts that show one subject."""


@dataclass(frozen=True, kw_only=True)
class Answer:
    """A layout, and whom it shows."""

    name: LayoutName
    subjects: tuple[int, ...] = ()


def answer_for(scene: Scene, choice: Choice, gate: Gate) -> Answer:
    """The layout and the subjects of a stretch: those that were chosen, and for the rest the program's own."""
    first = first_answer(scene, gate)
    if choice.layout is None and choice.subjects is None:
        return first
    chosen = tuple(who for who in choice.subjects or () if who in scene.tracks)
    name = choice.layout or _layout_for(len(choice.subjects or ()), chosen, first, scene, gate)
    if name == "whole":
        return Answer(name=name)
    most = 1 if name in _ALONE else _MOST_TILES if name in ("stacked", "beside") else len(scene.tracks)
    if chosen:
        others = (
            [who for who in _in_order(scene) if who not in chosen] if name not in _ALONE and len(chosen) == 1 else []
        )
        return Answer(name=name, subjects=(*chosen, *others)[:most])
    return Answer(name=name, subjects=tuple(_in_order(scene)[:most]))


def _layout_for(wished: int, chosen: tuple[int, ...], first: Answer, scene: Scene, gate: Gate) -> LayoutName:
    """The layout for subjects that were chosen without one."""
    if wished < 2 or len(chosen) == 1:
        return "one" if chosen or first.name != "whole" else "whole"
    return _of_several(chosen, scene, gate)


def first_answer(scene: Scene, gate: Gate) -> Answer:
    """The layout and the subjects that a stretch has where nothing is chosen."""
    people = scene.people
    if gate.all_of_it:
        return Answer(name="together" if len(people) > 1 else "one", subjects=tuple(people or scene.tracks))
    if not people:
        wide, high = gate.widest
        return Answer(name="one" if wide * high >= _HONEST else "whole", subjects=tuple(scene.tracks)[:1])
    if len(people) == 1:
        return Answer(name="slide" if in_corner(scene.tracks[people[0]], gate) else "one", subjects=(people[0],))
    if len(scene.speakers) == 1 and not scene.unsure:
        return Answer(name="one", subjects=(scene.speakers[0],))
    wanted = scene.speakers if len(scene.speakers) > 1 and not scene.unsure else people
    both = tuple(who for who in people if who in wanted)
    name = _of_several(both, scene, gate)
    return Answer(name=name, subjects=both if name == "together" else both[:_MOST_TILES])


def in_corner(track: Track, gate: Gate) -> bool:
    """Whether somebody is a small talking head in a corner, or in a picture of their own, in a shape that can't show the
    whole picture."""
    if track.inset is not None and gate.widest[0] * gate.widest[1] < _HONEST:
        return True
    across = abs(float(np.median(track.x + track.width / 2)) - 0.5)
    down = abs(float(np.median(track.y + track.height / 2)) - 0.5)
    wide, high = gate.widest
    return (
        not track.thing and across > _CORNER and down > _CORNER and float(np.median(track.height)) < _SMALL
    ) and wide * high < _HONEST


def _of_several(subjects: tuple[int, ...], scene: Scene, gate: Gate) -> LayoutName:
    if holds_all([scene.tracks[who] for who in subjects], scene.pieces, gate):
        return "together"
    return "stacked" if gate.aspect < 1.2 else "beside"


def _in_order(scene: Scene) -> list[int]:
    """Everybody: who speaks before who does not."""
    return sorted(scene.tracks, key=lambda who: -scene.spoken.get(who, 0.0))
