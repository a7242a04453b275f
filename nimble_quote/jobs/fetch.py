"""Fetching a recording by its web address, and taking it in."""

from nimble_quote.jobs.intake import AlreadyHere, Brought, intake_of, take_in
from nimble_quote.jobs.working import Going, WorkFailed
from nimble_quote.services.fetching import fetch


async def fetch_recording(going: Going) -> None:
    """Fetches the address in the work's details; a broken-off fetch goes on where it was."""
    shop, details = going.shop, going.row.details
    folder = shop.media.folder / "uploads"
    folder.mkdir(exist_ok=True)
    target = folder / f"fetch-{going.row.id}"
    progress = await going.stage("Fetching", 0.0, 0.95)
    got = await fetch(str(details.get("address", "")), shop.settings.allowed_hosts, target, progress, shop.media.room)
    await going.stage("Reading it", 0.95)
    try:
        await take_in(intake_of(shop), Brought(path=got.path, name=got.name), series=details.get("series"))
    except AlreadyHere as known:
        target.unlink(missing_ok=True)
        raise WorkFailed(str(known)) from known
    finally:
        if target.exists() and target.stat().st_size == 0:
            target.unlink()
