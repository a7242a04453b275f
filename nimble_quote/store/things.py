"""What a person drew a box on, and where it was found to go."""

from collections.abc import Sequence
from dataclasses import dataclass

from psycopg.rows import class_row, scalar_row

from nimble_quote.core.framing.following import Track
from nimble_quote.core.framing.placement import FaceSample
from nimble_quote.core.timebase import Span
from nimble_quote.store.database import Connection, NotFound
from nimble_quote.store.pictures import column, counted

FIRST = 5000
"""Faces have lower numbers."""


@dataclass(frozen=True, kw_only=True)
class ThingRow:
    """A thing through a stretch: the moments it was seen at, and its places side by side."""

    subject: int
    at_ms: list[int]
    x: list[float]
    y: list[float]
    width: list[float]
    height: list[float]
    score: list[float]


async def add(conn: Connection, recording_id: int, name: str | None) -> int:
    """Makes room for a thing that is to be followed; its number."""
    await conn.execute("select from recording where id = %s for update", [recording_id])
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """insert into followed_thing (recording_id, subject, name)
               select %(id)s, coalesce(max(subject) + 1, %(first)s), %(name)s from followed_thing where recording_id = %(id)s
               returning subject""",
            {"id": recording_id, "first": FIRST, "name": name},
        )
        return int(str(await cursor.fetchone()))


async def place(conn: Connection, recording_id: int, subject: int, places: Sequence[FaceSample]) -> None:
    """Keeps where a thing goes."""
    await counted(conn, recording_id)
    await conn.execute(
        """update followed_thing set at_ms = %s, x = %s, y = %s, width = %s, height = %s, score = %s
           where recording_id = %s and subject = %s""",
        [
            [one.at_ms for one in places], [one.x for one in places], [one.y for one in places],
            [one.width for one in places], [one.height for one in places], [one.score for one in places],
            recording_id, subject,
        ],
    )  # fmt: skip


async def set_removed(conn: Connection, recording_id: int, subject: int, removed: bool) -> None:
    """Has a thing followed no longer, or again. Raises `NotFound`."""
    await counted(conn, recording_id)
    cursor = await conn.execute(
        "update followed_thing set removed_at = case when %s then now() end where recording_id = %s and subject = %s",
        [removed, recording_id, subject],
    )
    if cursor.rowcount != 1:
        raise NotFound("Nothing is followed in this recording under that number.")


async def names(conn: Connection, recording_id: int) -> dict[int, str]:
    """The names of things that have one."""
    cursor = await conn.execute(
        "select subject, name from followed_thing where recording_id = %s and name is not null", [recording_id]
    )
    return {int(str(subject)): str(name) for subject, name in await cursor.fetchall()}


async def tracks_in(conn: Connection, recording_id: int, span: Span) -> list[Track]:
    """The things that are followed in a stretch."""
    async with conn.cursor(row_factory=class_row(ThingRow), binary=True) as cursor:
        await cursor.execute(
            """select subject, at_ms, x, y, width, height, score from followed_thing
               where recording_id = %(id)s and removed_at is null and start_ms < %(end)s and end_ms >= %(start)s
               order by subject""",
            {"id": recording_id, "start": span.start_ms, "end": span.end_ms},
        )
        rows = await cursor.fetchall()
    return [
        Track(
            subject=row.subject, at_ms=column(row.at_ms), x=column(row.x), y=column(row.y), width=column(row.width),
            height=column(row.height), turn=column([0.0] * len(row.at_ms)), score=column(row.score), thing=True,
        )
        for row in rows
    ]  # fmt: skip
