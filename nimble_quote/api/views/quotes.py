"""Quotes as lists and the map show them."""

from pydantic import BaseModel, ConfigDict

from nimble_quote.core.destinations import Gauge
from nimble_quote.core.timebase import Span


class QuoteBrief(BaseModel):
    """A quote as lists and the map show it; `made` once a clip was made of it."""

    id: int
    recording_id: int
    title: str
    span: Span
    length_ms: int
    text: str
    destinations: list[str]
    made: bool
    posted: str
    """Where it was posted, and when, in words; nothing where it was not."""


class QuoteSpan(BaseModel):
    """Where a quote was taken; `made` once a clip was made of it."""

    id: int
    title: str
    span: Span
    made: bool
    posted: str
    """Where it was posted, and when, in words; nothing where it was not."""


class SpokenLine(BaseModel):
    """A sentence of a passage."""

    speaker: str | None
    words: list[str]


class Selection(BaseModel):
    """Words chosen on the page, first and last included."""

    model_config = ConfigDict(json_schema_extra={"examples": [{"first": 120, "last": 164}]})
    first: int
    last: int


class SelectionView(BaseModel):
    """What a selection would be as a quote."""

    span: Span
    length_ms: int
    gauges: list[Gauge]
