"""Fetching a recording by its web address, and taking it in."""

from nimble_quote.jobs.intake import AlreadyHere, Brought, intake_of, take_in
from nimble_quote.jobs.working import Attempt, WorkFailed
from nimble_quote.services.fetching import fetch


async def fetch_recording(attempt: Attempt) -> None:
    """Fetches the address in the work's details; a broken-off fetch goes on where it was."""
    worker, details = attempt.worker, attempt.row.details
    target = worker.media.folder / "uploads" / f"fetch-{attempt.row.id}"
    progress = await attempt.stage("Fetching", 0.0, 0.95)
    got = await fetch(
        str(details.get("address", "")), worker.settings.allowed_hosts, target, progress, worker.media.room
    )
    await attempt.stage("Reading it", 0.95)
    try:
        await take_in(intake_of(worker), Brought(path=got.path, name=got.name), series=details.get("series"))
    except AlreadyHere as known:
        target.unlink(missing_ok=True)
        raise WorkFailed(str(known)) from known
    finally:
        if target.exists() and target.stat().st_size == 0:
            target.unlink()
