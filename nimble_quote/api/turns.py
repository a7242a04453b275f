"""So many at once: what is dear is done a few at a time, and the rest waits its turn, but not for ever."""

import asyncio
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager

from nimble_quote.core import refusal


class Busy(refusal.Busy):
    """Too much is going on; the message says what, and that it can be tried again."""

    code = "too-busy"


class Turns:
    """Turns at something, told in errors by what they are for."""

    def __init__(self, at_once: int, within_s: float, what: str) -> None:
        self._free = asyncio.Semaphore(at_once)
        self._within_s = within_s
        self._what = what

    @asynccontextmanager
    async def turn(self) -> AsyncIterator[None]:
        """Waits for a turn and holds it during the block. Raises `Busy` where it does not come in time."""
        try:
            async with asyncio.timeout(self._within_s):
                await self._free.acquire()
        except TimeoutError:
            raise Busy(f"{self._what} right now. Try again in a few seconds.") from None
        try:
            yield
        finally:
            self._free.release()
