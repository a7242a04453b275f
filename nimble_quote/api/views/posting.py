"""Posting, as the API tells it: texts and how long they are, accounts, posts, and the weeks they fall in."""

from datetime import date, datetime
from typing import Annotated, Literal

from pydantic import BaseModel, StringConstraints

from nimble_quote.core.document.posting import PostText
from nimble_quote.core.posting.counting import Counted, TextLimits
from nimble_quote.services.posting import Visibility
from nimble_quote.store.posts import PostState

ClipState = Literal["none", "making", "ready", "failed", "changed"]
"""`changed`: it is there, and its quote was changed since."""


Clock = Annotated[str, StringConstraints(pattern=r"^([01][0-9]|2[0-3]):[0-5][0-9]$")]
"""A time of day on a clock."""


class VersionText(BaseModel):
    """The texts of a post for one destination, with what the names in braces stand for; how long they are, and what is wrong."""

    destination: str
    name: str
    text: PostText
    counted: list[Counted]
    faults: list[str]
    limits: TextLimits


class PostingView(BaseModel):
    """What a quote is posted with. `written` is the draft where nobody wrote anything (`drafted`); `own` what is otherwise for a
    destination; `tags` are suggestions from the talk; `values` what names in braces stand for."""

    quote_id: int
    title: str
    recording_id: int
    recording_title: str
    link: str
    revision: int
    written: PostText
    drafted: bool
    own: dict[str, PostText]
    tags: list[str]
    values: dict[str, str]
    versions: list[VersionText]


class AccountView(BaseModel):
    """An account that clips can be posted to."""

    id: int
    service: str
    address: str
    """Of its service: by which it is connected again."""
    name: str
    signed_in: bool
    limits: TextLimits
    longest_ms: int
    largest_mb: int


class HousePostingView(BaseModel):
    """How a house posts, and what it can choose from."""

    pattern: str
    time_zone: str
    usual_time: Clock
    phones: bool
    names: list[str]
    """What can stand in braces in texts."""
    zones: list[str]
    services: list[str]
    """Addresses of services that an account can be connected of."""
    accounts: list[AccountView]
    phone_address: str | None
    """Where phones reach this machine, where they may and can."""
    phone_problem: str
    next_week: date
    """The Monday that a week of posts is planned from."""


class PostView(BaseModel):
    """A post: what of, where to, when, and how it stands."""

    id: int
    quote_id: int
    quote_title: str
    recording_id: int
    recording_title: str
    destination: str
    destination_name: str
    shape: str
    account_id: int | None
    account: str | None
    service: str | None
    export_id: int | None
    clip: ClipState
    state: PostState
    wall: datetime
    zone: str
    due_at: datetime
    visibility: Visibility
    text: PostText
    address: str | None
    cancelling: bool
    problem: str | None
    posted_at: datetime | None
    progress: float | None


class DayView(BaseModel):
    """A day of the calendar; `note` says where the clocks are changed."""

    date: date
    note: str
    posts: list[PostView]


class WeekView(BaseModel):
    """A week of the calendar, from its Monday."""

    monday: date
    days: list[DayView]


class CalendarView(BaseModel):
    """Weeks of posts, by the clock of the house."""

    zone: str
    today: date
    usual_time: Clock
    weeks: list[WeekView]


class PlannedView(BaseModel):
    """Posts that were planned, and what is odd about when they are due."""

    posts: list[PostView]
    notes: list[str]
