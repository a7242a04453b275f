"""The worker process: `nimble-quote work`. More of them, on more machines, need only the same database and media."""

import asyncio
import signal
import sys
from collections.abc import Sequence

import procrastinate

from nimble_quote.jobs.housekeeping import adopt
from nimble_quote.jobs.queue import Lane, queue
from nimble_quote.jobs.state import WorkerState
from nimble_quote.jobs.tasks import STALLED_AFTER_S
from nimble_quote.media.files import MediaRoot
from nimble_quote.settings import Settings
from nimble_quote.store.database import open_pool

_BEFORE_LANES = "default"
"""Where jobs were queued before there were lanes; some may wait there in a database of that time."""


class WorkerFailed(RuntimeError):
    """The worker can't go on, as when the database is away; whoever started it starts it again."""


def lane_sizes(settings: Settings) -> dict[Lane, int]:
    """How many jobs of each lane are done at the same time."""
    return {
        "render": settings.exports_at_once,
        "analyse": settings.analyses_at_once,
        "follow": 1,
        "fetch": 4,
        "post": 4,
        "background": 1,
        "upkeep": 2,
    }


async def work(settings: Settings) -> None:
    """Works until it is told to stop by SIGTERM or SIGINT. Raises `WorkerFailed` where it ends for another reason."""
    media = MediaRoot(settings.media_root, settings.reserve_bytes)
    media.prepare()
    stop = asyncio.Event()
    for told in (signal.SIGTERM, signal.SIGINT):
        asyncio.get_running_loop().add_signal_handler(told, stop.set)
    async with open_pool(settings.database_url) as pool, queue.open_async():
        worker = WorkerState(pool=pool, media=media, settings=settings)
        await adopt(worker)
        lanes = [asyncio.create_task(_lane(worker, lane, count)) for lane, count in lane_sizes(settings).items()]
        told_to = asyncio.create_task(stop.wait())
        try:
            await asyncio.wait([*lanes, told_to], return_when=asyncio.FIRST_COMPLETED)
        finally:
            for task in (*lanes, told_to):
                task.cancel()
            ended = await asyncio.gather(*lanes, return_exceptions=True)
            worker.close()
    if not stop.is_set():
        raise WorkerFailed(_why(ended))


def queue_of(lane: Lane) -> procrastinate.App:
    """The queue as a lane takes from it. Only one lane asks for what is done every few seconds: they would all ask for the same."""
    if lane == "upkeep":
        return queue
    quiet = procrastinate.App(connector=queue.connector)
    quiet.tasks = queue.tasks
    return quiet


async def _lane(worker: WorkerState, lane: Lane, count: int) -> None:
    await queue_of(lane).run_worker_async(
        name=lane,
        queues=[lane, *([_BEFORE_LANES] if lane == "analyse" else [])],
        concurrency=count,
        additional_context={"worker": worker},
        update_heartbeat_interval=2.0,
        stalled_worker_timeout=STALLED_AFTER_S,
        fetch_job_polling_interval=1.0,
        shutdown_graceful_timeout=0.5,
        delete_jobs="successful",
        install_signal_handlers=False,
    )


def _why(ended: Sequence[object]) -> str:
    reasons = [str(one) for one in ended if isinstance(one, Exception)]
    return reasons[0] if reasons else "the queue was lost"


def main(settings: Settings) -> None:
    """Runs a worker as a process of its own."""
    try:
        asyncio.run(work(settings))
    except WorkerFailed as failed:
        sys.exit(f"The worker stopped: {failed}.")
