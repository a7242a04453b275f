"""Quotes and their revisions. A revision is never changed; undo and redo move the head."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal

from psycopg.rows import class_row
from psycopg.types.json import Jsonb

from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.document.upgrades import UnknownSchema, read_document, stored
from nimble_quote.core.edits import Edit
from nimble_quote.core.model import Frozen
from nimble_quote.core.refusal import Conflict
from nimble_quote.core.timebase import Span
from nimble_quote.store.database import Connection, NotFound, StoredDamaged
from nimble_quote.store.used import MADE, POSTED


def stored_document(quote_id: int, stored: Any) -> QuoteDocument:
    """A document as the database keeps it. Raises `StoredDamaged` where it is none."""
    try:
        return read_document(stored)
    except UnknownSchema as newer:
        raise StoredDamaged(f"Quote {quote_id} was stored by a newer version of this program. Update it.") from newer
    except (ValueError, KeyError, TypeError, AttributeError) as broken:
        raise StoredDamaged(f"Quote {quote_id} can't be opened: what is stored of it is damaged.") from broken


@dataclass(frozen=True, kw_only=True)
class QuoteRow:
    """A quote at its head: what undo would take back, and what redo would do again."""

    id: int
    recording_id: int
    revision: int
    document: QuoteDocument
    undo_said: str | None
    undo_by: str | None
    """Who made the change that undo would take back, where they said so."""
    redo_said: str | None
    removed: bool
    made: bool
    posted: str
    """Where it was posted, and when, in words."""
    part_of: int | None
    created_at: datetime

    def __post_init__(self) -> None:
        object.__setattr__(self, "document", stored_document(self.id, self.document))


@dataclass(frozen=True, kw_only=True)
class QuoteSpanRow:
    """Where a quote was taken; `made` once a clip was made of it."""

    recording_id: int
    id: int
    title: str
    start_ms: int
    end_ms: int
    made: bool
    posted: str

    @property
    def span(self) -> Span:
        return Span(start_ms=self.start_ms, end_ms=self.end_ms)


@dataclass(frozen=True, kw_only=True)
class RevisionRow:
    """A revision in the history of a quote: `parent` is what it was made on, `name` what somebody called it."""

    number: int
    parent: int | None
    said: str
    by_whom: str | None
    name: str | None
    created_at: datetime


class TakenBack(Frozen):
    """What stands in the history for an edit where one was taken back that others have built on since."""

    kind: Literal["taken-back"] = "taken-back"
    number: int


KEPT_DAYS = 1
"""A removed quote can be put back for so long."""


class StaleRevision(Conflict):
    """A change was made on a revision that is no longer the newest; `meanwhile` says what was done since."""

    code = "stale-revision"

    def __init__(self, quote_id: int, on_revision: int, head: int, meanwhile: Sequence[str] = ()) -> None:
        done = f" ({'; '.join(meanwhile)})" if meanwhile else ""
        super().__init__(
            f"This quote was changed elsewhere in the meantime{done}. Your change was not made; here is the newest version."
        )
        self.quote_id = quote_id
        self.on_revision = on_revision
        self.head = head


_SELECT = f"""
    select q.id, q.recording_id, q.head as revision, h.document, q.removed_at is not null as removed, q.part_of, q.created_at,
        {MADE}, {POSTED},
        case when h.parent is not null then h.said end as undo_said,
        case when h.parent is not null then h.by_whom end as undo_by,
        (select c.said from quote_revision c where c.quote_id = q.id and c.parent = q.head
            order by c.number desc limit 1) as redo_said
    from quote q join quote_revision h on h.quote_id = q.id and h.number = q.head
