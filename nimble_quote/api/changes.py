"""News of changed rows, from the database to every open browser."""

import asyncio
import json
from collections.abc import AsyncIterator
from typing import Any

import psycopg

from nimble_quote.store.database import Pool

CHANNEL = "nimble_quote_changed"
_LOOK_AGAIN_S = 0.3
_ALL: dict[str, Any] = {"kind": "all", "id": 0}
_WAITING = 200
"""News kept for a slow browser; it reads everything again when it has lost some."""


class Changes:
    """Listens to the database once, and tells many; so it is the first to know that the database is away."""

    def __init__(self, database_url: str, pool: Pool) -> None:
        self._database_url = database_url
        self._pool = pool
        self._listeners: set[asyncio.Queue[dict[str, Any]]] = set()
        self.away = asyncio.Event()
        """Set while the database can't be reached."""

    async def run(self) -> None:
        """Passes news on until cancelled; comes back after the database was away."""
        while True:
            try:
                async with await psycopg.AsyncConnection.connect(self._database_url, autocommit=True) as conn:
                    await conn.execute(f"listen {CHANNEL}")
                    await self._back()
                    async for notice in conn.notifies():
                        self._tell(json.loads(notice.payload))
            except psycopg.OperationalError:
                self.away.set()
                await asyncio.sleep(_LOOK_AGAIN_S)

    async def _back(self) -> None:
        """The database answers: connections that it broke off are replaced, and what was missed is to be read anew."""
        if self.away.is_set():
            await self._pool.check()
            self.away.clear()
            self._tell(_ALL)

    async def listen(self) -> AsyncIterator[dict[str, Any]]:
        """The news from now on."""
        waiting: asyncio.Queue[dict[str, Any]] = asyncio.Queue(_WAITING)
        self._listeners.add(waiting)
        try:
            while True:
                yield await waiting.get()
        finally:
            self._listeners.discard(waiting)

    def _tell(self, news: dict[str, Any]) -> None:
        for waiting in self._listeners:
            if waiting.full():
                # What is dropped is told as that: everything is to be read anew.
                while not waiting.empty():
                    waiting.get_nowait()
                waiting.put_nowait(_ALL)
            else:
                waiting.put_nowait(news)
