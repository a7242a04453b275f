"""Other programs that are told what happens here: where, and what is still to be told them.

What is told is kept in the transaction of what happened, and sent afterwards, until it is taken or given up.
"""

from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal
from uuid import UUID

from psycopg.rows import class_row, scalar_row
from psycopg.types.json import Jsonb

from nimble_quote.store.database import Connection, NotFound
from nimble_quote.store.exports import ExportRow
from nimble_quote.store.posts import PostRow
from nimble_quote.store.sealing import Sealing

Event = Literal["clip.ready", "post.posted"]
MOST_TRIES = 12
"""After so many, over about a day and a half, it is given up."""


@dataclass(frozen=True, kw_only=True)
class WebhookRow:
    """A program that is told: of which events, and how the last of it went."""

    id: int
    address: str
    events: list[Event]
    created_at: datetime
    waiting: int
    last_delivered_at: datetime | None
    problem: str | None


@dataclass(frozen=True, kw_only=True)
class DeliveryRow:
    """Something that is to be told."""

    id: UUID
    address: str
    secret: bytes
    event: Event
    body: dict[str, Any]
    tries: int
    created_at: datetime


async def add(conn: Connection, sealing: Sealing, address: str, events: list[Event], secret: str) -> int:
    """Has a program told from now on; its id."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            "insert into webhook (address, events, secret) values (%s, %s, %s) returning id",
            [address, list(events), sealing.seal(secret)],
        )
        return int(await cursor.fetchone() or 0)


async def every(conn: Connection) -> list[WebhookRow]:
    """The programs that are told."""
    async with conn.cursor(row_factory=class_row(WebhookRow)) as cursor:
        await cursor.execute(
            """select id, address, events, created_at,
                   (select count(*) from webhook_delivery d where d.webhook_id = w.id and delivered_at is null and given_up_at is null)
                       as waiting,
                   (select max(delivered_at) from webhook_delivery d where d.webhook_id = w.id) as last_delivered_at,
                   (select problem from webhook_delivery d where d.webhook_id = w.id order by created_at desc limit 1) as problem
               from webhook w where removed_at is null order by id"""
        )
        return await cursor.fetchall()


async def remove(conn: Connection, webhook_id: int) -> None:
    """Tells a program nothing more. Raises `NotFound`."""
    cursor = await conn.execute(
        "update webhook set removed_at = now() where id = %s and removed_at is null", [webhook_id]
    )
    if cursor.rowcount != 1:
        raise NotFound("There is no such webhook.")


async def tell_clip_ready(conn: Connection, row: ExportRow) -> None:
    """Has it told that a clip is ready, in the transaction that keeps it."""
    await _tell(conn, "clip.ready", {
        "export": row.id, "quote": row.quote_id, "title": row.quote_title, "recording": row.recording_id,
        "destination": row.destination, "file_name": row.file_name, "clip": f"/api/exports/{row.id}/clip",
        "findings": [one["says"] for one in row.findings or []],
    })  # fmt: skip


async def tell_posted(conn: Connection, row: PostRow) -> None:
    """Has it told that a post is seen, in the transaction that keeps it."""
    await _tell(conn, "post.posted", {
        "post": row.id, "quote": row.quote_id, "title": row.quote_title, "recording": row.recording_id,
        "destination": row.destination, "account": row.account_name, "service": row.service, "address": row.address,
    })  # fmt: skip


async def _tell(conn: Connection, event: Event, data: dict[str, Any]) -> None:
    await conn.execute(
        """insert into webhook_delivery (webhook_id, event, body)
           select id, %(event)s, %(body)s from webhook where removed_at is null and %(event)s = any(events)""",
        {"event": event, "body": Jsonb(data)},
    )


async def waiting(conn: Connection) -> list[DeliveryRow]:
    """What is to be told now, oldest first."""
    async with conn.cursor(row_factory=class_row(DeliveryRow)) as cursor:
        await cursor.execute(
            """select d.id, w.address, w.secret, d.event, d.body, d.tries, d.created_at
               from webhook_delivery d join webhook w on w.id = d.webhook_id
               where d.delivered_at is null and d.given_up_at is null and d.not_before <= now() and w.removed_at is null
               order by d.created_at limit 50""",
            binary=True,
        )
        return await cursor.fetchall()


async def delivered(conn: Connection, delivery: UUID, answered: int) -> None:
    """Says that it was taken."""
    await conn.execute(
        "update webhook_delivery set delivered_at = now(), answered = %s, problem = null, tries = tries + 1 where id = %s",
        [answered, delivery],
    )


async def not_delivered(conn: Connection, delivery: UUID, answered: int | None, problem: str) -> None:
    """Says that it was not taken: it is told again, after longer each time, and given up in the end."""
    await conn.execute(
        """update webhook_delivery set tries = tries + 1, answered = %(answered)s, problem = %(problem)s,
               not_before = now() + make_interval(secs => least(5 * 3 ^ tries, 14400)),
               given_up_at = case when tries + 1 >= %(most)s then now() end
           where id = %(id)s""",
        {"id": delivery, "answered": answered, "problem": problem[:500], "most": MOST_TRIES},
    )


async def forget_old(conn: Connection) -> None:
    """Forgets what was told, or given up, a month ago."""
    await conn.execute(
        "delete from webhook_delivery where coalesce(delivered_at, given_up_at) < now() - interval '30 days'"
    )
