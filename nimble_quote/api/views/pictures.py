"""What was seen in a recording, as the API tells it."""

from pydantic import BaseModel

from nimble_quote.core.timebase import Span


class ShotView(BaseModel):
    """A stretch between two cuts; `by_hand` where a person set the cut that it begins with."""

    span: Span
    by_hand: bool


class SuddenChange(BaseModel):
    """A sudden change that was found in the picture."""

    at_ms: int
    kind: str


class SeenTrack(BaseModel):
    """A face through a shot: the number of its subject, and its place in the middle of the time, in fractions."""

    subject: int
    start_ms: int
    end_ms: int
    x: float
    y: float
    width: float
    height: float
    turn: float


class SubjectName(BaseModel):
    """Who a face is. `by_hand`: a person said so."""

    subject: int
    name: str
    by_hand: bool


class PictureView(BaseModel):
    """What was seen in a recording."""

    shots: list[ShotView]
    changes: list[SuddenChange]
    tracks: list[SeenTrack]
    names: list[SubjectName]
