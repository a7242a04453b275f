"""Following what a person drew a box on, through its shot or as much of it as the quote needs."""

from nimble_quote.core.timebase import Span
from nimble_quote.jobs.working import Attempt, WorkFailed
from nimble_quote.media.following import TooEven
from nimble_quote.media.ways import Footage, way_of
from nimble_quote.store import recordings, things

_LEAST_LOOKS = 3


async def follow_thing(attempt: Attempt) -> None:
    """Follows the box that the work tells, and keeps where it goes. Raises `WorkFailed` where it can't be followed."""
    details = attempt.row.details
    async with attempt.worker.pool.connection() as conn:
        recording = await recordings.one(conn, attempt.recording_id)
    path = attempt.worker.media.store.local(recording.plays)
    footage = Footage(path=path, size=(recording.width, recording.height))
    within = Span(start_ms=details["start_ms"], end_ms=details["end_ms"])
    progress = await attempt.stage("Following")
    try:
        places = await way_of(footage, tuple(details["box"]), details["at_ms"], within, progress)
    except TooEven:
        raise WorkFailed(
            "There is nothing in that box to follow it by: the picture is too even there. Draw it around something with an outline."
        ) from None
    if len(places) < _LEAST_LOOKS:
        raise WorkFailed(
            "It is lost right after that moment. Draw the box where it stays in the picture for a second or more."
        )
    async with attempt.ending() as conn:
        await things.place(conn, recording.id, details["subject"], places)
