"""Exports: clips to be made, being made, and made. Every write of a worker carries its attempt, so that one that was
taken for dead and wakes again can change nothing.
"""

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from psycopg.rows import class_row, scalar_row
from psycopg.types.json import Jsonb

from nimble_quote.core.assembly import Assembly
from nimble_quote.core.captions.timing import WrittenCue
from nimble_quote.core.preflight import FileFacts, Finding
from nimble_quote.store.database import Connection, NotFound


@dataclass(frozen=True, kw_only=True)
class ExportRow:
    """An export: what it was asked for as, how it went, and the names of the quote and the talk it is from."""

    id: int
    quote_id: int
    revision: int
    destination: str
    destination_name: str
    width: int
    height: int
    limit_ms: int
    largest_mb: int
    rate_num: int
    rate_den: int
    planned_frames: int
    cues: list[dict[str, Any]]
    state: str
    progress: float
    started_at: datetime | None
    file_path: str | None
    facts: dict[str, Any] | None
    findings: list[dict[str, Any]] | None
    problem: str | None
    tries: int
    created_at: datetime
    quote_title: str
    recording_id: int
    recording_title: str

    @property
    def planned_ms(self) -> float:
        return self.planned_frames * 1000 * self.rate_den / self.rate_num


_SELECT = """
    select e.id, e.quote_id, e.revision, e.destination, e.destination_name, e.width, e.height, e.limit_ms,
        e.largest_mb, e.rate_num, e.rate_den, e.planned_frames, e.cues, e.state::text, e.progress, e.started_at, e.file_path, e.facts,
        e.findings, e.problem, e.tries, e.created_at,
        v.document->>'title' as quote_title, q.recording_id, r.title as recording_title
    from export e
        join quote_revision v on v.quote_id = e.quote_id and v.number = e.revision
        join quote q on q.id = e.quote_id
        join recording r on r.id = q.recording_id
"""


@dataclass(frozen=True, kw_only=True)
class MadeClip:
    """A clip that was made: where it is, how long it was to be, what was measured and found, and the captions it shows."""

    file_path: str
    frames: int
    facts: FileFacts
    findings: tuple[Finding, ...]
    cues: tuple[WrittenCue, ...]


class AttemptLost(RuntimeError):
    """Another worker has taken the export over, or it is no longer to be made."""


class CancelRequested(RuntimeError):
    """The person who asked for the export wants it no more."""


async def queue(conn: Connection, quote_id: int, revision: int, assembly: Assembly) -> int | None:
    """Adds an export of a version; its id, or None where just this is being made already.

    One of an older revision that nobody has begun gives way to it; one that is being made is made to its end.
    """
    await conn.execute(
        """update export set state = 'cancelled', finished_at = now()
           where quote_id = %s and destination = %s and revision < %s and state = 'queued'""",
        [quote_id, assembly.destination.id, revision],
    )
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """insert into export (quote_id, revision, destination, destination_name, width, height, limit_ms,
                   largest_mb, rate_num, rate_den, planned_frames) values (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)
               on conflict (quote_id, destination, revision) where state in ('queued', 'running') do nothing returning id""",
            [
                quote_id,
                revision,
                assembly.destination.id,
                assembly.destination.name,
                assembly.destination.width,
                assembly.destination.height,
                assembly.destination.limit_ms,
                assembly.destination.largest_mb,
                assembly.rate.numerator,
                assembly.rate.denominator,
                assembly.frames,
            ],
        )
        found = await cursor.fetchone()
        return None if found is None else int(found)


async def newest(conn: Connection, most: int = 200) -> list[ExportRow]:
    """The newest exports, newest first."""
    async with conn.cursor(row_factory=class_row(ExportRow)) as cursor:
        await cursor.execute(_SELECT + " order by e.created_at desc, e.id limit %s", [most])
        return await cursor.fetchall()


async def one(conn: Connection, export_id: int) -> ExportRow:
    """One export. Raises `NotFound`."""
    async with conn.cursor(row_factory=class_row(ExportRow)) as cursor:
        await cursor.execute(_SELECT + " where e.id = %s", [export_id])
        row = await cursor.fetchone()
    if row is None:
        raise NotFound("There is no such export.")
    return row


