"""Long work as the API tells it."""

from datetime import UTC, datetime

from nimble_quote.api.views.recordings import WorkView
from nimble_quote.store.work import WorkRow


def work_view(row: WorkRow) -> WorkView:
    """A piece of work, with the time it will still take."""
    running = row.state == "running"
    return WorkView(
        id=row.id,
        recording_id=row.recording_id,
        kind=row.kind,
        state=row.state,
        stage=row.stage,
        progress=row.progress,
        time_left_s=time_left_s(row.started_at, row.progress, row.progressed_from) if running else None,
        problem=row.problem,
        about=str(row.details.get("address", "")),
    )


def time_left_s(started_at: datetime | None, progress: float, progressed_from: float = 0.0) -> float | None:
    """Seconds to go at the pace since work was begun or gone on with; None before there is a pace to speak of."""
    made = progress - progressed_from
    if started_at is None or made < 0.03:
        return None
    spent = (datetime.now(UTC) - started_at).total_seconds()
    return spent * (1 - progress) / made
