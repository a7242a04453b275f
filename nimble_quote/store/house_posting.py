"""How a house posts: how its texts begin, when and by which clock, and whether phones may fetch clips."""

from dataclasses import dataclass
from datetime import time

from psycopg.rows import class_row

from nimble_quote.store.database import Connection


@dataclass(frozen=True, kw_only=True)
class HousePosting:
    """What a house has set of posting. `pattern` is what the description of a new post is drafted from."""

    pattern: str
    time_zone: str
    usual_time: time
    phones: bool


async def now(conn: Connection) -> HousePosting:
    """What is set."""
    async with conn.cursor(row_factory=class_row(HousePosting)) as cursor:
        await cursor.execute("select pattern, time_zone, usual_time, phones from house_posting")
        row = await cursor.fetchone()
    assert row is not None
    return row


async def keep(conn: Connection, wanted: HousePosting) -> None:
    """Sets it."""
    await conn.execute(
        "update house_posting set pattern = %s, time_zone = %s, usual_time = %s, phones = %s",
        [wanted.pattern, wanted.time_zone, wanted.usual_time, wanted.phones],
    )
