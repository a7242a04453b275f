"""The task queue, which lives in the same database: a job is queued in the transaction of what it is for."""

import procrastinate

from nimble_quote.settings import settings
from nimble_quote.store.database import Connection

queue = procrastinate.App(
    connector=procrastinate.PsycopgConnector(conninfo=settings().database_url),
    import_paths=["nimble_quote.jobs.tasks"],
)

WORK, EXPORT = "do-work", "export-clip"


async def enqueue(conn: Connection, task: str, **arguments: int) -> None:
    """Queues a job as part of the connection's transaction."""
    await queue.configure_task(task, connection=conn).defer_async(**arguments)
