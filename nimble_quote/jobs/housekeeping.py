"""What is kept for a while only: removed recordings and quotes for a day, uploads nobody made a recording of for a day."""

import shutil
import time
from pathlib import Path

from nimble_quote.jobs.workshop import Workshop
from nimble_quote.media.files import MediaRoot
from nimble_quote.store import exports, quotes, recordings

KEPT_S = 24 * 3600


async def tidy(shop: Workshop) -> None:
    """Drops what has been kept long enough, with its files."""
    async with shop.pool.connection() as conn:
        await quotes.purge(conn)
        # Before the rows are gone for others, so that the same recording brought in again never loses its new file.
        for content, media_path in await recordings.purge(conn):
            shop.media.inside(media_path).unlink(missing_ok=True)
            shutil.rmtree(shop.media.derived(content, ""), ignore_errors=True)
    for clip in await _strays(shop):
        shutil.rmtree(clip, ignore_errors=True)
    _drop_old_uploads(shop.media)


async def _strays(shop: Workshop) -> list[Path]:
    """Folders of clips whose exports are no more: listed first, so that none is newer than the rows they are held against."""
    folders = [path for path in (shop.media.folder / "exports").iterdir() if path.name.isdigit()]
    async with shop.pool.connection() as conn:
        known = await exports.known(conn)
    return [path for path in folders if int(path.name) not in known]


def _drop_old_uploads(media: MediaRoot) -> None:
    uploads = media.folder / "uploads"
    for old in uploads.iterdir() if uploads.exists() else ():
        if time.time() - old.stat().st_mtime > KEPT_S:
            old.unlink(missing_ok=True)
