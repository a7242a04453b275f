"""What the API answers with: models made for the screens, from rows and the core."""

from datetime import datetime
from typing import Literal

from pydantic import BaseModel

from nimble_quote.core.assembly import Assembly
from nimble_quote.core.captions.styles import CaptionStyle
from nimble_quote.core.destinations import Destination, Gauge
from nimble_quote.core.preflight import FileFacts, Finding
from nimble_quote.core.quote import QuoteDocument
from nimble_quote.core.timebase import Span

RecordingState = Literal["preparing", "ready", "failed"]
ExportState = Literal["queued", "running", "done", "failed", "cancelled"]


class Catalogue(BaseModel):
    """What ships: the destinations and caption styles."""

    destinations: list[Destination]
    styles: list[CaptionStyle]
    soft_below: float


class QuoteBrief(BaseModel):
    """A quote as lists and the map show it."""

    id: int
    recording_id: int
    title: str
    span: Span
    length_ms: int
    text: str
    destinations: list[str]


class RecordingView(BaseModel):
    """A recording with its facts; `time_left_s` while something is being made from it."""

    id: int
    title: str
    file_name: str
    duration_ms: int
    width: int
    height: int
    rate: float
    rate_num: int
    rate_den: int
    video_codec: str | None
    audio_codec: str
    size_bytes: int
    transcript_notes: list[str]
    words: int
    speakers: list[str]
    quotes: list[QuoteBrief]
    state: RecordingState
    stage: str
    progress: float
    time_left_s: float | None
    problem: str | None
    created_at: datetime


class SentenceView(BaseModel):
    """A sentence, its words and their times side by side."""

    first_word: int
    speaker: str | None
    words: list[str]
    starts_ms: list[int]
    ends_ms: list[int]


class TranscriptView(BaseModel):
    """A whole talk."""

    sentences: list[SentenceView]


class Mark(BaseModel):
    """A half-open range of a sentence's words."""

    first: int
    end: int


class Hit(BaseModel):
    """A sentence that answers a search, and which of its words do."""

    recording_id: int
    title: str
    speaker: str | None
    first_word: int
    words: list[str]
    start_ms: int
    end_ms: int
    marks: list[Mark]


class SearchView(BaseModel):
    """What a search found. `note` says what was not looked for, or where the list was cut."""

    hits: list[Hit]
    note: str | None


class Selection(BaseModel):
    """Words chosen on the page, first and last included."""

    first: int
    last: int


class SelectionView(BaseModel):
    """What a selection would be as a quote."""

    span: Span
    length_ms: int
    gauges: list[Gauge]


class VersionView(BaseModel):
    """A version resolved: what it is, its captions as a script, and what is wrong with it."""

    destination: str
    assembly: Assembly
    script: str
    findings: list[Finding]


class QuoteView(BaseModel):
    """A quote as the workbench shows it."""

    id: int
    recording_id: int
    recording_title: str
    revision: int
    removed: bool
    document: QuoteDocument
    kept: list[Span]
    kept_words: list[int]
    struck_words: list[int]
    length_ms: int
    gauges: list[Gauge]
    versions: list[VersionView]
    undo_said: str | None
    redo_said: str | None


class ExportView(BaseModel):
    """An export in the outbox."""

    id: int
    quote_id: int
    quote_title: str
    recording_id: int
    recording_title: str
    destination: Destination
    state: ExportState
    progress: float
    time_left_s: float | None
    planned_ms: float
    planned_frames: int
    facts: FileFacts | None
    findings: list[Finding]
    file_name: str
    problem: str | None
    created_at: datetime
