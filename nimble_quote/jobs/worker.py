"""The worker process: `nimble-quote work`. More of them, on more machines, need only the same database and media."""

import asyncio

from nimble_quote.jobs.queue import queue
from nimble_quote.jobs.tasks import STALLED_AFTER_S
from nimble_quote.jobs.workshop import Workshop
from nimble_quote.media.files import MediaRoot
from nimble_quote.settings import Settings
from nimble_quote.store.database import open_pool

_AT_ONCE = 4
"""Neither an export nor an import is kept waiting by the long work on another recording."""


async def work(settings: Settings) -> None:
    """Works until it is told to stop."""
    media = MediaRoot(settings.media_root)
    media.prepare()
    async with open_pool(settings.database_url) as pool, queue.open_async():
        shop = Workshop(pool=pool, media=media, settings=settings)
        try:
            await queue.run_worker_async(
                concurrency=_AT_ONCE,
                additional_context={"workshop": shop},
                update_heartbeat_interval=2.0,
                stalled_worker_timeout=STALLED_AFTER_S,
                fetch_job_polling_interval=1.0,
                shutdown_graceful_timeout=0.5,
                delete_jobs="successful",
            )
        finally:
            shop.close()


def main(settings: Settings) -> None:
    """Runs a worker as a process of its own."""
    asyncio.run(work(settings))
