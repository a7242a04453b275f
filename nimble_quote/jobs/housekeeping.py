"""What is kept for a while only: removed recordings and quotes for a day, uploads nobody made a recording of for a day; and
the files that belong to nothing any more."""

import asyncio
import shutil
import time

from nimble_quote.jobs.state import WorkerState
from nimble_quote.media.files import MediaRoot
from nimble_quote.media.keys import LISTENED, PROXY, derived_key
from nimble_quote.store import media_files, quotes, recordings

KEPT_S = 24 * 3600


async def tidy(worker: WorkerState) -> None:
    """Drops what has been kept long enough, with its files."""
    async with worker.pool.connection() as conn:
        await quotes.purge(conn)
        contents = await recordings.purge(conn)
    for content in contents:
        shutil.rmtree(worker.media.working(content, ""), ignore_errors=True)
    while await _freed(worker):
        pass
    await _drop_without_row(worker)
    _drop_old_uploads(worker.media)


async def adopt(worker: WorkerState) -> None:
    """Gives the files that an earlier version made of recordings their rows; it told by looking whether there were any."""
    async with worker.pool.connection() as conn:
        for recording_id, content in await media_files.contents_without(conn, (*LISTENED, PROXY)):
            for name in (*LISTENED, PROXY):
                key = derived_key(content, name)
                size = worker.media.store.stat(key)
                if size is not None and await media_files.without_row(conn, [key]):
                    await media_files.note(conn, key, size, recording_id=recording_id)
            _move_unfinished(worker.media, content)


def _move_unfinished(media: MediaRoot, content: str) -> None:
    for name in ("looking", "recognising"):
        before = media.store.local(derived_key(content, name))
        if before.is_dir():
            media.working(content, name).parent.mkdir(parents=True, exist_ok=True)
            before.replace(media.working(content, name))


async def _freed(worker: WorkerState) -> int:
    async with worker.pool.connection() as conn:
        return await media_files.free(conn, worker.media)


async def _drop_without_row(worker: WorkerState) -> None:
    """Frees files of attempts that were given up at the last moment. Old ones only: what is newer may get its row yet."""
    store = worker.media.store
    keys = await asyncio.to_thread(list, store.every_key(older_than=time.time() - KEPT_S))
    async with worker.pool.connection() as conn:
        strays = await media_files.without_row(conn, keys)
    for key in strays:
        store.remove(key)


def _drop_old_uploads(media: MediaRoot) -> None:
    for old in (media.folder / "uploads").iterdir():
        if time.time() - old.stat().st_mtime > KEPT_S:
            old.unlink(missing_ok=True)
