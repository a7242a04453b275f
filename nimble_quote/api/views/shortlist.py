"""The shortlist, as the API tells it."""

from datetime import date

from pydantic import BaseModel

from nimble_quote.api.views.approvals import ApprovalView
from nimble_quote.api.views.quotes import QuoteBrief, SpokenLine
from nimble_quote.core.destinations import Gauge
from nimble_quote.formats.shortlist import SlipMark


class SlipView(QuoteBrief):
    """A quote on the shortlist: its words by sentence, and what a person says of it."""

    recording_title: str
    series: str | None
    held_on: date | None
    has_picture: bool
    mark: SlipMark
    tags: list[str]
    note: str
    lines: list[SpokenLine]
    speakers: list[str]
    gauges: list[Gauge]
    approval: ApprovalView | None
    """What the speaker was asked last."""


class ShortlistView(BaseModel):
    """Quotes in their order."""

    title: str
    slips: list[SlipView]


class ComparedQuote(BaseModel):
    """A quote beside another: `shared` are the places of words that the other has too."""

    quote_id: int
    lines: list[SpokenLine]
    shared: list[int]


class ReadBack(BaseModel):
    """What a table changes, and what of it could not be read."""

    changes: list[str]
    problems: list[str]


class WeekPost(BaseModel):
    """A quote to post, where, why, and the quotes it could be swapped for."""

    quote_id: int
    destination: str
    reason: str
    instead: list[int]
