"""The task queue, which lives in the same database: a job is queued in the transaction of what it is for.

Jobs wait in lanes, and each lane has places of its own, so that no kind of work keeps another from being begun.
"""

from typing import Literal

import procrastinate

from nimble_quote.settings import settings
from nimble_quote.store.database import Connection
from nimble_quote.store.work import WorkKind

queue = procrastinate.App(
    connector=procrastinate.PsycopgConnector(conninfo=settings().database_url),
    import_paths=["nimble_quote.jobs.tasks"],
)

Lane = Literal["render", "analyse", "fetch", "upkeep"]
WORK, EXPORT = "do-work", "export-clip"

LANE_OF: dict[WorkKind, Lane] = {"prepare": "analyse", "align": "analyse", "transcribe": "analyse", "fetch": "fetch"}


async def enqueue_work(conn: Connection, work_id: int, kind: WorkKind) -> None:
    """Queues the job of a piece of work, as part of the connection's transaction."""
    await queue.configure_task(WORK, connection=conn, queue=LANE_OF[kind]).defer_async(work_id=work_id)


async def enqueue_export(conn: Connection, export_id: int) -> None:
    """Queues the job of an export, as part of the connection's transaction."""
    await queue.configure_task(EXPORT, connection=conn, queue="render").defer_async(export_id=export_id)
