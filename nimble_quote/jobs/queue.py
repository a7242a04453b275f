"""The task queue, which lives in the same database: a job is queued in the transaction of what it is for.

Jobs wait in lanes, and each lane has places of its own, so that no kind of work keeps another from being begun, and what
nobody waits for never stands before what somebody does.
"""

from collections.abc import Sequence
from typing import Literal

import procrastinate

from nimble_quote.settings import settings
from nimble_quote.store import exports
from nimble_quote.store.database import Connection
from nimble_quote.store.work import WorkKind, WorkRow

queue = procrastinate.App(
    connector=procrastinate.PsycopgConnector(conninfo=settings().database_url),
    import_paths=["nimble_quote.jobs.tasks"],
)

Lane = Literal["held", "render", "analyse", "follow", "fetch", "post", "background", "upkeep"]
WORK = "do-work"

LANE_OF: dict[WorkKind, Lane] = {
    "prepare": "analyse",
    "align": "analyse",
    "transcribe": "analyse",
    "fetch": "fetch",
    "export": "render",
    "follow": "follow",
    "post": "post",
}
"""Where work waits that somebody waits for."""


HELD: Lane = "held"
"""Where exports wait while they are paused: nobody takes from it."""


def lane_of(row: WorkRow) -> Lane:
    """Where work waits to be done."""
    return LANE_OF[row.kind] if row.waited else "background"


async def _lane_now(conn: Connection, row: WorkRow) -> Lane:
    return HELD if row.kind == "export" and await exports.paused(conn) else lane_of(row)


async def enqueue(conn: Connection, row: WorkRow) -> None:
    """Queues the job of a piece of work, as part of the connection's transaction."""
    lane = await _lane_now(conn, row)
    await queue.configure_task(WORK, connection=conn, queue=lane, priority=row.priority).defer_async(work_id=row.id)


async def pause(conn: Connection, paused: bool) -> None:
    """Has no export begun, or has those that waited meanwhile begun again."""
    await exports.set_paused(conn, paused)
    await conn.execute(
        """update procrastinate_jobs set queue_name = %s
           where status = 'todo' and task_name = %s and queue_name = %s""",
        [HELD if paused else LANE_OF["export"], WORK, LANE_OF["export"] if paused else HELD],
    )


async def put_in_order(conn: Connection, work_ids: Sequence[int]) -> None:
    """Has pieces of work that nobody has begun done in this order, before others of their lane."""
    for place, work_id in enumerate(work_ids):
        priority = len(work_ids) - place
        await conn.execute("update work set priority = %s where id = %s and state = 'queued'", [priority, work_id])
        await conn.execute(
            """update procrastinate_jobs set priority = %s
               where status = 'todo' and task_name = %s and (args->>'work_id')::bigint = %s""",
            [priority, WORK, work_id],
        )


async def hurry(conn: Connection, row: WorkRow) -> None:
    """Moves a job that nobody has begun to the lane that its work belongs in now."""
    lane = await _lane_now(conn, row)
    await conn.execute(
        """update procrastinate_jobs set queue_name = %s
           where status = 'todo' and task_name = %s and (args->>'work_id')::bigint = %s and queue_name <> %s""",
        [lane, WORK, row.id, lane],
    )
