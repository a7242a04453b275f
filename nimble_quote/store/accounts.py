"""Accounts with services that clips are posted to, and sign-ins that have been begun."""

from dataclasses import dataclass
from datetime import datetime, timedelta

from psycopg.rows import class_row, scalar_row
from psycopg.types.json import Jsonb

from nimble_quote.core.posting.counting import TextLimits
from nimble_quote.services.posting import Account, ServiceView, Tokens
from nimble_quote.store.database import Connection, NotFound
from nimble_quote.store.sealing import SealBroken, Sealing, hash_of

_SIGN_IN_KEPT = timedelta(minutes=10)


@dataclass(frozen=True, kw_only=True)
class AccountRow:
    """An account. `limits` is what its service takes: a `ServiceView` as JSON."""

    id: int
    service: str
    name: str
    limits: dict[str, object]
    signed_in: bool
    created_at: datetime
    removed_at: datetime | None

    @property
    def taken(self) -> ServiceView:
        return ServiceView.model_validate(self.limits)

    @property
    def texts(self) -> TextLimits:
        return self.taken.limits


_SELECT = (
    """select id, service, name, limits, tokens is not null as signed_in, created_at, removed_at from posting_account"""
)


async def begin_sign_in(conn: Connection, sealing: Sealing, service: str, state: str, verifier: str) -> None:
    """Keeps a sign-in that a person was sent to; those that nobody came back from are forgotten."""
    await conn.execute("delete from posting_sign_in where created_at < now() - %s", [_SIGN_IN_KEPT])
    await conn.execute(
        "insert into posting_sign_in (state_hash, service, verifier) values (%s, %s, %s)",
        [hash_of(state), service, sealing.seal(verifier)],
    )


async def end_sign_in(conn: Connection, sealing: Sealing, state: str) -> tuple[str, str]:
    """The service and the verifier of a sign-in that somebody came back from: once. Raises `NotFound`."""
    cursor = await conn.execute(
        "delete from posting_sign_in where state_hash = %s and created_at > now() - %s returning service, verifier",
        [hash_of(state), _SIGN_IN_KEPT],
        binary=True,
    )
    row = await cursor.fetchone()
    if row is None:
        raise NotFound("This sign-in was not begun here, or too long ago. Connect the account once more.")
    kept = row[1]
    assert isinstance(kept, bytes)
    return str(row[0]), sealing.opened(kept)


async def connect(
    conn: Connection, sealing: Sealing, service: str, account: Account, taken: ServiceView, tokens: Tokens
) -> int:
    """Keeps an account with its tokens; one that is there already has new ones. Its id."""
    async with conn.cursor(row_factory=scalar_row) as cursor:
        await cursor.execute(
            """insert into posting_account (service, name, remote, tokens, limits) values (%s, %s, %s, %s, %s)
               on conflict (service, remote) where removed_at is null
                   do update set name = excluded.name, tokens = excluded.tokens, limits = excluded.limits
               returning id""",
            [service, account.name[:120] or account.id, account.id, sealing.seal(tokens.model_dump_json()),
             Jsonb(taken.model_dump(mode="json"))],
        )  # fmt: skip
        return int(await cursor.fetchone() or 0)


async def every(conn: Connection) -> list[AccountRow]:
    """The accounts that are connected, in the order in which they were."""
    async with conn.cursor(row_factory=class_row(AccountRow)) as cursor:
        await cursor.execute(_SELECT + " where removed_at is null order by id")
        return await cursor.fetchall()


async def usual(conn: Connection) -> int | None:
    """The account that posts go to where nobody chose: the first that is signed in; None where none is."""
    return next((row.id for row in await every(conn) if row.signed_in), None)


async def one(conn: Connection, account_id: int) -> AccountRow:
    """An account, also one that was removed. Raises `NotFound`."""
    async with conn.cursor(row_factory=class_row(AccountRow)) as cursor:
        await cursor.execute(_SELECT + " where id = %s", [account_id])
        row = await cursor.fetchone()
    if row is None:
        raise NotFound("There is no such account.")
    return row


async def tokens(conn: Connection, sealing: Sealing, account_id: int, *, lock: bool = False) -> Tokens | None:
    """The tokens of an account, locked until the transaction ends where they are to be replaced; None where it has none that can be read."""
    if lock:
        await conn.execute("select from posting_account where id = %s for update", [account_id])
    cursor = await conn.execute("select tokens from posting_account where id = %s", [account_id], binary=True)
    row = await cursor.fetchone()
    kept = row[0] if row else None
    if not isinstance(kept, bytes):
        return None
    try:
        return Tokens.model_validate_json(sealing.opened(kept))
    except SealBroken:
        # The key file was lost: as good as signed out.
        return None


async def keep_tokens(conn: Connection, sealing: Sealing, account_id: int, fresh: Tokens | None) -> None:
    """Keeps fresh tokens of an account; None where its service gives no more."""
    await conn.execute(
        "update posting_account set tokens = %s where id = %s and removed_at is null",
        [sealing.seal(fresh.model_dump_json()) if fresh else None, account_id],
    )


async def remove(conn: Connection, account_id: int) -> None:
    """Forgets the tokens of an account and offers it no more; what was posted stays known. Raises `NotFound`."""
    cursor = await conn.execute(
        "update posting_account set tokens = null, removed_at = now() where id = %s and removed_at is null",
        [account_id],
    )
    if cursor.rowcount != 1:
        raise NotFound("There is no such account.")
