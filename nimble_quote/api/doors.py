"""The door for phones: a second listener, on this machine's address in the local network, that opens only while the house has
switched it on."""

import asyncio
import contextlib
import logging
import socket
from collections.abc import Awaitable, Callable, Iterator
from dataclasses import dataclass, field

import psycopg
import uvicorn
from starlette.applications import Starlette

from nimble_quote.core.refusal import Busy
from nimble_quote.settings import Settings

_LOOK_AGAIN_S = 1.0
_UNROUTED = "192.0.2.1"
"""An address for documentation (RFC 5737): nothing is sent to it, but the system says which of ours it would be sent from."""
_log = logging.getLogger(__name__)


def network_address() -> str:
    """This machine's address in the local network; that of itself where it has none."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as asked:
        try:
            asked.connect((_UNROUTED, 9))
            return str(asked.getsockname()[0])
        except OSError:
            return "127.0.0.1"


class _Listener(uvicorn.Server):
    """A server beside another in one process, which leaves the signals to that."""

    @contextlib.contextmanager
    def capture_signals(self) -> Iterator[None]:
        yield


@dataclass
class PhoneDoor:
    """Opens and closes the door as the house has it set (`wanted`), to some `pages`. `where` is the address it is open at; `problem` why it is not."""

    settings: Settings
    wanted: Callable[[], Awaitable[bool]]
    pages: Callable[[], Starlette]
    where: str | None = None
    problem: str = ""
    _listener: _Listener | None = None
    _serving: "asyncio.Task[None] | None" = None
    _wake: asyncio.Event = field(default_factory=asyncio.Event)

    async def run(self) -> None:
        """Looks again and again whether it is to be open, until cancelled."""
        try:
            while True:
                with contextlib.suppress(psycopg.Error, Busy):
                    await self.look()
                with contextlib.suppress(TimeoutError):
                    await asyncio.wait_for(self._wake.wait(), _LOOK_AGAIN_S)
                self._wake.clear()
        finally:
            await self._close()

    async def look(self) -> None:
        """Opens or closes it, as is set now."""
        wanted = await self.wanted()
        if wanted and self._listener is None:
            self._open()
        elif not wanted:
            self.problem = ""
            await self._close()

    def _open(self) -> None:
        address, port = self.settings.phone_address or network_address(), self.settings.phone_port
        opened = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
        opened.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            opened.bind((address, port))
        except OSError as taken:
            opened.close()
            if not self.problem:
                _log.warning("phones can't be served at %s:%s: %s", address, port, taken)
            self.problem = f"Phones can't be served at {address}:{port} ({taken.strerror}). Is another program there?"
            return
        config = uvicorn.Config(
            self.pages(),
            log_level="warning",
            lifespan="off",
            server_header=False,
            timeout_graceful_shutdown=1,
        )
        self._listener = _Listener(config)
        self._serving = asyncio.create_task(self._listener.serve([opened]))
        self.where, self.problem = f"{address}:{port}", ""

    async def _close(self) -> None:
        if self._listener is None or self._serving is None:
            return
        self._listener.should_exit = True
        await asyncio.gather(self._serving, return_exceptions=True)
        self._listener = self._serving = self.where = None
