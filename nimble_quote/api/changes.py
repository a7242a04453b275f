"""News of changed rows, from the database to every open browser."""

import asyncio
import json
from collections.abc import AsyncIterator
from typing import Any

import psycopg

CHANNEL = "nimble_quote_changed"
_WAITING = 200
"""News kept for a slow browser; it reads everything again when it has lost some."""


class Changes:
    """Listens to the database once, and tells many."""

    def __init__(self, database_url: str) -> None:
        self._database_url = database_url
        self._listeners: set[asyncio.Queue[dict[str, Any]]] = set()

    async def run(self) -> None:
        """Passes news on until cancelled; comes back after the database was away."""
        while True:
            try:
                async with await psycopg.AsyncConnection.connect(self._database_url, autocommit=True) as conn:
                    await conn.execute(f"listen {CHANNEL}")
                    async for notice in conn.notifies():
                        self._tell(json.loads(notice.payload))
            except psycopg.OperationalError:
                await asyncio.sleep(1)
                self._tell({"kind": "all", "id": 0})

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
                waiting.get_nowait()
            waiting.put_nowait(news)