"""  # noqa: S608 - constants


async def keep(
    conn: Connection,
    recording_id: int,
    document: QuoteDocument,
    said: str = "Kept",
    *,
    by: str | None = None,
    copied_from: int | None = None,
    part_of: int | None = None,
) -> int:
    """Keeps a new quote; its id."""
    cursor = await conn.execute(
        "insert into quote (recording_id, head, copied_from, part_of) values (%s, 1, %s, %s) returning id",
        [recording_id, copied_from, part_of],
    )
    row = await cursor.fetchone()
    assert row is not None
    await conn.execute(
        "insert into quote_revision (quote_id, number, said, document, by_whom) values (%s, 1, %s, %s, %s)",
        [row[0], said, Jsonb(stored(document)), by],
    )
    return int(str(row[0]))


async def one(conn: Connection, quote_id: int, lock: bool = False) -> QuoteRow:
    """A quote at its head, locked until the transaction ends where it is to be changed. Raises `NotFound`."""
    if lock:
        # A statement of its own: one that waited for the lock would join the new head with the old revision.
        await conn.execute("select from quote where id = %s for update", [quote_id])
    async with conn.cursor(row_factory=class_row(QuoteRow)) as cursor:
        await cursor.execute(_SELECT + " where q.id = %s", [quote_id])
        row = await cursor.fetchone()
    if row is None:
        raise NotFound("There is no such quote.")
    return row


async def many(conn: Connection, quote_ids: Sequence[int]) -> dict[int, QuoteRow]:
    """Some quotes at their heads, by id; those that are not there are left out."""
    async with conn.cursor(row_factory=class_row(QuoteRow)) as cursor:
        await cursor.execute(_SELECT + " where q.id = any(%s)", [list(quote_ids)])
        return {row.id: row for row in await cursor.fetchall()}


async def of_recording(conn: Connection, recording_id: int) -> list[QuoteRow]:
    """The quotes kept from a recording, in order of where they begin."""
    async with conn.cursor(row_factory=class_row(QuoteRow)) as cursor:
        await cursor.execute(
            _SELECT
            + """ where q.recording_id = %s and q.removed_at is null
                order by (h.document->'span'->>'start_ms')::int, q.id""",
            [recording_id],
        )
        return await cursor.fetchall()


async def spans(conn: Connection, of: Sequence[int] | None = None) -> list[QuoteSpanRow]:
    """Where quotes were taken, of some recordings or of all, in order of time."""
    async with conn.cursor(row_factory=class_row(QuoteSpanRow)) as cursor:
        await cursor.execute(
            f"""select q.recording_id, q.id, h.document->>'title' as title,
                   (h.document->'span'->>'start_ms')::int as start_ms, (h.document->'span'->>'end_ms')::int as end_ms,
                   {MADE}, {POSTED}
               from quote q join quote_revision h on h.quote_id = q.id and h.number = q.head
               where q.removed_at is null and (%(of)s::bigint[] is null or q.recording_id = any(%(of)s))
               order by q.recording_id, 4, q.id""",  # noqa: S608 - constants
            {"of": list(of) if of is not None else None},
        )
        return await cursor.fetchall()


async def revise(
    conn: Connection, quote: QuoteRow, edit: Edit | TakenBack, said: str, document: QuoteDocument, by: str | None = None
) -> None:
    """Adds a revision after the head of a quote that was read with its lock, and moves the head to it."""
    await conn.execute(
        """with added as (
               insert into quote_revision (quote_id, number, parent, edit, said, document, by_whom)
               select %(id)s, max(number) + 1, %(parent)s, %(edit)s, %(said)s, %(document)s, %(by)s
               from quote_revision where quote_id = %(id)s returning number)
           update quote set head = (select number from added) where id = %(id)s""",
        {"id": quote.id, "parent": quote.revision, "edit": Jsonb(edit.model_dump(mode="json")), "said": said,
         "by": by, "document": Jsonb(stored(document))},
    )  # fmt: skip


async def undo(conn: Connection, quote_id: int) -> None:
    """Moves the head to the revision it was made on, where there is one."""
    await conn.execute(
        """update quote q set head = h.parent from quote_revision h
           where q.id = %s and h.quote_id = q.id and h.number = q.head and h.parent is not null""",
        [quote_id],
    )


async def redo(conn: Connection, quote_id: int) -> None:
    """Moves the head to the newest revision made on it, where there is one."""
    await conn.execute(
        """update quote q set head = c.number from (
               select c.quote_id, max(c.number) as number from quote_revision c, quote q
               where q.id = %(id)s and c.quote_id = q.id and c.parent = q.head group by c.quote_id) c
           where q.id = c.quote_id""",
        {"id": quote_id},
    )


async def set_removed(conn: Connection, quote_id: int, removed: bool) -> None:
    """Takes a quote off the lists, or puts it back. Nothing of it is lost."""
    await conn.execute("update quote set removed_at = case when %s then now() end where id = %s", [removed, quote_id])


async def purge(conn: Connection) -> None:
    """Drops quotes that were removed over a day ago, with their history, exports and approvals. Those that were posted stay, so that
    it is known where, and those that are about to be until that is settled."""
    await conn.execute(
        """delete from quote q where removed_at < now() - make_interval(days => %s) and not exists (
               select from post p where p.quote_id = q.id and p.state in ('scheduled', 'sending', 'posted', 'removing'))""",
        [KEPT_DAYS],
    )


async def history(conn: Connection, quote_id: int) -> list[RevisionRow]:
    """Every revision of a quote, the newest first, also those that were taken back."""
    async with conn.cursor(row_factory=class_row(RevisionRow)) as cursor:
        await cursor.execute(
            """select number, parent, said, by_whom, name, created_at from quote_revision
               where quote_id = %s order by number desc""",
            [quote_id],
        )
        return await cursor.fetchall()


async def document_at(conn: Connection, quote_id: int, number: int) -> QuoteDocument:
    """A quote as it was at a revision. Raises `NotFound`."""
    cursor = await conn.execute(
        "select document from quote_revision where quote_id = %s and number = %s", [quote_id, number]
    )
    row = await cursor.fetchone()
    if row is None:
        raise NotFound("That quote has no such revision.")
    return stored_document(quote_id, row[0])


async def documents_at(conn: Connection, wanted: Sequence[tuple[int, int]]) -> list[QuoteDocument]:
    """Some quotes as they were at some revisions, in the order asked."""
    cursor = await conn.execute(
        """select v.quote_id, v.document from unnest(%s::bigint[], %s::int[]) with ordinality as w (quote_id, number, place)
           join quote_revision v using (quote_id, number) order by w.place""",
        [[quote_id for quote_id, _ in wanted], [number for _, number in wanted]],
    )
    return [stored_document(int(str(quote_id)), document) for quote_id, document in await cursor.fetchall()]


@dataclass(frozen=True, kw_only=True)
class MadeRow:
    """A revision on the way to the head: what it was made on, and by whom; `takes_back` is the one that it undoes."""

    number: int
    parent: int | None
    by_whom: str | None
    said: str
    takes_back: int | None


async def way_to_head(conn: Connection, quote_id: int) -> list[MadeRow]:
    """The revisions that lead to the head, the first one first."""
    async with conn.cursor(row_factory=class_row(MadeRow)) as cursor:
        await cursor.execute(
            """with recursive way as (
                   select r.number, r.parent, r.by_whom, r.said, r.edit
                   from quote q join quote_revision r on r.quote_id = q.id and r.number = q.head where q.id = %(id)s
                   union all
                   select r.number, r.parent, r.by_whom, r.said, r.edit from way
                   join quote_revision r on r.quote_id = %(id)s and r.number = way.parent)
               select number, parent, by_whom, said,
                   case when edit->>'kind' = 'taken-back' then (edit->>'number')::int end as takes_back
               from way order by number""",
            {"id": quote_id},
        )
        return await cursor.fetchall()


async def made_since(conn: Connection, quote_id: int, number: int) -> list[tuple[str, dict[str, Any]]] | None:
    """What was done on the way from a revision to the head, oldest first, as words and edits; None where the head is
    not reached from it, as after an undo."""
    cursor = await conn.execute(
        """with recursive way as (
               select r.number, r.parent, r.edit, r.said, r.by_whom
               from quote q join quote_revision r on r.quote_id = q.id and r.number = q.head where q.id = %(id)s
               union all
               select r.number, r.parent, r.edit, r.said, r.by_whom from way
               join quote_revision r on r.quote_id = %(id)s and r.number = way.parent where way.number > %(number)s)
           select number, coalesce(by_whom || ': ', '') || said, edit from way order by number""",
        {"id": quote_id, "number": number},
    )
    rows: list[Any] = await cursor.fetchall()
    if not rows or rows[0][0] != number:
        return None
    return [(str(said), edit) for _, said, edit in rows[1:]]


async def name_point(conn: Connection, quote_id: int, number: int, name: str | None) -> None:
    """Calls a revision by a name, or by none. Raises `NotFound`."""
    cursor = await conn.execute(
        "update quote_revision set name = %s where quote_id = %s and number = %s", [name, quote_id, number]
    )
    if cursor.rowcount == 0:
        raise NotFound("That quote has no such revision.")


async def go_to(conn: Connection, quote_id: int, number: int) -> None:
    """Moves the head to a revision; those made later stay in the history."""
    await conn.execute("update quote set head = %s where id = %s", [number, quote_id])


async def parts_of(conn: Connection, quote_id: int) -> list[QuoteRow]:
    """The parts that a quote was split in, in order."""
    async with conn.cursor(row_factory=class_row(QuoteRow)) as cursor:
        await cursor.execute(_SELECT + " where q.part_of = %s and q.removed_at is null order by q.id", [quote_id])
        return await cursor.fetchall()
