"""What is kept for a while only: removed recordings for a day, uploads nobody made a recording of for a day."""

import shutil
import time

from nimble_quote.jobs.workshop import Workshop
from nimble_quote.store import recordings

KEPT_S = 24 * 3600


async def tidy(shop: Workshop) -> None:
    """Drops what has been kept long enough, with its files."""
    async with shop.pool.connection() as conn:
        gone = await recordings.purge(conn)
    for content, media_path in gone:
        shop.media.inside(media_path).unlink(missing_ok=True)
        shutil.rmtree(shop.media.derived(content, ""), ignore_errors=True)
    uploads = shop.media.folder / "uploads"
    for old in uploads.iterdir() if uploads.exists() else ():
        if time.time() - old.stat().st_mtime > KEPT_S:
            old.unlink(missing_ok=True)
