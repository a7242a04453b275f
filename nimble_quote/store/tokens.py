"""Tokens by which other programs use the API. Only their hashes are kept."""

import secrets
from dataclasses import dataclass
from datetime import datetime

from psycopg.rows import class_row

from nimble_quote.core.scopes import Scope
from nimble_quote.store.database import Connection, NotFound
from nimble_quote.store.sealing import hash_of

_PREFIX = "nq_"


@dataclass(frozen=True, kw_only=True)
class TokenRow:
    """A token: what it is called, what it may be used for, and when it was used last."""

    id: int
    name: str
    scopes: list[Scope]
    created_at: datetime
    last_used_at: datetime | None


_SELECT = "select id, name, scopes, created_at, last_used_at from api_token where revoked_at is null"


async def make(conn: Connection, name: str, scopes: list[Scope]) -> str:
    """Makes a token, which is told once."""
    token = _PREFIX + secrets.token_urlsafe(32)
    await conn.execute(
        "insert into api_token (name, token_hash, scopes) values (%s, %s, %s)", [name, hash_of(token), list(scopes)]
    )
    return token


async def every(conn: Connection) -> list[TokenRow]:
    """The tokens that are good."""
    async with conn.cursor(row_factory=class_row(TokenRow)) as cursor:
        await cursor.execute(_SELECT + " order by id")
        return await cursor.fetchall()


async def used(conn: Connection, token: str) -> TokenRow | None:
    """A token that a program came with, noted as used (once a minute at most); None where it is not good."""
    async with conn.cursor(row_factory=class_row(TokenRow)) as cursor:
        await cursor.execute(_SELECT + " and token_hash = %s", [hash_of(token)])
        row = await cursor.fetchone()
    if row is not None:
        await conn.execute(
            """update api_token set last_used_at = now()
               where id = %s and coalesce(last_used_at, '-infinity') < now() - interval '1 minute'""",
            [row.id],
        )
    return row


async def revoke(conn: Connection, token_id: int) -> None:
    """Has a token be good for nothing any more. Raises `NotFound`."""
    cursor = await conn.execute(
        "update api_token set revoked_at = now() where id = %s and revoked_at is null", [token_id]
    )
    if cursor.rowcount != 1:
        raise NotFound("There is no such token.")
