"""What an edit, a rule and an Assembly may know besides the document: what is said, what is seen, what can be chosen."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property

from nimble_quote.core.catalogue import Catalogue
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
class SubjectTrack:
    """A subject through a shot: where its face is at the moments it was seen, and the subject's number."""

    subject: int
    faces: Sequence[FaceSample]


@dataclass(frozen=True, kw_only=True)
class Sight:
    """What is seen in a stretch of a recording: its shots in order, who appears in them, and the names given to those."""

    shots: Sequence[Shot] = ()
    tracks: Sequence[SubjectTrack] = ()
    names: dict[int, str] = field(default_factory=dict)

    @cached_property
    def faces(self) -> list[FaceSample]:
        """All faces, in order of time."""
        return sorted((face for track in self.tracks for face in track.faces), key=lambda face: face.at_ms)


@dataclass(frozen=True, kw_only=True)
class Context:
    """A stretch of a recording around a quote, and the catalogue."""

    talk: Talk
    catalogue: Catalogue
    sight: Sight = Sight()
