"""Processes that end with the one that started them, also where that one is killed and can't end them itself; and
computing in some of them."""

import asyncio
import contextlib
import ctypes
import multiprocessing
import os
import signal
from collections.abc import AsyncIterator, Callable, Sequence
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from typing import Any, TypeVar

T = TypeVar("T")

_PR_SET_PDEATHSIG = 1
"""`prctl(2)`: the signal this process gets when its parent ends."""


def tethered(command: Sequence[str], ending: signal.Signals = signal.SIGKILL) -> list[str]:
    """A command whose process gets the signal `ending` when the thread that started it is gone.

    `setpriv` (util-linux, on every Debian system) sets that for itself and becomes the command.
    """
    return ["setpriv", "--pdeathsig", ending.name.removeprefix("SIG"), "--", *command]


def tether(parent: int) -> None:
    """Has this process, started by the process `parent`, end with it."""
    ctypes.CDLL(None, use_errno=True).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)
    if os.getppid() != parent:
        # It ended before it could be watched.
        os._exit(1)


def ending_of(code: int) -> str:
    """How a process ended, by its exit code."""
    if code >= 0:
        return f"exit code {code}"
    with contextlib.suppress(ValueError):
        return signal.Signals(-code).name
    return f"signal {-code}"


class TookTooLong(RuntimeError):
    """A computation was ended because it took longer than it may."""


class Computing:
    """Processes for pure computation, so that an event loop is never held up; they are started when first needed.

    One that is killed (for want of memory, say) is replaced, and what it was computing is computed once more.
    """

    def __init__(self, processes: int) -> None:
        self._processes = processes
        self._running: ProcessPoolExecutor | None = None

    async def compute(self, work: Callable[..., T], *arguments: Any, within_s: float | None = None) -> T:
        """Runs a function of a module in another process. Raises `TookTooLong` where it takes longer than `within_s`."""
        loop = asyncio.get_running_loop()
        running = self._started()
        try:
            return await loop.run_in_executor(running, _within, within_s, work, *arguments)
        except BrokenProcessPool:
            # Whoever finds it first replaces it.
            if self._running is running:
                self._running = None
            return await loop.run_in_executor(self._started(), _within, within_s, work, *arguments)

    def close(self) -> None:
        """Ends the processes."""
        if self._running is not None:
            self._running.shutdown(wait=False, cancel_futures=True)

    def _started(self) -> ProcessPoolExecutor:
        if self._running is None:
            # Started afresh and not forked: a fork of a process with threads can hang.
            self._running = ProcessPoolExecutor(
                self._processes, multiprocessing.get_context("spawn"), initializer=tether, initargs=(os.getpid(),)
            )
        return self._running


@contextlib.asynccontextmanager
async def computing_in(processes: int) -> AsyncIterator[Computing]:
    """Processes for pure computation, ended afterwards."""
    computing = Computing(processes)
    try:
        yield computing
    finally:
        computing.close()


def _within(seconds: float | None, work: Callable[..., T], *arguments: Any) -> T:
    """Runs a function in the main thread of this process, for so long at most."""
    if seconds is None:
        return work(*arguments)
    signal.signal(signal.SIGALRM, _too_long)
    signal.setitimer(signal.ITIMER_REAL, seconds)
    try:
        return work(*arguments)
    finally:
        signal.setitimer(signal.ITIMER_REAL, 0)


def _too_long(*_: object) -> None:
    raise TookTooLong
