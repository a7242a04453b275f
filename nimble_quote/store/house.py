"""What a house has of its own: pictures to stand behind others or over them, and its colour."""

import hashlib
from collections.abc import Collection
from typing import Any

from psycopg.rows import class_row

from nimble_quote.core.catalogue import Picture
from nimble_quote.media.house_pictures import HousePicture
from nimble_quote.store.database import Connection, NotFound

_PICTURE = "id, name, width, height, media_type = 'image/png' as see_through, revision, licence, retired_at is not null as retired"


async def add_picture(conn: Connection, name: str, made: HousePicture, licence: str = "") -> Picture:
    """Keeps a picture; one that is there already is that one, and offered again."""
    digest = _digest(made)
    async with conn.cursor(row_factory=class_row(Picture)) as cursor:
        await cursor.execute(
            f"update house_picture set retired_at = null where digest = %s returning {_PICTURE}",  # noqa: S608
            [digest],
        )
        if known := await cursor.fetchone():
            return known
        await cursor.execute(
            f"""insert into house_picture (name, licence, content, media_type, digest, width, height)
                values (%s, %s, %s, %s, %s, %s, %s) returning {_PICTURE}""",  # noqa: S608
            [name, licence, made.content, made.media_type, digest, made.width, made.height],
        )
        return await cursor.fetchone() or _missing()


async def replace_picture(conn: Connection, number: int, made: HousePicture) -> Picture:
    """Puts another picture in the place of one, wherever that is used. Raises `NotFound`."""
    async with conn.cursor(row_factory=class_row(Picture)) as cursor:
        await cursor.execute(
            f"""update house_picture set content = %s, media_type = %s, digest = %s, width = %s, height = %s,
                    revision = revision + 1
                where id = %s returning {_PICTURE}""",  # noqa: S608
            [made.content, made.media_type, _digest(made), made.width, made.height, number],
        )
        return await cursor.fetchone() or _missing()


async def describe_picture(conn: Connection, number: int, name: str, licence: str) -> None:
    """Names a picture, and notes its licence. Raises `NotFound`."""
    cursor = await conn.execute(
        "update house_picture set name = %s, licence = %s where id = %s", [name, licence, number]
    )
    if cursor.rowcount != 1:
        _missing()


async def picture(conn: Connection, number: int) -> tuple[bytes, str]:
    """A picture and its media type. Raises `NotFound`."""
    cursor = await conn.execute("select content, media_type from house_picture where id = %s", [number], binary=True)
    row: Any = await cursor.fetchone()
    return (bytes(row[0]), str(row[1])) if row else _missing()


async def pictures(conn: Connection, numbers: Collection[int]) -> dict[int, bytes]:
    """Some pictures, as they are kept. Raises `NotFound` where one is not there."""
    cursor = await conn.execute(
        "select id, content from house_picture where id = any(%s)", [list(numbers)], binary=True
    )
    rows: list[Any] = await cursor.fetchall()
    found = {int(number): bytes(content) for number, content in rows}
    if set(found) != set(numbers):
        _missing()
    return found


async def all_pictures(conn: Connection) -> list[Picture]:
    """What is known of all pictures, in the order they came."""
    async with conn.cursor(row_factory=class_row(Picture)) as cursor:
        await cursor.execute(f"select {_PICTURE} from house_picture order by id")  # noqa: S608
        return await cursor.fetchall()


async def retire_picture(conn: Connection, number: int, retired: bool) -> None:
    """Offers a picture no more, or again. Raises `NotFound`."""
    cursor = await conn.execute(
        "update house_picture set retired_at = case when %s then now() end where id = %s", [retired, number]
    )
    if cursor.rowcount != 1:
        _missing()


async def set_copyright(conn: Connection, copyright_line: str) -> None:
    """Sets what is written into files as whose they are."""
    await conn.execute("update house_colour set copyright = %s", [copyright_line])


async def set_colour(conn: Connection, colour: str) -> None:
    """Sets the house's colour: `#RRGGBB`."""
    await conn.execute("update house_colour set colour = %s", [colour])


async def set_role(conn: Connection, name: str, role: str) -> None:
    """Says what somebody is; an empty role says nothing any more."""
    if not role:
        await conn.execute("delete from house_person where name = %s", [name])
        return
    await conn.execute(
        "insert into house_person (name, role) values (%s, %s) on conflict (name) do update set role = excluded.role",
        [name, role],
    )


def _digest(made: HousePicture) -> str:
    return hashlib.sha256(made.content).hexdigest()


def _missing() -> Any:
    raise NotFound("The house has no such picture.")
