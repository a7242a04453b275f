"""Cuts for other programs, and from them: OpenTimelineIO, and CMX 3600 edit decision lists.

A reader gives the stretches of a file in the order of its cut, each with the name of its media, or says why it can't be read.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field
from fractions import Fraction

from nimble_quote.core.assembly import PictureRun
from nimble_quote.core.captions.cues import Cue
from nimble_quote.core.exchange import Event, Stretch
from nimble_quote.core.refusal import Refused

MOST_BYTES = 5_000_000
MOST_STRETCHES = 2000


class TimelineUnreadable(Refused):
    """A file of a cut can't be read; the message says what, where, and what to do."""

    code = "timeline-unreadable"


@dataclass(frozen=True, kw_only=True)
class Cut:
    """A version as other programs are told of it."""

    title: str
    media: str
    """The name of the recording's file."""
    rate: Fraction
    media_frames: int
    events: Sequence[Event]
    picture: bool
    sound: bool
    cues: Sequence[Cue] = ()
    runs: Sequence[PictureRun] = ()
    """How it is framed."""
    size: tuple[int, int] = (0, 0)


@dataclass(frozen=True, kw_only=True)
class ReadCut:
    """What was read of a file: its title, its stretches, and what of it was left out."""

    title: str
    stretches: Sequence[Stretch]
    left_out: Sequence[str] = field(default_factory=tuple)
