"""Exports: what was asked for, and the clip that came of it. Whether one waits, goes on or failed is told by its work."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from itertools import count
from typing import Any

from psycopg.rows import class_row, scalar_row
from psycopg.types.json import Jsonb

from nimble_quote.core.assembly import Assembly
from nimble_quote.core.captions.cues import WrittenCue
from nimble_quote.core.credits import Credit
from nimble_quote.core.destinations import FILE_NAME, NAMEABLE
from nimble_quote.core.finding import Finding
from nimble_quote.core.making import USUAL, Making
from nimble_quote.core.preflight import FileFacts
from nimble_quote.core.verdicts import Overruled
from nimble_quote.media.files import named_by
from nimble_quote.store.database import Connection, NotFound
from nimble_quote.store.work import AttemptLost


@dataclass(frozen=True, kw_only=True)
class ExportRow:
    """An export: what it was asked for as, how it went, and the names of the quote and the talk it is from."""

    id: int
    quote_id: int
    revision: int
    destination: str
    destination_name: str
    file_name: str | None
    """None of those that were made before names were kept."""
    file_pattern: str
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
    making: dict[str, Any]
    current: bool
    """Whether the quote is still as it was exported."""
    priority: int
    removed_at: datetime | None
    has_cover: bool

    @property
    def planned_ms(self) -> float:
        return self.planned_frames * 1000 * self.rate_den / self.rate_num


_SELECT = """
    select e.id, e.quote_id, e.revision, e.destination, e.destination_name, e.file_name, coalesce(d.file_name, '{recording} - {quote} - {destination}') as file_pattern, e.width, e.height, e.limit_ms,
        e.largest_mb, e.rate_num, e.rate_den, e.planned_frames, e.cues,
        w.id as work_id, w.state::text, w.stage, w.progress, w.progressed_from, w.started_at, w.problem, e.file_path, e.facts,
        e.findings, e.created_at, e.credits, e.overruled, e.making,
        e.revision = q.head or v.document - %(unseen)s::text[] = h.document - %(unseen)s::text[] as current, w.priority, e.removed_at,
        exists (select from media_file f where f.export_id = e.id and f.name like '%%.cover.png') as has_cover,
        v.document->>'title' as quote_title, q.recording_id, r.title as recording_title
    from export e
        join work w on w.export_id = e.id
        join quote_revision v on v.quote_id = e.quote_id and v.number = e.revision
        join quote q on q.id = e.quote_id
        join quote_revision h on h.quote_id = q.id and h.number = q.head
        join recording r on r.id = q.recording_id
        left join destination d on d.id = e.destination