async def begin(conn: Connection, export_id: int, attempt: UUID) -> bool:
    """Takes an export on, also over from a worker that is gone; False where it is finished or was cancelled."""
    cursor = await conn.execute(
        """update export set state = 'running', attempt = %s, progress = 0, started_at = now(),
               tries = tries + 1
           where id = %s and state in ('queued', 'running') and not cancel_requested""",
        [attempt, export_id],
    )
    return cursor.rowcount == 1


async def report(conn: Connection, export_id: int, attempt: UUID, progress: float) -> None:
    """Says how far an export is. Raises `AttemptLost` or `CancelRequested` where it should go no further."""
    cursor = await conn.execute(
        "update export set progress = %s where id = %s and attempt = %s and state = 'running' returning cancel_requested",
        [progress, export_id, attempt],
    )
    row = await cursor.fetchone()
    if row is None:
        raise AttemptLost(f"export {export_id}")
    if row[0]:
        raise CancelRequested(f"export {export_id}")


async def finish(
    conn: Connection,
    export_id: int,
    attempt: UUID,
    made: MadeClip,
) -> None:
    """Says that an export is made. Raises `AttemptLost`."""
    cursor = await conn.execute(
        """update export set state = 'done', progress = 1, finished_at = now(), file_path = %s, facts = %s, findings = %s,
               cues = %s, planned_frames = %s
           where id = %s and attempt = %s and state = 'running'""",
        [made.file_path, Jsonb(made.facts.model_dump(mode="json")),
         Jsonb([one.model_dump(mode="json") for one in made.findings]),
         Jsonb([one.model_dump(mode="json") for one in made.cues]), made.frames, export_id, attempt],
    )  # fmt: skip
    if cursor.rowcount != 1:
        raise AttemptLost(f"export {export_id}")


async def fail(conn: Connection, export_id: int, attempt: UUID, problem: str) -> None:
    """Says why an export could not be made."""
    await conn.execute(
        """update export set state = 'failed', finished_at = now(), problem = %s
           where id = %s and attempt = %s and state = 'running'""",
        [problem, export_id, attempt],
    )


async def hand_back(conn: Connection, export_id: int, attempt: UUID) -> bool:
    """Gives an export up in order, since its worker is to end: it waits for another, unless it was cancelled.

    Whether it waits.
    """
    cursor = await conn.execute(
        """update export set state = case when cancel_requested then 'cancelled' else 'queued' end::export_state,
               finished_at = case when cancel_requested then now() end, attempt = null, progress = 0,
               tries = greatest(tries - 1, 0)
           where id = %s and attempt = %s and state = 'running' returning state::text""",
        [export_id, attempt],
    )
    row = await cursor.fetchone()
    return row is not None and row[0] == "queued"


async def unattended(conn: Connection) -> list[int]:
    """Exports that wait or are said to be going on, without a job in the queue to make them."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """select e.id from export e where e.state in ('queued', 'running') and not exists (
                   select from procrastinate_jobs j
                   where j.status in ('todo', 'doing') and (j.args->>'export_id')::bigint = e.id) order by e.id"""
        )
        return [int(found) for found in await cursor.fetchall()]


async def known(conn: Connection) -> set[int]:
    """The ids of all exports."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute("select id from export")
        return {int(found) for found in await cursor.fetchall()}


async def request_cancel(conn: Connection, export_id: int) -> None:
    """Asks for an export to be given up; one that no worker has begun is given up at once."""
    await conn.execute(
        """update export set cancel_requested = true,
               state = case when state = 'queued' then 'cancelled' else state end,
               finished_at = case when state = 'queued' then now() else finished_at end
           where id = %s and state in ('queued', 'running')""",
        [export_id],
    )


async def set_cancelled(conn: Connection, export_id: int) -> None:
    """Says that a running export was given up as asked."""
    await conn.execute(
        """update export set state = 'cancelled', finished_at = now()
           where id = %s and state = 'running' and cancel_requested""",
        [export_id],
    )
