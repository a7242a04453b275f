"""Where quotes stand on the shortlist: their order, marks, tags and notes."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from psycopg.rows import class_row

from nimble_quote.formats.shortlist import SlipMark
from nimble_quote.store.database import Connection
from nimble_quote.store.used import MADE, POSTED


@dataclass(frozen=True, kw_only=True)
class SlipRow:
    """A quote on the shortlist, with what is told of its recording."""

    quote_id: int
    recording_id: int
    revision: int
    words_version: int
    made: bool
    posted: str
    recording_title: str
    series: str | None
    held_on: date | None
    has_picture: bool
    mark: SlipMark
    place: int
    tags: Sequence[str]
    note: str

    def __hash__(self) -> int:
        return hash((self.quote_id, self.revision, self.words_version))


_SELECT = f"""
    select q.id as quote_id, q.recording_id, q.head as revision, r.words_version, r.title as recording_title, r.series,
        r.held_on, r.width > 0 as has_picture,
        {MADE}, {POSTED}, q.mark::text as mark, q.place, q.tags, q.note
    from quote q join recording r on r.id = q.recording_id
    where q.removed_at is null and r.removed_at is null
"""  # noqa: S608 - constants


async def slips(conn: Connection, talk: int | None = None, series: str | None = None) -> list[SlipRow]:
    """The quotes of a talk, of a series or of all talks, in their order."""
    async with conn.cursor(row_factory=class_row(SlipRow)) as cursor:
        await cursor.execute(
            _SELECT
            + """ and (%(talk)s::bigint is null or q.recording_id = %(talk)s)
                and (%(series)s::text is null or r.series = %(series)s) order by q.place, q.id""",
            {"talk": talk, "series": series},
        )
        return await cursor.fetchall()


async def of_quotes(conn: Connection, quote_ids: Sequence[int]) -> list[SlipRow]:
    """Some quotes in their order; those that are not there are left out."""
    async with conn.cursor(row_factory=class_row(SlipRow)) as cursor:
        await cursor.execute(_SELECT + " and q.id = any(%s) order by q.place, q.id", [list(quote_ids)])
        return await cursor.fetchall()


async def say_of(
    conn: Connection, quote_id: int, mark: SlipMark | None, tags: Sequence[str] | None, note: str | None
) -> None:
    """Keeps what a person says of a quote; None leaves as it is."""
    await conn.execute(
        """update quote set mark = coalesce(%s::slip_mark, mark), tags = coalesce(%s::text[], tags),
               note = coalesce(%s, note) where id = %s""",
        [mark, list(tags) if tags is not None else None, note, quote_id],
    )


async def order(conn: Connection, quote_ids: Sequence[int]) -> None:
    """Puts some quotes in an order: they share out among themselves the places they have."""
    await conn.execute(
        """with wanted as (select id, row_number() over (order by nr) as n
                from unnest(%(ids)s::bigint[]) with ordinality as u (id, nr) where id in (select id from quote)),
            places as (select place, row_number() over (order by place) as n from quote where id in (select id from wanted))
           update quote set place = places.place from wanted join places using (n) where quote.id = wanted.id""",
        {"ids": list(dict.fromkeys(quote_ids))},
    )


async def talks_posted(conn: Connection, days: int) -> set[int]:
    """The talks of which a clip was made or posted in the last days."""
    cursor = await conn.execute(
        """select distinct q.recording_id from export e join quote q on q.id = e.quote_id
           where e.made_at > now() - make_interval(days => %(days)s)
           union select q.recording_id from post p join quote q on q.id = p.quote_id
           where p.state = 'posted' and p.posted_at > now() - make_interval(days => %(days)s)""",
        {"days": days},
    )
    return {int(str(row[0])) for row in await cursor.fetchall()}
