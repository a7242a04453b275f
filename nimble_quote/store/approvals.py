"""What speakers were asked to approve: a page of their own for one revision of a quote, and what they answered.

The address of the page is known to whoever was given it and to nobody else: only its hash is kept.
"""

import secrets
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Literal

from psycopg.rows import class_row

from nimble_quote.store.database import Connection, NotFound
from nimble_quote.store.sealing import hash_of

Answer = Literal["approved", "change wanted"]


@dataclass(frozen=True, kw_only=True)
class ApprovalRow:
    """A page that was made for a speaker. `open`: it can be read, and answered where it was not yet."""

    id: int
    quote_id: int
    revision: int
    created_at: datetime
    expires_at: datetime
    revoked_at: datetime | None
    answer: Answer | None
    answered_by: str | None
    note: str | None
    answered_at: datetime | None
    open: bool


_SELECT = """
    select id, quote_id, revision, created_at, expires_at, revoked_at, answer::text, answered_by, note, answered_at,
        revoked_at is null and expires_at > now() as open
    from approval
"""


_STILL_THERE = """exists (
    select from quote q join recording r on r.id = q.recording_id
    where q.id = approval.quote_id and q.removed_at is null and r.removed_at is null)"""


async def ask(conn: Connection, quote_id: int, revision: int, days: int) -> str:
    """Makes a page for a revision that can be read for some days; the secret of its address."""
    secret = secrets.token_urlsafe(24)
    await conn.execute(
        "insert into approval (quote_id, revision, address_hash, expires_at) values (%s, %s, %s, now() + %s)",
        [quote_id, revision, hash_of(secret), timedelta(days=days)],
    )
    return secret


async def newest_of(conn: Connection, quote_ids: Sequence[int]) -> dict[int, ApprovalRow]:
    """What was asked last about each of some quotes."""
    async with conn.cursor(row_factory=class_row(ApprovalRow)) as cursor:
        await cursor.execute(_SELECT + " where quote_id = any(%s) order by id", [list(quote_ids)])
        return {row.quote_id: row for row in await cursor.fetchall()}


async def of_quote(conn: Connection, quote_id: int) -> list[ApprovalRow]:
    """What was asked about a quote, the newest first."""
    async with conn.cursor(row_factory=class_row(ApprovalRow)) as cursor:
        await cursor.execute(_SELECT + " where quote_id = %s order by id desc", [quote_id])
        return await cursor.fetchall()


async def at_address(conn: Connection, secret: str, lock: bool = False) -> ApprovalRow:
    """The page at an address. Raises `NotFound` where there is none, it has expired or was revoked, or the quote or its
    recording was removed."""
    async with conn.cursor(row_factory=class_row(ApprovalRow)) as cursor:
        await cursor.execute(
            _SELECT + f" where address_hash = %s and {_STILL_THERE} {'for update' if lock else ''}",
            [hash_of(secret)],
        )
        row = await cursor.fetchone()
    if row is None or not row.open:
        raise NotFound("This page is not there any more. Ask for a new one.")
    return row


async def answer(conn: Connection, approval_id: int, given: Answer, by: str, note: str) -> None:
    """Keeps what a speaker answered, instead of anything answered before."""
    await conn.execute(
        "update approval set answer = %s, answered_by = %s, note = %s, answered_at = now() where id = %s",
        [given, by, note, approval_id],
    )


async def revoke(conn: Connection, quote_id: int, approval_id: int) -> None:
    """Takes a page away; what was answered stays. Raises `NotFound`."""
    cursor = await conn.execute(
        "update approval set revoked_at = coalesce(revoked_at, now()) where id = %s and quote_id = %s",
        [approval_id, quote_id],
    )
    if cursor.rowcount == 0:
        raise NotFound("Nobody was asked that.")
