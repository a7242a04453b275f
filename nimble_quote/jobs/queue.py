"""The task queue, which lives in the same database: a job is queued in the transaction of what it is for.

Jobs wait in lanes, and each lane has places of its own, so that no kind of work keeps another from being begun, and what
nobody waits for never stands before what somebody does.
"""

from typing import Literal

import procrastinate

from nimble_quote.settings import settings
from nimble_quote.store.database import Connection
from nimble_quote.store.work import WorkKind, WorkRow

queue = procrastinate.App(
    connector=procrastinate.PsycopgConnector(conninfo=settings().database_url),
    import_paths=["nimble_quote.jobs.tasks"],
)

Lane = Literal["render", "analyse", "follow", "fetch", "background", "upkeep"]
WORK = "do-work"

LANE_OF: dict[WorkKind, Lane] = {
    "prepare": "analyse",
    "align": "analyse",
    "transcribe": "analyse",
    "fetch": "fetch",
    "export": "render",
    "follow": "follow",
}
"""Where work waits that somebody waits for."""


def lane_of(row: WorkRow) -> Lane:
    """Where work waits to be done."""
    return LANE_OF[row.kind] if row.waited else "background"


async def enqueue(conn: Connection, row: WorkRow) -> None:
    """Queues the job of a piece of work, as part of the connection's transaction."""
    await queue.configure_task(WORK, connection=conn, queue=lane_of(row)).defer_async(work_id=row.id)


async def hurry(conn: Connection, row: WorkRow) -> None:
    """Moves a job that nobody has begun to the lane that its work belongs in now."""
    await conn.execute(
        """update procrastinate_jobs set queue_name = %s
           where status = 'todo' and task_name = %s and (args->>'work_id')::bigint = %s and queue_name <> %s""",
        [lane_of(row), WORK, row.id, lane_of(row)],
    )
