"""Exports: what was asked for, and the clip that came of it. Whether one waits, goes on or failed is told by its work."""

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from psycopg.rows import class_row, scalar_row
from psycopg.types.json import Jsonb

from nimble_quote.core.assembly import Assembly
from nimble_quote.core.captions.cues import WrittenCue
from nimble_quote.core.credits import Credit
from nimble_quote.core.finding import Finding
from nimble_quote.core.preflight import FileFacts
from nimble_quote.core.verdicts import Overruled
from nimble_quote.store.database import Connection, NotFound


@dataclass(frozen=True, kw_only=True)
class ExportRow:
    """An export: what it was asked for as, how it went, and the names of the quote and the talk it is from."""

    id: int
    quote_id: int
    revision: int
    destination: str
    destination_name: str
    file_name: str
    width: int
    height: int
    limit_ms: int
    largest_mb: int
    rate_num: int
    rate_den: int
    planned_frames: int
    cues: list[dict[str, Any]]
    work_id: int
    state: str
    stage: str
    progress: float
    progressed_from: float
    started_at: datetime | None
    file_path: str | None
    facts: dict[str, Any] | None
    findings: list[dict[str, Any]] | None
    problem: str | None
    created_at: datetime
    quote_title: str
    recording_id: int
    recording_title: str
    credits: list[dict[str, Any]]
    overruled: list[dict[str, Any]]
    has_cover: bool

    @property
    def planned_ms(self) -> float:
        return self.planned_frames * 1000 * self.rate_den / self.rate_num


_SELECT = """
    select e.id, e.quote_id, e.revision, e.destination, e.destination_name, coalesce(d.file_name, '{recording} - {quote} - {destination}') as file_name, e.width, e.height, e.limit_ms,
        e.largest_mb, e.rate_num, e.rate_den, e.planned_frames, e.cues,
        w.id as work_id, w.state::text, w.stage, w.progress, w.progressed_from, w.started_at, w.problem, e.file_path, e.facts,
        e.findings, e.created_at, e.credits, e.overruled,
        exists (select from media_file f where f.export_id = e.id and f.name like '%%.cover.png') as has_cover,
        v.document->>'title' as quote_title, q.recording_id, r.title as recording_title
    from export e
        join work w on w.export_id = e.id
        join quote_revision v on v.quote_id = e.quote_id and v.number = e.revision
        join quote q on q.id = e.quote_id
        join recording r on r.id = q.recording_id
        left join destination d on d.id = e.destination
"""


@dataclass(frozen=True, kw_only=True)
class MadeClip:
    """A clip that was made: where it is, how long it was to be, what was measured and found, and the captions it shows."""

    file_path: str
    frames: int
    facts: FileFacts
    findings: tuple[Finding, ...]
    cues: tuple[WrittenCue, ...]
    credits: tuple[Credit, ...] = ()


async def add(
    conn: Connection, quote_id: int, revision: int, assembly: Assembly, overruled: tuple[Overruled, ...] = ()
) -> int:
    """Adds an export of a version, as it is asked for, with the stops that it is made with all the same; its id."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """insert into export (quote_id, revision, destination, destination_name, width, height, limit_ms,
                   largest_mb, rate_num, rate_den, planned_frames, overruled)
               values (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)
               returning id""",
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
                Jsonb([one.model_dump(mode="json") for one in overruled]),
            ],
        )
        return int(str(await cursor.fetchone()))


async def drop(conn: Connection, export_id: int) -> None:
    """Takes an export back that was never to be made."""
    await conn.execute("delete from export where id = %s", [export_id])


async def older_waiting(conn: Connection, quote_id: int, destination: str, revision: int) -> list[int]:
    """The work of exports of a version, of older revisions, that nobody has begun."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """select w.id from work w join export e on e.id = w.export_id
               where e.quote_id = %s and e.destination = %s and e.revision < %s and w.state = 'queued'""",
            [quote_id, destination, revision],
        )
        return await cursor.fetchall()


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


async def keep_clip(conn: Connection, export_id: int, made: MadeClip) -> None:
    """Keeps what was made for an export."""
    await conn.execute(
        """update export set made_at = now(), file_path = %s, facts = %s, findings = %s, cues = %s, planned_frames = %s,
               credits = %s
           where id = %s""",
        [made.file_path, Jsonb(made.facts.model_dump(mode="json")),
         Jsonb([one.model_dump(mode="json") for one in made.findings]),
         Jsonb([one.model_dump(mode="json") for one in made.cues]), made.frames,
         Jsonb([one.model_dump(mode="json") for one in made.credits]), export_id],
    )  # fmt: skip
