"""What media there are. A file is there when its row is; what belongs to nothing any more is freed by and by.

A file is put in place in the transaction that adds its row. Where that fails after all, the file is one without a row,
which goes after a while (`jobs/housekeeping.py`); a row without its file there is never.
"""

import asyncio
from collections.abc import Sequence
from pathlib import Path

from psycopg.rows import scalar_row

from nimble_quote.media.files import MediaRoot
from nimble_quote.store.database import Connection


async def keep(
    conn: Connection,
    media: MediaRoot,
    made: Path,
    key: str,
    *,
    recording_id: int | None = None,
    export_id: int | None = None,
) -> None:
    """Keeps a finished file under its key; it belongs to a recording or an export, and goes when that goes."""
    # The row first: where one of the same key is being freed, that is waited for.
    await note(conn, key, made.stat().st_size, recording_id=recording_id, export_id=export_id)
    await asyncio.to_thread(media.store.put, made, key)


async def note(
    conn: Connection, key: str, size_bytes: int, *, recording_id: int | None = None, export_id: int | None = None
) -> None:
    """Says that there is a file, and what it belongs to."""
    await conn.execute(
        """insert into media_file (key, bytes, recording_id, export_id) values (%s, %s, %s, %s)
           on conflict (key) do update set bytes = excluded.bytes, recording_id = excluded.recording_id,
               export_id = excluded.export_id""",
        [key, size_bytes, recording_id, export_id],
    )


async def has(conn: Connection, key: str) -> bool:
    """Whether there is a file."""
    found = await conn.execute(
        "select from media_file where key = %s and num_nonnulls(recording_id, export_id) = 1", [key]
    )
    return found.rowcount == 1


async def let_go(conn: Connection, keys: Sequence[str]) -> None:
    """Says that files are of no use any more: they are not there from now on, and are freed by and by."""
    await conn.execute("update media_file set recording_id = null, export_id = null where key = any(%s)", [list(keys)])


async def free(conn: Connection, media: MediaRoot, most: int = 200) -> int:
    """Frees files that belong to nothing, with their rows; how many. Until the transaction ends nobody puts one of the same
    key there."""
    keys = await _column(
        conn,
        """select key from media_file where recording_id is null and export_id is null
           order by key limit %s for update skip locked""",
        [most],
    )
    for key in keys:
        await asyncio.to_thread(media.store.remove, key)
    await conn.execute("delete from media_file where key = any(%s)", [keys])
    return len(keys)


async def without_row(conn: Connection, keys: Sequence[str]) -> list[str]:
    """Those of some keys that no row tells of."""
    return await _column(
        conn,
        "select key from unnest(%s::text[]) as told (key) where not exists (select from media_file f where f.key = told.key)",
        [list(keys)],
    )


async def contents_without(conn: Connection, names: Sequence[str]) -> list[tuple[int, str]]:
    """The recordings of which there is nothing by any of these names; id and content of each."""
    found = await conn.execute(
        """select r.id, r.content from recording r where not exists (
               select from media_file f where f.recording_id = r.id and f.name = any(%s))""",
        [list(names)],
    )
    return [(int(str(number)), str(content)) for number, content in await found.fetchall()]


async def _column(conn: Connection, query: str, values: Sequence[object]) -> list[str]:
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(query, values)
        return await cursor.fetchall()
