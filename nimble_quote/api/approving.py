"""What a speaker was asked, as the API tells it."""

from nimble_quote.api.views.approvals import ApprovalView
from nimble_quote.store.approvals import ApprovalRow


def approval_view(row: ApprovalRow, head: int) -> ApprovalView:
    """What was asked and answered about a quote that is now at revision `head`."""
    return ApprovalView(
        id=row.id, revision=row.revision, created_at=row.created_at, expires_at=row.expires_at, open=row.open,
        answer=row.answer, answered_by=row.answered_by, note=row.note, answered_at=row.answered_at,
        stale=row.revision != head,
    )  # fmt: skip
