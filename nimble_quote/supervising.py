"""Keeping the parts of the running application going: the database server, the server, the worker, the stand-ins.

A part that ends unasked is started again, at once the first time and after longer and longer pauses if it keeps ending.
All of them end with the process that started them, also where that is killed.
"""

import contextlib
import fcntl
import os
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Protocol

from nimble_quote.processes import ending_of, tethered

_LOOK_EVERY_S = 0.2
_PAUSES_S = (0.0, 1.0, 2.0, 5.0, 10.0, 30.0)
_STEADY_S = 60.0
"""A part that ran for so long is started again at once."""
_ENDS_WITHIN_S = 8.0


class Part(Protocol):
    """Something that runs, and can be started again."""

    name: str

    def ended(self) -> str | None:
        """How it ended; None while it runs."""
        ...

    def start(self) -> object:
        """Starts it."""
        ...


@dataclass
class Child:
    """A program that runs as a process of ours, in a session of its own: Ctrl-C reaches it through us, in our order."""

    name: str
    command: Sequence[str]
    _process: "subprocess.Popen[bytes] | None" = field(default=None, repr=False)

    def start(self) -> None:
        self._process = subprocess.Popen(tethered(self.command), start_new_session=True)

    def ended(self) -> str | None:
        code = None if self._process is None else self._process.poll()
        return None if code is None else ending_of(code)

    def stop(self) -> None:
        """Ends it in order, and by force where that takes too long."""
        if self._process is None or self._process.poll() is not None:
            return
        self._process.terminate()
        try:
            self._process.wait(_ENDS_WITHIN_S)
        except subprocess.TimeoutExpired:
            os.killpg(self._process.pid, signal.SIGKILL)
            self._process.wait()


@dataclass
class _Watched:
    part: Part
    started_at: float
    falls: int = 0
    again_at: float | None = None


def keep_going(parts: Sequence[Part], tell: Callable[[str], None]) -> None:
    """Watches parts that run, and starts again what ends, for ever. `tell` is told in a line what happens."""
    watched = [_Watched(part, time.monotonic()) for part in parts]
    while True:
        for one in watched:
            _look_after(one, tell, time.monotonic())
        time.sleep(_LOOK_EVERY_S)


def _look_after(one: _Watched, tell: Callable[[str], None], now: float) -> None:
    how = one.part.ended()
    if how is None:
        return
    if one.again_at is None:
        one.falls = 0 if now - one.started_at > _STEADY_S else one.falls
        pause = _PAUSES_S[min(one.falls, len(_PAUSES_S) - 1)]
        one.falls += 1
        one.again_at = now + pause
        when = f"in {pause:.0f} s" if pause else "now"
        tell(f"The {one.part.name} ended unexpectedly ({how}). Restarting it {when}.")
    if now < one.again_at:
        return
    one.again_at, one.started_at = None, now
    try:
        one.part.start()
    except (OSError, RuntimeError) as failed:
        tell(f"The {one.part.name} could not be restarted: {failed}")


class RunningAlready(RuntimeError):
    """The application runs with the same data; the message says which process it is."""


@contextlib.contextmanager
def only_one(data: Path, port: int) -> Iterator[None]:
    """Holds the data folder for this process: what it holds is let go with it, however it ends. Raises `RunningAlready`."""
    with (data / "running.lock").open("a+") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            lock.seek(0)
            pid, _, at = lock.read().strip().partition(" ")
            raise RunningAlready(
                f"it is already running with this data at http://127.0.0.1:{at} (process {pid}). Use it there, or stop it "
                f"first: kill {pid}"
            ) from None
        lock.truncate(0)
        lock.write(f"{os.getpid()} {port}\n")
        lock.flush()
        yield


def wait_for_port(port: int, seconds: float) -> str | None:
    """Waits until a port is free: what an application that was just killed leaves behind needs a moment to end.

    Who holds it where it is not, None where it is. Raises `OverflowError` where it is no port.
    """
    until = time.monotonic() + seconds
    while not _free(port):
        if time.monotonic() > until:
            return holder_of(port) or "another program"
        time.sleep(0.1)
    return None


def _free(port: int) -> bool:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            return False
    return True


def holder_of(port: int) -> str | None:
    """The process that listens on a port, as far as this user may see it."""
    sockets = {
        fields[9]
        for line in Path("/proc/net/tcp").read_text().splitlines()[1:]
        if (fields := line.split())[3] == "0A" and fields[1].endswith(f":{port:04X}")
    }
    for process in Path("/proc").glob("[0-9]*"):
        with contextlib.suppress(OSError):
            if any(
                str(one.readlink()) == f"socket:[{inode}]" for one in (process / "fd").iterdir() for inode in sockets
            ):
                name = (process / "comm").read_text().strip()
                return f"process {process.name} ({name})"
    return None


def tell_terminal(line: str) -> None:
    """Says a line to whoever started the application."""
    print(line, file=sys.stderr, flush=True)
