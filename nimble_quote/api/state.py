"""What the routes share: the database, the media root, and loading what the core needs."""

import asyncio
from collections import OrderedDict
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from dataclasses import dataclass, field
from functools import cached_property
from typing import Annotated

from fastapi import Depends, Request
from psycopg_pool import PoolTimeout

from nimble_quote.api.changes import Changes
from nimble_quote.api.contrasts import Contrasts
from nimble_quote.api.covering import Covers
from nimble_quote.api.doors import PhoneDoor
from nimble_quote.api.finding import Finders
from nimble_quote.api.readings import Readings
from nimble_quote.api.recordings import Shelf
from nimble_quote.api.searching import Library
from nimble_quote.api.slips import Slips
from nimble_quote.api.sounding import Sounds
from nimble_quote.api.turns import Busy, Turns
from nimble_quote.api.uploads import Uploads
from nimble_quote.core.catalogue import Catalogue
from nimble_quote.core.context import Context
from nimble_quote.core.making import Quality
from nimble_quote.jobs.intake import Intake
from nimble_quote.media.files import MediaRoot
from nimble_quote.processes import Computing
from nimble_quote.settings import Settings
from nimble_quote.store import quotes, recordings
from nimble_quote.store.contexts import Contexts
from nimble_quote.store.database import Connection, DatabaseAway, Pool
from nimble_quote.store.quotes import QuoteRow
from nimble_quote.store.recordings import RecordingRow
from nimble_quote.store.sealing import Sealing

_TOO_MANY = "Too many requests are waiting for the database right now. Try again in a few seconds."


Probed = dict[Quality, tuple[float, float]]


@dataclass(frozen=True, kw_only=True)
class ServerState:
    """What lives as long as the server."""

    settings: Settings
    pool: Pool
    media: MediaRoot
    changes: Changes
    uploads: Uploads
    library: Library
    finders: Finders
    contexts: Contexts
    readings: Readings = field(default_factory=Readings)
    shelf: Shelf = field(default_factory=Shelf)
    sounds: Sounds
    contrasts: Contrasts
    covers: Covers
    probed: "OrderedDict[str, Probed]" = field(default_factory=OrderedDict)
    """How many bytes frames took in probes of versions, by what the versions were made of."""
    computing: Computing
    phones: PhoneDoor
    tools: Turns = field(default_factory=lambda: Turns(2, 20.0, "The server is busy loading sound"))
    searches: Turns = field(default_factory=lambda: Turns(3, 10.0, "Many searches are running"))

    @cached_property
    def sealing(self) -> Sealing:
        """How secrets are kept."""
        return Sealing(self.settings.secret_key)

    @cached_property
    def slips(self) -> Slips:
        return Slips(self.readings)

    @asynccontextmanager
    async def connection(self) -> AsyncIterator[Connection]:
        """A connection to the database, for one transaction. Raises `DatabaseAway` or `Busy`.

        Hold none while a body is read or a tool runs: there are only a few.
        """
        conn = await self._connected()
        try:
            async with conn:
                yield conn
        finally:
            await self.pool.putconn(conn)

    async def _connected(self) -> Connection:
        """A connection of the pool. It is not waited for where the database is away, or is found to be meanwhile."""
        if self.changes.away.is_set():
            raise DatabaseAway
        getting = asyncio.ensure_future(self.pool.getconn())
        away = asyncio.ensure_future(self.changes.away.wait())
        try:
            await asyncio.wait((getting, away), return_when=asyncio.FIRST_COMPLETED)
            if not getting.done():
                raise DatabaseAway
            return getting.result()
        except PoolTimeout:
            raise Busy(_TOO_MANY) from None
        except asyncio.CancelledError:
            if getting.done() and not getting.cancelled() and getting.exception() is None:
                await self.pool.putconn(getting.result())
            raise
        finally:
            away.cancel()
            if not getting.done():
                getting.cancel()

    @property
    def intake(self) -> Intake:
        return Intake(connect=self.connection, media=self.media, computing=self.computing)


def _server(request: Request) -> ServerState:
    server = request.app.state.server
    assert isinstance(server, ServerState)
    return server


TheServer = Annotated[ServerState, Depends(_server)]


async def _connection(server: TheServer) -> AsyncIterator[Connection]:
    async with server.connection() as conn:
        yield conn


async def _searching_connection(server: TheServer) -> AsyncIterator[Connection]:
    async with server.searches.turn(), server.connection() as conn:
        yield conn


# Closed, and so committed, before the answer is sent: what a browser was told is kept has been kept.
TheConnection = Annotated[Connection, Depends(_connection, scope="function")]

# For searches, which take turns so that many of them keep nobody else waiting.
TheSearchingConnection = Annotated[Connection, Depends(_searching_connection, scope="function")]


async def _catalogue(conn: TheConnection, server: TheServer) -> Catalogue:
    return await server.contexts.catalogues.now(conn)


TheCatalogue = Annotated[Catalogue, Depends(_catalogue)]


async def loaded(conn: Connection, server: ServerState, quote_id: int) -> tuple[QuoteRow, RecordingRow, Context]:
    """A quote, its recording, and what the core may know around it. Raises `NotFound`."""
    quote = await quotes.one(conn, quote_id)
    recording = await recordings.one(conn, quote.recording_id)
    return quote, recording, await server.contexts.around(conn, recording, quote.document.span)
