"""What speakers were asked and answered, as the API tells it."""

from datetime import datetime
from typing import Literal

from pydantic import BaseModel


class ApprovalView(BaseModel, frozen=True):
    """What a speaker was asked, and answered."""

    id: int
    revision: int
    created_at: datetime
    expires_at: datetime
    open: bool
    answer: Literal["approved", "change wanted"] | None
    answered_by: str | None
    note: str | None
    answered_at: datetime | None
    stale: bool
    """The quote was changed since it was asked."""


class AskedApproval(BaseModel):
    """The address of a page that was made for a speaker. It is shown once and not kept."""

    address: str
    approvals: list[ApprovalView]
