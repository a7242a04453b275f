"""Links for phones to the clips of one quote. The address is known to whoever was given it: only its hash is kept."""

import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta

from psycopg.rows import class_row, scalar_row

from nimble_quote.store.database import Connection, NotFound
from nimble_quote.store.sealing import hash_of


@dataclass(frozen=True, kw_only=True)
class PhoneLinkRow:
    """A link that can be opened."""

    id: int
    expires_at: datetime


async def make(conn: Connection, quote_id: int, lasts: timedelta) -> tuple[PhoneLinkRow, str]:
    """Makes a link; it, and the secret of its address."""
    secret = secrets.token_urlsafe(24)
    async with conn.cursor(row_factory=class_row(PhoneLinkRow)) as cursor:
        await cursor.execute(
            """insert into phone_link (quote_id, address_hash, expires_at) values (%s, %s, now() + %s)
               returning id, expires_at""",
            [quote_id, hash_of(secret), lasts],
        )
        row = await cursor.fetchone()
    assert row is not None
    return row, secret


async def open_of(conn: Connection, quote_id: int) -> list[PhoneLinkRow]:
    """The links to a quote that can be opened."""
    async with conn.cursor(row_factory=class_row(PhoneLinkRow)) as cursor:
        await cursor.execute(
            """select id, expires_at from phone_link
               where quote_id = %s and revoked_at is null and expires_at > now() order by id""",
            [quote_id],
        )
        return await cursor.fetchall()


async def quote_at(conn: Connection, secret: str) -> int:
    """The quote that a link leads to. Raises `NotFound` where there is none, or none any more."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """select l.quote_id from phone_link l
                   join quote q on q.id = l.quote_id join recording r on r.id = q.recording_id
               where l.address_hash = %s and l.revoked_at is null and l.expires_at > now()
                   and q.removed_at is null and r.removed_at is null""",
            [hash_of(secret)],
        )
        found = await cursor.fetchone()
    if found is None:
        raise NotFound("This link has expired, or was taken back. Ask for a new one.")
    return int(found)


async def until(conn: Connection, secret: str) -> datetime:
    """Until when a link can be opened. Raises `NotFound`."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute("select expires_at from phone_link where address_hash = %s", [hash_of(secret)])
        found = await cursor.fetchone()
    if not isinstance(found, datetime):
        raise NotFound("There is no such link.")
    return found


async def revoke(conn: Connection, quote_id: int, link_id: int) -> None:
    """Has a link open nothing any more. Raises `NotFound`."""
    cursor = await conn.execute(
        "update phone_link set revoked_at = now() where id = %s and quote_id = %s and revoked_at is null",
        [link_id, quote_id],
    )
    if cursor.rowcount != 1:
        raise NotFound("There is no such link.")
