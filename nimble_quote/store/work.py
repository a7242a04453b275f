"""Long work: asked for, going on, ended. One table for all kinds of it, and one protocol.

Every write of a worker carries the token of its attempt, so that one that was taken for dead and wakes again can change
nothing.
"""

from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal
from uuid import UUID

from psycopg.rows import class_row, scalar_row
from psycopg.types.json import Jsonb

from nimble_quote.store.database import Connection, NotFound

WorkKind = Literal["prepare", "align", "transcribe", "fetch", "export", "follow", "post"]


@dataclass(frozen=True, kw_only=True)
class WorkRow:
    """One piece of work."""

    id: int
    recording_id: int | None
    export_id: int | None
    post_id: int | None
    kind: WorkKind
    details: dict[str, Any]
    waited: bool
    state: str
    stage: str
    progress: float
    progressed_from: float
    started_at: datetime | None
    problem: str | None
    tries: int
    priority: int
    created_at: datetime


@dataclass(frozen=True, kw_only=True)
class Target:
    """What work is done to, by a name: of one kind on one target no more is live than one. `recording_id`, `export_id` and
    `post_id` say which row it is for; it goes when that goes."""

    name: str
    recording_id: int | None = None
    export_id: int | None = None
    post_id: int | None = None


def on_recording(recording_id: int) -> Target:
    """A recording, as the target of work."""
    return Target(name=f"recording {recording_id}", recording_id=recording_id)


class AttemptLost(RuntimeError):
    """Another worker has taken the work over, or it is no longer to be done."""


class StopRequested(RuntimeError):
    """Whoever asked for the work wants it no more."""


_COLUMNS = """w.id, w.recording_id, w.export_id, w.post_id, w.kind::text, w.details, w.waited, w.state::text, w.stage, w.progress,
    w.progressed_from, w.started_at, w.problem, w.tries, w.priority, w.created_at"""
_SELECT = f"select {_COLUMNS} from work w"  # noqa: S608 - a constant


@dataclass(frozen=True, kw_only=True)
class Asked:
    """Work that was asked for: its id, and whether it is new or was waiting or going on already."""

    id: int
    new: bool


async def ask(
    conn: Connection, kind: WorkKind, target: Target, details: dict[str, Any] | None = None, *, waited: bool = True
) -> Asked:
    """Asks for work. Where the same is live, that is meant; somebody waits for it if anybody does."""
    async with conn.cursor(row_factory=class_row(Asked)) as cursor:
        await cursor.execute(
            """insert into work (kind, target, recording_id, export_id, post_id, details, waited) values (%s, %s, %s, %s, %s, %s, %s)
               on conflict (kind, target) where state in ('queued', 'running')
                   do update set waited = work.waited or excluded.waited
               returning id, xmax = 0 as new""",
            [kind, target.name, target.recording_id, target.export_id, target.post_id, Jsonb(details or {}), waited],
        )
        asked = await cursor.fetchone()
    assert asked is not None
    return asked


async def one(conn: Connection, work_id: int) -> WorkRow:
    """One piece of work. Raises `NotFound`."""
    async with conn.cursor(row_factory=class_row(WorkRow)) as cursor:
        await cursor.execute(_SELECT + " where w.id = %s", [work_id])
        row = await cursor.fetchone()
    if row is None:
        raise NotFound("There is no such work.")
    return row


async def unfinished(conn: Connection) -> list[WorkRow]:
    """What waits, goes on, was stopped or failed, on recordings or to get one, and nothing newer of the kind took its place;
    fetching of the last day only."""
    async with conn.cursor(row_factory=class_row(WorkRow)) as cursor:
        await cursor.execute(
            _SELECT
            + """ where w.state <> 'done' and w.kind not in ('export', 'follow', 'post')
                and (w.recording_id is not null or w.created_at > now() - interval '1 day')
                and not exists (select from work n where n.recording_id = w.recording_id and n.kind = w.kind and n.id > w.id)
                order by w.id"""
        )
        return await cursor.fetchall()


async def of_recording(conn: Connection, recording_id: int) -> list[WorkRow]:
    """The newest work of each kind on a recording."""
    async with conn.cursor(row_factory=class_row(WorkRow)) as cursor:
        await cursor.execute(
            f"""select distinct on (w.kind) {_COLUMNS} from work w where w.recording_id = %s and w.kind <> 'follow'
                order by w.kind, w.created_at desc, w.id desc""",  # noqa: S608 - a constant
            [recording_id],
        )
        return await cursor.fetchall()


async def look_first(conn: Connection, recording_id: int, start_ms: int, end_ms: int) -> Literal["new", "known"] | None:
    """Has a stretch of a recording that is being prepared looked at before the rest; whether that is news. None where it is not
    being prepared."""
    first = [start_ms, end_ms]
    found = await conn.execute(
        """select details->'first' = %s from work
           where recording_id = %s and kind = 'prepare' and state in ('queued', 'running')""",
        [Jsonb(first), recording_id],
    )
    told = await found.fetchone()
    if told is None or told[0]:
        return None if told is None else "known"
    # Only where it is news: each change of work is told to every browser.
    await conn.execute(
        """update work set details = details || %s
           where recording_id = %s and kind = 'prepare' and state in ('queued', 'running')""",
        [Jsonb({"first": first}), recording_id],
    )
    return "new"


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
            """update work set stage = %s, progress = %s, progressed_from = least(progressed_from, %s) where id = %s and attempt = %s and state = 'running'
               returning stop_requested""",
            [stage, progress, progress, work_id, attempt],
        )
        stop = await cursor.fetchone()
    if stop is None:
        raise AttemptLost(f"work {work_id} is not this attempt's any more")
    if stop:
        raise StopRequested(f"work {work_id} is to be stopped")


async def finish(conn: Connection, work_id: int, attempt: UUID) -> None:
    """Says that work is done. Raises `AttemptLost` where it is not this attempt's to say so."""
    cursor = await conn.execute(
        """update work set state = 'done', stage = 'Done', progress = 1, finished_at = now()
           where id = %s and attempt = %s and state = 'running'""",
        [work_id, attempt],
    )
    if cursor.rowcount != 1:
        raise AttemptLost(f"work {work_id} is not this attempt's any more")


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
    """Asks for stopped or failed work again, to go on from where it was, since somebody waits for it; False where the same
    is live."""
    cursor = await conn.execute(
        """update work w set state = 'queued', stop_requested = false, problem = null, finished_at = null, attempt = null,
               stage = 'Waiting', tries = 0, waited = true
           where w.id = %s and w.state in ('stopped', 'failed') and not exists (
               select from work o where o.kind = w.kind and o.target = w.target and o.state in ('queued', 'running'))""",
        [work_id],
    )
    return cursor.rowcount == 1


async def unattended(conn: Connection) -> list[WorkRow]:
    """Work that waits or is said to be going on, without a job in the queue to do it; in the order asked."""
    async with conn.cursor(row_factory=class_row(WorkRow)) as cursor:
        await cursor.execute(
            _SELECT
            + """ where w.state in ('queued', 'running') and not exists (
                   select from procrastinate_jobs j
                   where j.status in ('todo', 'doing') and (j.args->>'work_id')::bigint = w.id) order by w.id"""
        )
        return await cursor.fetchall()
