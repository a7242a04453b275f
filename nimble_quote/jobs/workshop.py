"""What a worker needs at hand for its tasks, and a progress report that does not flood the database."""

import asyncio
import multiprocessing
import time
from collections.abc import Awaitable, Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, TypeVar

from nimble_quote.media.ffmpeg import Progress
from nimble_quote.media.files import MediaRoot
from nimble_quote.settings import Settings
from nimble_quote.store.database import Pool

_REPORT_EVERY_S = 0.3
T = TypeVar("T")


def _bench() -> ProcessPoolExecutor:
    # Started afresh and not forked: a fork of a process with threads can hang.
    return ProcessPoolExecutor(2, mp_context=multiprocessing.get_context("spawn"))


@dataclass(frozen=True, kw_only=True)
class Workshop:
    """The database, the media root, the settings, and processes of its own for pure computation."""

    pool: Pool
    media: MediaRoot
    settings: Settings
    _processes: ProcessPoolExecutor = field(default_factory=_bench, repr=False)

    @property
    def fonts(self) -> Path:
        return self.settings.fonts.resolve()

    async def compute(self, work: Callable[..., T], *arguments: Any) -> T:
        """Runs a function of a module in another process, so that this one's loop is never held up."""
        return await asyncio.get_running_loop().run_in_executor(self._processes, work, *arguments)

    def close(self) -> None:
        """Ends the processes."""
        self._processes.shutdown(wait=False, cancel_futures=True)


def spaced(report: Callable[[float], Awaitable[None]]) -> Progress:
    """A progress that passes on at most a few reports a second."""
    last = 0.0

    async def progress(part: float) -> None:
        nonlocal last
        now = time.monotonic()
        if now - last >= _REPORT_EVERY_S:
            last = now
            await report(part)

    return progress
