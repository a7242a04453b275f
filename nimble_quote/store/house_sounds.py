"""Music and sounds of the house's: those that ship are files beside the program, the others are kept here whole."""

import hashlib
from collections.abc import Collection
from pathlib import Path
from typing import Any, LiteralString

from psycopg.rows import dict_row

from nimble_quote.core.catalogue import HouseSound
from nimble_quote.core.sound.looping import Loop
from nimble_quote.media.house_sounds import MadeSound
from nimble_quote.store.database import Connection, NotFound

SHIPPED = Path(__file__).parents[1] / "music"
_SOUND = """id, name, duration_ms, loudness_lufs, loop_start, loop_end, loop_alike, revision, licence, file is not null as ships,
    retired_at is not null as retired"""


async def every(conn: Connection) -> list[HouseSound]:
    """What is known of all sounds, in the order they came."""
    async with conn.cursor(row_factory=dict_row) as cursor:
        await cursor.execute(f"select {_SOUND} from house_sound order by id")  # noqa: S608
        return [_told(row) for row in await cursor.fetchall()]


async def contents(conn: Connection, numbers: Collection[int]) -> dict[int, bytes]:
    """Some sounds, as Opus in Ogg. Raises `NotFound` where one is not there."""
    cursor = await conn.execute(
        "select id, content, file from house_sound where id = any(%s)", [list(numbers)], binary=True
    )
    rows: list[Any] = await cursor.fetchall()
    found = {
        int(id_): bytes(content) if content is not None else (SHIPPED / file).read_bytes()
        for id_, content, file in rows
    }
    if set(found) != set(numbers):
        _missing()
    return found


async def add(conn: Connection, name: str, made: MadeSound, licence: str) -> HouseSound:
    """Keeps a sound; one that is there already is that one, and offered again."""
    known = await _one(conn, "update house_sound set retired_at = null where digest = %s", [_digest(made)])
    return (
        known
        or await _one(
            conn,
            """insert into house_sound (name, licence, content, digest, duration_ms, loudness_lufs, loop_start, loop_end, loop_alike)
           values (%s, %s, %s, %s, %s, %s, %s, %s, %s)""",
            [name, licence, *_columns(made)],
        )
        or _missing()
    )


async def replace(conn: Connection, number: int, made: MadeSound) -> HouseSound:
    """Puts another sound in the place of one, wherever that is used. Raises `NotFound`."""
    return (
        await _one(
            conn,
            """update house_sound set content = %s, digest = %s, duration_ms = %s, loudness_lufs = %s, loop_start = %s, loop_end = %s,
               loop_alike = %s, file = null, revision = revision + 1
           where id = %s""",
            [*_columns(made), number],
        )
        or _missing()
    )


async def describe(conn: Connection, number: int, name: str, licence: str) -> None:
    """Names a sound, and notes its licence. Raises `NotFound`."""
    cursor = await conn.execute("update house_sound set name = %s, licence = %s where id = %s", [name, licence, number])
    if cursor.rowcount != 1:
        _missing()


async def retire(conn: Connection, number: int, retired: bool) -> None:
    """Offers a sound no more, or again. Raises `NotFound`."""
    cursor = await conn.execute(
        "update house_sound set retired_at = case when %s then now() end where id = %s", [retired, number]
    )
    if cursor.rowcount != 1:
        _missing()


async def _one(conn: Connection, change: LiteralString, values: list[Any]) -> HouseSound | None:
    """The sound that a change was made of, as it is then; None where it was made of none."""
    async with conn.cursor(row_factory=dict_row) as cursor:
        await cursor.execute(f"{change} returning {_SOUND}", values)
        row = await cursor.fetchone()
    return _told(row) if row else None


def _told(row: dict[str, Any]) -> HouseSound:
    start, end, alike = (row.pop(field) for field in ("loop_start", "loop_end", "loop_alike"))
    return HouseSound(**row, loop=None if start is None else Loop(start=start, end=end, alike=alike))


def _columns(made: MadeSound) -> list[Any]:
    loop = made.loop
    ends = [loop.start, loop.end, loop.alike] if loop else [None, None, None]
    return [made.content, _digest(made), made.duration_ms, made.loudness_lufs, *ends]


def _digest(made: MadeSound) -> str:
    return hashlib.sha256(made.content).hexdigest()


def _missing() -> Any:
    raise NotFound("The house has no such sound.")
