"""The connection pool, and bringing a database to the current schema."""

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import TypeAlias

import psycopg
from psycopg_pool import AsyncConnectionPool
from yoyo import get_backend, read_migrations

from nimble_quote.core.refusal import Busy, Missing

MIGRATIONS = Path(__file__).parent / "migrations"
_WAITS_S = 10.0
"""How long is waited for a free connection, or for the database to come back."""
_MIGRATION_LOCK = 7_320_001

Connection: TypeAlias = psycopg.AsyncConnection[tuple[object, ...]]
Pool: TypeAlias = "AsyncConnectionPool[Connection]"


def migrate(database_url: str) -> None:
    """Applies the migrations that a database lacks.

    One process migrates at a time, held by a lock of the database that ends with its connection; the migration tool's
    own lock is a row that would outlive a killed process, so it is broken first.
    """
    with psycopg.connect(database_url, autocommit=True) as guard:
        guard.execute("select pg_advisory_lock(%s)", [_MIGRATION_LOCK])
        backend = get_backend(database_url.replace("postgresql://", "postgresql+psycopg://", 1))
        try:
            backend.break_lock()
            with backend.lock():
                backend.apply_migrations(backend.to_apply(read_migrations(str(MIGRATIONS))))
        finally:
            backend.connection.close()


@asynccontextmanager
async def open_pool(database_url: str, size: int = 10) -> AsyncIterator[Pool]:
    """A pool of checked connections, closed afterwards."""
    # Compiling a query takes longer than any of ours runs.
    pool: Pool = AsyncConnectionPool(
        database_url, min_size=2, max_size=size, open=False, check=AsyncConnectionPool.check_connection,
        timeout=_WAITS_S, reconnect_timeout=_WAITS_S, kwargs={"options": "-c jit=off"},
    )  # fmt: skip
    async with pool:
        yield pool


class DatabaseAway(Busy):
    """The database can't be reached."""

    code = "database-away"

    def __init__(self) -> None:
        super().__init__(
            "The database isn't answering right now and is being restarted. Everything you saved is safe. Try again in a few "
            "seconds."
        )


class StoredDamaged(RuntimeError):
    """What the database holds is not what was kept there: a mistake of ours, and never that of whoever asks for it."""


class NotFound(Missing):
    """There is no such thing in the database; the message says what was asked for."""

    code = "not-found"
