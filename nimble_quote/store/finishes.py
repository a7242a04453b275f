"""Finishes of the house with their versions, and which quotes follow them."""

from psycopg.rows import class_row, scalar_row
from psycopg.types.json import Jsonb

from nimble_quote.core.finishes import Finish, FinishWanted
from nimble_quote.store.database import Connection, NotFound


async def every(conn: Connection) -> list[Finish]:
    """All finishes at each of their versions, in the order they are offered in, the newest version first."""
    async with conn.cursor(row_factory=class_row(Finish)) as cursor:
        await cursor.execute(
            """select f.id, f.name, f.said, v.version, v.items, f.retired_at is not null as retired
               from finish f join finish_version v on v.finish = f.id order by f.place, f.id, v.version desc"""
        )
        return await cursor.fetchall()


async def set_for_series(conn: Connection, series: str, finish: str | None) -> None:
    """Sets which finish new quotes of a series follow; None has them follow none."""
    if finish is None:
        await conn.execute("delete from series_finish where series = %s", [series])
        return
    await conn.execute(
        """insert into series_finish (series, finish) values (%s, %s)
           on conflict (series) do update set finish = excluded.finish""",
        [series, finish],
    )


async def add(conn: Connection, wanted: FinishWanted, by: str | None) -> str:
    """Adds a finish, offered last; its id."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """insert into finish (name, said, place) values (%s, %s, (select coalesce(max(place), 0) + 1 from finish))
               returning id""",
            [wanted.name, wanted.said],
        )
        id_ = str(await cursor.fetchone())
    await _add_version(conn, id_, 1, wanted, by)
    return id_


async def change(conn: Connection, id_: str, wanted: FinishWanted, by: str | None) -> int:
    """Sets what a finish is from now on; its version then, a new one where it has other items. Raises `NotFound`."""
    cursor = await conn.execute("update finish set name = %s, said = %s where id = %s", [wanted.name, wanted.said, id_])
    if cursor.rowcount != 1:
        raise NotFound("There is no such finish.")
    newest = next(one for one in await every(conn) if one.id == id_)
    if newest.items == wanted.items:
        return newest.version
    await _add_version(conn, id_, newest.version + 1, wanted, by)
    return newest.version + 1


async def _add_version(conn: Connection, id_: str, version: int, wanted: FinishWanted, by: str | None) -> None:
    items = [one.model_dump(mode="json") for one in wanted.items]
    await conn.execute(
        "insert into finish_version (finish, version, items, by) values (%s, %s, %s, %s)",
        [id_, version, Jsonb(items), by],
    )


async def retire(conn: Connection, id_: str, retired: bool) -> None:
    """Offers a finish no more, or again. Where it was chosen it stays. Raises `NotFound`."""
    cursor = await conn.execute(
        "update finish set retired_at = case when %s then now() end where id = %s", [retired, id_]
    )
    if cursor.rowcount != 1:
        raise NotFound("There is no such finish.")


async def following(conn: Connection, id_: str) -> tuple[list[int], list[int]]:
    """The quotes that follow a finish: those of which nothing was exported as they are now, and those of which it was."""
    cursor = await conn.execute(
        """select q.id, exists (select from export e where e.quote_id = q.id and e.revision = q.head and e.made_at is not null)
           from quote q join quote_revision r on r.quote_id = q.id and r.number = q.head
           where q.removed_at is null and r.document->>'finish' = %s
               and coalesce(jsonb_typeof(r.document->'finish_held'), 'null') = 'null'
           order by q.id""",
        [id_],
    )
    rows = [(int(str(quote_id)), bool(exported)) for quote_id, exported in await cursor.fetchall()]
    return [one for one, exported in rows if not exported], [one for one, exported in rows if exported]
