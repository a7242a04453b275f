"""Recordings and long work on them, as the API tells them."""

from datetime import date, datetime
from typing import Literal

from pydantic import BaseModel

from nimble_quote.api.views.quotes import QuoteBrief, QuoteSpan
from nimble_quote.store.work import WorkKind

WorkState = Literal["queued", "running", "done", "failed", "stopped"]


class WorkView(BaseModel, frozen=True):
    """Long work on a recording; `about` is the address of what is fetched."""

    id: int
    recording_id: int | None
    kind: WorkKind
    state: WorkState
    stage: str
    progress: float
    time_left_s: float | None
    problem: str | None
    about: str


class SoundTrackView(BaseModel):
    """One of the sound tracks of a recording."""

    codec: str
    channels: int
    language: str | None
    title: str | None


class RecordingBase(BaseModel):
    """A recording: its facts, what a person tells of it, and the newest work of each kind on it."""

    id: int
    title: str
    series: str | None
    held_on: date | None
    notes: str
    link: str
    """Where the whole of it can be seen."""
    file_name: str
    duration_ms: int
    width: int
    height: int
    rate: float
    rate_num: int
    rate_den: int
    video_codec: str | None
    audio_codec: str | None
    sound_tracks: list[SoundTrackView]
    sound_track: int
    loudness_lufs: float | None
    size_bytes: int
    transcript_notes: list[str]
    transcript_origin: Literal["file", "recogniser", "service"] | None
    language: str
    words: int
    speakers: list[str]
    seen_by_older: bool
    """Whether an older version of the program looked at its picture: this one sees more."""
    work: list[WorkView]
    removed_at: datetime | None
    created_at: datetime


class ShelfRecording(RecordingBase):
    """A recording in the list."""

    quotes: list[QuoteSpan]


class RecordingView(RecordingBase):
    """A recording by itself."""

    quotes: list[QuoteBrief]


class GoesWith(BaseModel):
    """What goes with a removed recording, and for how many days it can be put back."""

    quotes: int
    clips: int
    days: int


class UploadView(BaseModel):
    """An upload that is not whole; `fingerprint` is what the browser knows its file by."""

    id: str
    name: str
    length: int
    offset: int
    fingerprint: str
