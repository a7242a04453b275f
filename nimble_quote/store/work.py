"""Long work on recordings: asked for, going on, ended. Every write of a worker carries its attempt, so that one that
was taken for dead and wakes again can change nothing.
"""

from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal
from uuid import UUID

from psycopg.rows import class_row, scalar_row
from psycopg.types.json import Jsonb

from nimble_quote.store.database import Connection, NotFound

WorkKind = Literal["prepare", "align", "transcribe", "fetch"]


@dataclass(frozen=True, kw_only=True)
class WorkRow:
    """One piece of work."""

    id: int
    recording_id: int | None
    kind: WorkKind
    details: dict[str, Any]
    state: str
    stage: str
    progress: float
    progressed_from: float
    started_at: datetime | None
    problem: str | None
    tries: int
    created_at: datetime


class AttemptLost(RuntimeError):
    """Another worker has taken the work over, or it is no longer to be done."""


class StopRequested(RuntimeError):
    """Whoever asked for the work wants it no more."""


_SELECT = """select id, recording_id, kind::text, details, state::text, stage, progress, progressed_from, started_at, problem,
    tries, created_at from work"""


async def ask(
    conn: Connection, kind: WorkKind, recording_id: int | None, details: dict[str, Any] | None = None
) -> int | None:
    """Asks for work; its id, or None where the same is waiting or going on for this recording."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """insert into work (recording_id, kind, details) values (%s, %s, %s)
               on conflict (recording_id, kind) where state in ('queued', 'running') do nothing returning id""",
            [recording_id, kind, Jsonb(details or {})],
        )
        found = await cursor.fetchone()
    return int(found) if found is not None else None


async def one(conn: Connection, work_id: int) -> WorkRow:
    """One piece of work. Raises `NotFound`."""
    async with conn.cursor(row_factory=class_row(WorkRow)) as cursor:
        await cursor.execute(_SELECT + " where id = %s", [work_id])
        row = await cursor.fetchone()
    if row is None:
        raise NotFound("There is no such work.")
    return row


async def latest(conn: Connection) -> list[WorkRow]:
    """The newest work of each kind on each recording, and every fetching of the last day."""
    async with conn.cursor(row_factory=class_row(WorkRow)) as cursor:
        await cursor.execute(
            f"""(select distinct on (w.recording_id, w.kind) w.id, w.recording_id, w.kind::text, w.details, w.state::text,
                    w.stage, w.progress, w.progressed_from, w.started_at, w.problem, w.tries, w.created_at
                from work w where w.recording_id is not null order by w.recording_id, w.kind, w.created_at desc, w.id desc)
                union all ({_SELECT} where recording_id is null and created_at > now() - interval '1 day')
                order by id"""  # noqa: S608 - a constant
        )
        return await cursor.fetchall()


async def of_recording(conn: Connection, recording_id: int) -> list[WorkRow]:
    """The newest work of each kind on a recording."""
    async with conn.cursor(row_factory=class_row(WorkRow)) as cursor:
        await cursor.execute(
            f"""select distinct on (kind) * from ({_SELECT} where recording_id = %s) w
                order by kind, created_at desc, id desc""",  # noqa: S608 - a constant
            [recording_id],
        )
        return await cursor.fetchall()


async def begin(conn: Connection, work_id: int, attempt: UUID) -> bool:
    """Takes work on for an attempt; False where it is no longer to be done."""
    cursor = await conn.execute(
        """update work set state = 'running', attempt = %s, started_at = now(), progressed_from = progress,
               tries = tries + 1
           where id = %s and state in ('queued', 'running') and not stop_requested""",
        [attempt, work_id],
    )
    return cursor.rowcount == 1


async def report(conn: Connection, work_id: int, attempt: UUID, stage: str, progress: float) -> None:
    """Says what is being done and how far it is. Raises `AttemptLost` or `StopRequested` where it is to end."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """update work set stage = %s, progress = %s where id = %s and attempt = %s and state = 'running'
               returning stop_requested""",
            [stage, progress, work_id, attempt],
        )
        stop = await cursor.fetchone()
    if stop is None:
        raise AttemptLost(f"work {work_id} is not this attempt's any more")
    if stop:
        raise StopRequested(f"work {work_id} is to be stopped")


async def finish(conn: Connection, work_id: int, attempt: UUID) -> None:
    """Says that work is done."""
    await conn.execute(
        """update work set state = 'done', stage = 'Done', progress = 1, finished_at = now()
           where id = %s and attempt = %s and state = 'running'""",
        [work_id, attempt],
    )


async def fail(conn: Connection, work_id: int, attempt: UUID, problem: str) -> None:
    """Says why work failed."""
    await conn.execute(
        """update work set state = 'failed', problem = %s, finished_at = now()
           where id = %s and attempt = %s and state = 'running'""",
        [problem, work_id, attempt],
    )


async def hand_back(conn: Connection, work_id: int, attempt: UUID) -> bool:
    """Gives work up in order, since its worker is to end: it waits for another, unless it was to be stopped anyway.

    Whether it waits.
    """
    cursor = await conn.execute(
        """update work set state = case when stop_requested then 'stopped' else 'queued' end::work_state,
               finished_at = case when stop_requested then now() end, stage = 'Waiting', attempt = null,
               tries = greatest(tries - 1, 0)
           where id = %s and attempt = %s and state = 'running' returning state::text""",
        [work_id, attempt],
    )
    row = await cursor.fetchone()
    return row is not None and row[0] == "queued"


async def request_stop(conn: Connection, work_id: int) -> None:
    """Asks for work to be stopped: at once where nobody has begun it."""
    await conn.execute(
        """update work set stop_requested = true,
               state = case when state = 'queued' then 'stopped' else state end,
               finished_at = case when state = 'queued' then now() else finished_at end
           where id = %s and state in ('queued', 'running')""",
        [work_id],
    )


async def set_stopped(conn: Connection, work_id: int) -> None:
    """Says that work was stopped, as was asked."""
    await conn.execute(
        """update work set state = 'stopped', finished_at = now()
           where id = %s and state in ('queued', 'running') and stop_requested""",
        [work_id],
    )


async def resume(conn: Connection, work_id: int) -> bool:
    """Asks for stopped or failed work again, to go on from where it was; False where the same is live."""
    cursor = await conn.execute(
        """update work w set state = 'queued', stop_requested = false, problem = null, finished_at = null, attempt = null,
               stage = 'Waiting', tries = 0
           where w.id = %s and w.state in ('stopped', 'failed') and not exists (
               select from work o where o.recording_id = w.recording_id and o.kind = w.kind
                   and o.state in ('queued', 'running'))""",
        [work_id],
    )
    return cursor.rowcount == 1


async def unattended(conn: Connection) -> list[tuple[int, WorkKind]]:
    """Work that waits or is said to be going on, without a job in the queue to do it."""
    async with conn.cursor() as cursor:
        await cursor.execute(
            """select w.id, w.kind::text from work w where w.state in ('queued', 'running') and not exists (
                   select from procrastinate_jobs j
                   where j.status in ('todo', 'doing') and (j.args->>'work_id')::bigint = w.id)"""
        )
        rows: list[Any] = await cursor.fetchall()
    return [(work_id, kind) for work_id, kind in rows]
