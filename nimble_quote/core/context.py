"""What an edit, a rule and an Assembly may know besides the document: what is said, what is seen, what can be chosen."""

from collections.abc import Hashable, Sequence
from dataclasses import dataclass, field
from functools import cached_property

from nimble_quote.core.captions.lettering import Lettering
from nimble_quote.core.catalogue import Catalogue
from nimble_quote.core.framing.following import Track
from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span


@dataclass(frozen=True, kw_only=True)
class Shot:
    """A stretch between two camera cuts. `look` is its picture as a few cells of colour (rows, columns and RGB of
    `shots.LOOK`), by which shots that look alike are found; empty where it has not been looked at yet."""

    span: Span
    look: bytes = b""


@dataclass(frozen=True, kw_only=True)
class Sight:
    """What is seen in a stretch of a recording: its shots in order, who appears in them, and the names given to those."""

    size: tuple[int, int] = (0, 0)
    """Of the picture as displayed; 0 where there is none."""
    shots: Sequence[Shot] = ()
    tracks: Sequence[Track] = ()
    names: dict[int, str] = field(default_factory=dict)
    graphics: Sequence[tuple[float, float, float, float]] = ()
    """What stands still over the picture all along (left, top, width, height, in fractions of it)."""
    solved: dict[Hashable, object] = field(default_factory=dict, compare=False, repr=False)
    """What was worked out of it before, by what it was worked out from: a quote is looked at again and again."""

    @cached_property
    def several(self) -> bool:
        """Whether more than one person is seen."""
        return len({track.subject for track in self.tracks if not track.thing}) > 1

    @cached_property
    def faces(self) -> list[FaceSample]:
        """The faces about once a second, in order of time."""
        people = (one.thinned(_EVERY) for one in self.tracks if not one.thing)
        return sorted((face for one in people for face in _samples(one)), key=lambda face: face.at_ms)


_EVERY = 5
"""Faces are looked for five times a second."""


def _samples(track: Track) -> list[FaceSample]:
    columns = (track.at_ms, track.x, track.y, track.width, track.height, track.score)
    return [
        FaceSample(at_ms=int(at), x=x, y=y, width=width, height=height, score=score)
        for at, x, y, width, height, score in zip(*(column.tolist() for column in columns), strict=True)
    ]


@dataclass(frozen=True, kw_only=True)
class Context:
    """A stretch of a recording around a quote, the catalogue, and what measures its letters."""

    talk: Talk
    catalogue: Catalogue
    lettering: Lettering
    sight: Sight = Sight()