"""


UNSEEN = ["posting", "accepted"]
"""What of a quote nothing is seen or heard of in its clips."""


@dataclass(frozen=True, kw_only=True)
class MadeClip:
    """A clip that was made: where it is, how long it was to be, what was measured and found, and the captions it shows."""

    file_path: str
    frames: int
    facts: FileFacts
    findings: tuple[Finding, ...]
    cues: tuple[WrittenCue, ...]
    credits: tuple[Credit, ...] = ()


@dataclass(frozen=True, kw_only=True)
class NewExport:
    """What is asked for: a revision of a quote resolved, what it is made as, the stops that it is made with all the same, a digest of
    all that goes into it, and what its file is called by, as a pattern with `names` in braces."""

    quote_id: int
    revision: int
    assembly: Assembly
    making: Making = USUAL
    overruled: tuple[Overruled, ...] = ()
    made_of: str | None = None
    pattern: str = FILE_NAME
    names: Mapping[str, str] = field(default_factory=dict)


async def add(conn: Connection, new: NewExport) -> int:
    """Adds an export as it is asked for, with a name for its file that no other has; its id."""
    place = new.assembly.destination
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """insert into export (quote_id, revision, destination, destination_name, width, height, limit_ms,
                   largest_mb, rate_num, rate_den, planned_frames, overruled, making, made_of)
               values (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s) returning id""",
            [
                new.quote_id, new.revision, place.id, place.name, place.width, place.height, place.limit_ms, place.largest_mb,
                new.assembly.rate.numerator, new.assembly.rate.denominator, new.assembly.frames,
                Jsonb([one.model_dump(mode="json") for one in new.overruled]), Jsonb(new.making.model_dump(mode="json")),
                new.made_of,
            ],
        )  # fmt: skip
        export_id = int(str(await cursor.fetchone()))
    names = dict.fromkeys(NAMEABLE, "") | dict(new.names) | {"destination": place.name, "number": str(export_id)}
    await _name(conn, export_id, lambda more: named_by(new.pattern + more, new.making.ending, **names))
    return export_id


async def _name(conn: Connection, export_id: int, name: Callable[[str], str]) -> None:
    """Gives an export the first of some names, told apart by a number at the end, that no other has."""
    # Nobody else chooses a name until this one is there for all to see.
    await conn.execute("select pg_advisory_xact_lock(hashtext('export file name'))")
    for number in count(1):
        cursor = await conn.execute(
            """update export set file_name = %(name)s where id = %(id)s and not exists (
                   select from export o where lower(o.file_name) = lower(%(name)s) and o.id <> %(id)s)""",
            {"name": name("" if number == 1 else f" ({number})"), "id": export_id},
        )
        if cursor.rowcount == 1:
            return


async def made_before(conn: Connection, quote_id: int, made_of: str) -> int | None:
    """The newest export of a quote that is there and was made of the same."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """select id from export where quote_id = %s and made_of = %s and removed_at is null and file_path is not null
               order by id desc limit 1""",
            [quote_id, made_of],
        )
        return await cursor.fetchone()


async def remove(conn: Connection, export_id: int) -> None:
    """Takes an export off the lists, and lets go of its files. Raises `NotFound`."""
    cursor = await conn.execute(
        "update export set removed_at = now() where id = %s and removed_at is null", [export_id]
    )
    if cursor.rowcount != 1:
        raise NotFound("There is no such export.")
    await conn.execute("update media_file set export_id = null where export_id = %s", [export_id])


async def clear(conn: Connection, older_than_days: int, *, but_newest: bool) -> int:
    """Removes the exports that were made so many days ago or earlier; `but_newest` keeps the newest of each version. How many."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """select id from export e where removed_at is null and made_at < now() - make_interval(days => %s)
               and not (%s and not exists (
                   select from export n where n.quote_id = e.quote_id and n.destination = e.destination and n.making = e.making
                       and n.removed_at is null and n.made_at > e.made_at))""",
            [older_than_days, but_newest],
        )
        old = await cursor.fetchall()
    for one in old:
        await remove(conn, one)
    return len(old)


async def stored(conn: Connection) -> tuple[int, int]:
    """How many files of exports there are, and how many bytes they take."""
    cursor = await conn.execute("select count(*), coalesce(sum(bytes), 0) from media_file where export_id is not null")
    row: Any = await cursor.fetchone()
    return int(row[0]), int(row[1])


async def pace(conn: Connection) -> float | None:
    """How many seconds this machine took of late for a million pixels of clips, of however many at the same time; None where it
    has made none."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """with late as (
                   select tstzrange(w.started_at, w.finished_at) as during,
                       e.planned_frames::double precision * e.width * e.height / 1e6 as pixels
                   from export e join work w on w.export_id = e.id
                   where w.state = 'done' and w.tries = 1 and w.finished_at > w.started_at and coalesce(e.making->>'kind', 'clip') in ('clip', 'cut')
                   order by w.finished_at desc limit 30),
               busy as (select unnest(range_agg(during)) as during from late)
               select (select sum(extract(epoch from upper(during) - lower(during))) from busy) / (select sum(pixels) from late)"""
        )
        found = await cursor.fetchone()
        return None if found is None else float(found)


async def paused(conn: Connection) -> bool:
    """Whether no export is begun."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute("select paused from export_queue")
        return bool(await cursor.fetchone())


async def set_paused(conn: Connection, paused: bool) -> None:
    """Has no export begun from now on, or exports begun again."""
    await conn.execute("update export_queue set paused = %s", [paused])


async def drop(conn: Connection, export_id: int) -> None:
    """Takes an export back that was never to be made."""
    await conn.execute("delete from export where id = %s", [export_id])


