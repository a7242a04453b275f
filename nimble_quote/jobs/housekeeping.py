"""What is kept for a while only: removed recordings and quotes for a day, uploads nobody made a recording of for a day."""

import shutil
import time
from pathlib import Path

from nimble_quote.jobs.state import WorkerState
from nimble_quote.media.files import MediaRoot
from nimble_quote.store import exports, quotes, recordings

KEPT_S = 24 * 3600


async def tidy(worker: WorkerState) -> None:
    """Drops what has been kept long enough, with its files."""
    async with worker.pool.connection() as conn:
        await quotes.purge(conn)
        # Before the rows are gone for others, so that the same recording brought in again never loses its new file.
        for content, media_path in await recordings.purge(conn):
            worker.media.inside(media_path).unlink(missing_ok=True)
            shutil.rmtree(worker.media.derived(content, ""), ignore_errors=True)
    for clip in await _strays(worker):
        shutil.rmtree(clip, ignore_errors=True)
    _drop_old_uploads(worker.media)


async def _strays(worker: WorkerState) -> list[Path]:
    """Folders of clips whose exports are no more: listed first, so that none is newer than the rows they are held against."""
    folders = [path for path in (worker.media.folder / "exports").iterdir() if path.name.isdigit()]
    async with worker.pool.connection() as conn:
        known = await exports.known(conn)
    return [path for path in folders if int(path.name) not in known]


def _drop_old_uploads(media: MediaRoot) -> None:
    uploads = media.folder / "uploads"
    for old in uploads.iterdir() if uploads.exists() else ():
        if time.time() - old.stat().st_mtime > KEPT_S:
            old.unlink(missing_ok=True)
