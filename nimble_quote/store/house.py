"""What a house has of its own: pictures to stand behind others, and its colour."""

from collections.abc import Collection
from typing import Any

from psycopg.rows import scalar_row

from nimble_quote.store.database import Connection, NotFound


async def add_picture(conn: Connection, name: str, jpeg: bytes, width: int, height: int) -> int:
    """Keeps a picture; its number."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            "insert into house_picture (name, jpeg, width, height) values (%s, %s, %s, %s) returning id",
            [name, jpeg, width, height],
        )
        return int(str(await cursor.fetchone()))


async def picture(conn: Connection, number: int) -> bytes:
    """A picture, as JPEG. Raises `NotFound`."""
    return (await pictures(conn, [number]))[number]


async def pictures(conn: Connection, numbers: Collection[int]) -> dict[int, bytes]:
    """Some pictures, as JPEG. Raises `NotFound` where one is not there."""
    cursor = await conn.execute("select id, jpeg from house_picture where id = any(%s)", [list(numbers)], binary=True)
    rows: list[Any] = await cursor.fetchall()
    found = {int(number): bytes(jpeg) for number, jpeg in rows}
    if set(found) != set(numbers):
        raise NotFound("The house has no such picture.")
    return found


async def retire_picture(conn: Connection, number: int, retired: bool) -> None:
    """Offers a picture no more, or again. Raises `NotFound`."""
    cursor = await conn.execute(
        "update house_picture set retired_at = case when %s then now() end where id = %s", [retired, number]
    )
    if cursor.rowcount != 1:
        raise NotFound("The house has no such picture.")


async def set_colour(conn: Connection, colour: str) -> None:
    """Sets the house's colour: `#RRGGBB`."""
    await conn.execute("update house_colour set colour = %s", [colour])