async def older_waiting(conn: Connection, quote_id: int, destination: str, revision: int, making: Making) -> list[int]:
    """The work of exports of a version, of older revisions, that nobody has begun, and no post waits for."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """select w.id from work w join export e on e.id = w.export_id
               where e.quote_id = %s and e.destination = %s and e.revision < %s and w.state = 'queued'
                   and e.making = %s
                   and not exists (select from post p where p.export_id = e.id and p.state in ('scheduled', 'sending'))""",
            [quote_id, destination, revision, Jsonb(making.model_dump(mode="json"))],
        )
        return await cursor.fetchall()


async def clips_of(conn: Connection, quote_id: int) -> list[ExportRow]:
    """The newest clip of each version of a quote that is there."""
    async with conn.cursor(row_factory=class_row(ExportRow)) as cursor:
        await cursor.execute(
            _SELECT  # noqa: S608 - constants
            + """ where e.id in (select max(n.id) from export n
                    where n.quote_id = %(quote)s and n.removed_at is null and n.file_path is not null
                        and coalesce(n.making->>'kind', 'clip') = 'clip' group by n.destination) order by e.destination_name""",
            {"quote": quote_id, "unseen": UNSEEN},
        )
        return await cursor.fetchall()


async def ready(conn: Connection, quote_id: int, destination: str) -> int | None:
    """The newest clip of a version that is as its quote is now; None where there is none."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """select e.id from export e
                   join quote q on q.id = e.quote_id
                   join quote_revision v on v.quote_id = q.id and v.number = e.revision
                   join quote_revision h on h.quote_id = q.id and h.number = q.head
               where e.quote_id = %(quote)s and e.destination = %(place)s and e.file_path is not null and e.removed_at is null
                   and coalesce(e.making->>'kind', 'clip') = 'clip'
                   and v.document - %(unseen)s::text[] = h.document - %(unseen)s::text[]
               order by e.id desc limit 1""",
            {"quote": quote_id, "place": destination, "unseen": UNSEEN},
        )
        return await cursor.fetchone()


async def under_way(conn: Connection, quote_id: int, destination: str) -> int:
    """The newest export of a version that waits or is being made. Raises `NotFound`."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """select e.id from export e join work w on w.export_id = e.id
               where e.quote_id = %s and e.destination = %s and w.state in ('queued', 'running') and e.removed_at is null
                   and coalesce(e.making->>'kind', 'clip') = 'clip'
               order by e.id desc limit 1""",
            [quote_id, destination],
        )
        found = await cursor.fetchone()
    if found is None:
        raise NotFound("No clip of this version is being made.")
    return int(found)


async def newest(conn: Connection, most: int = 200) -> list[ExportRow]:
    """The newest exports, newest first."""
    async with conn.cursor(row_factory=class_row(ExportRow)) as cursor:
        await cursor.execute(
            _SELECT + " where e.removed_at is null order by e.created_at desc, e.id limit %(most)s",
            {"most": most, "unseen": UNSEEN},
        )
        return await cursor.fetchall()


async def one(conn: Connection, export_id: int) -> ExportRow:
    """One export. Raises `NotFound`."""
    async with conn.cursor(row_factory=class_row(ExportRow)) as cursor:
        await cursor.execute(_SELECT + " where e.id = %(id)s", {"id": export_id, "unseen": UNSEEN})
        row = await cursor.fetchone()
    if row is None:
        raise NotFound("There is no such export.")
    return row


async def keep_clip(conn: Connection, export_id: int, made: MadeClip) -> None:
    """Keeps what was made for an export. Raises `AttemptLost` where that was removed meanwhile: its files would never be shown."""
    cursor = await conn.execute(
        """update export set made_at = now(), file_path = %s, facts = %s, findings = %s, cues = %s, planned_frames = %s,
               credits = %s
           where id = %s and removed_at is null""",
        [made.file_path, Jsonb(made.facts.model_dump(mode="json")),
         Jsonb([one.model_dump(mode="json") for one in made.findings]),
         Jsonb([one.model_dump(mode="json") for one in made.cues]), made.frames,
         Jsonb([one.model_dump(mode="json") for one in made.credits]), export_id],
    )  # fmt: skip
    if cursor.rowcount != 1:
        raise AttemptLost(f"export {export_id} was removed")
