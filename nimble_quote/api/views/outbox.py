"""Exports, as the API tells them."""

from datetime import datetime
from typing import Literal

from pydantic import BaseModel

from nimble_quote.core.credits import Credit
from nimble_quote.core.finding import Finding
from nimble_quote.core.making import Codec, Making
from nimble_quote.core.preflight import FileFacts
from nimble_quote.core.verdicts import Overruled

ExportState = Literal["queued", "running", "done", "failed", "stopped"]


class ExportedFor(BaseModel):
    """The destination of an export, as it was when it was asked for."""

    id: str
    name: str
    width: int
    height: int
    limit_ms: int
    largest_mb: int


class OutboxView(BaseModel):
    """How exports stand together: whether they are paused, how many files there are, what they take, and what could be coded."""

    paused: bool
    files: int
    bytes: int
    free_bytes: int
    codecs: list[Codec]


class ExportView(BaseModel):
    """An export in the outbox."""

    id: int
    quote_id: int
    quote_title: str
    recording_id: int
    recording_title: str
    destination: ExportedFor
    work_id: int
    state: ExportState
    progress: float
    time_left_s: float | None
    planned_ms: float
    planned_frames: int
    facts: FileFacts | None
    findings: list[Finding]
    file_name: str
    making: Making
    revision: int
    current: bool
    """Whether the quote is still as it was exported."""
    waits: int | None
    """How many are made before it; None where it does not wait."""
    has_cover: bool
    """Whether its cover is there as a picture, too."""
    overruled: list[Overruled]
    """The stops that it was exported with all the same, and why."""
    credits: list[Credit]
    """What of the house's music and pictures is in it."""
    problem: str | None
    created_at: datetime
