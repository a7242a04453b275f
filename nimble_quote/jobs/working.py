"""Doing a piece of long work of any kind: taken on for an attempt, reported, ended one way or another."""

import asyncio
import logging
from collections.abc import AsyncIterator, Awaitable, Callable
from contextlib import asynccontextmanager
from dataclasses import dataclass, field
from typing import Any
from uuid import UUID, uuid4

from nimble_quote.core.refusal import Refused
from nimble_quote.jobs.queue import enqueue, hurry
from nimble_quote.jobs.state import WorkerState, spaced
from nimble_quote.media.ffmpeg import MediaFailed, Progress
from nimble_quote.media.probe import SourceRefused
from nimble_quote.media.recogniser import RecogniserMissing
from nimble_quote.media.room import DiskFull, Room, is_full
from nimble_quote.services.fetching import FetchRefused
from nimble_quote.services.transcription import ServiceFailed
from nimble_quote.store import work
from nimble_quote.store.database import Connection
from nimble_quote.store.work import AttemptLost, StopRequested, Target, WorkKind, WorkRow, on_recording


class WorkFailed(Refused):
    """Work that can't be done; the message says why and what to do."""

    code = "work-failed"


@dataclass(kw_only=True)
class Attempt:
    """An attempt at a piece of work. Its token goes with all that it writes: of two attempts the later one counts."""

    worker: WorkerState
    row: WorkRow
    token: UUID = field(default_factory=uuid4)
    ended: bool = False

    @property
    def recording_id(self) -> int:
        assert self.row.recording_id is not None
        return self.row.recording_id

    @property
    def target(self) -> Target:
        """The recording of the attempt, for more work on it."""
        return on_recording(self.recording_id)

    @property
    def export_id(self) -> int:
        assert self.row.export_id is not None
        return self.row.export_id

    @property
    def post_id(self) -> int:
        assert self.row.post_id is not None
        return self.row.post_id

    async def stage(self, name: str, low: float = 0.0, high: float = 1.0) -> Progress:
        """Says what is done now; a progress for it, which takes the work from `low` to `high` of its whole."""
        await self._report(name, low)

        async def report(part: float) -> None:
            await self._report(name, low + (high - low) * min(1.0, part))

        return spaced(report)

    @asynccontextmanager
    async def ending(self) -> AsyncIterator[Connection]:
        """A connection to write what came of the work, in the transaction that says that it is done.

        Raises `AttemptLost` at the end of the block where it is another's by now; then nothing of it is written.
        """
        async with self.worker.pool.connection() as conn:
            yield conn
            await self.finish(conn)

    async def finish(self, conn: Connection) -> None:
        """Says that the work is done, in the transaction that writes what came of it. Raises `AttemptLost`: let the
        transaction be undone then."""
        await work.finish(conn, self.row.id, self.token)
        self.ended = True

    async def _report(self, name: str, progress: float) -> None:
        self.worker.media.room.require()
        async with self.worker.pool.connection() as conn:
            await work.report(conn, self.row.id, self.token, name, progress)


MOST_TRIES = 5
"""Work whose worker was ended by force so often is not begun again by itself."""

Doing = Callable[[Attempt], Awaitable[None]]
_REFUSALS = (MediaFailed, SourceRefused, FetchRefused, ServiceFailed, RecogniserMissing, WorkFailed, DiskFull)
_log = logging.getLogger(__name__)


async def ask_for(
    conn: Connection, kind: WorkKind, target: Target, details: dict[str, Any] | None = None, *, waited: bool = True
) -> work.Asked:
    """Asks for work and queues it, in the connection's transaction. `waited`: whether somebody waits for it."""
    asked = await work.ask(conn, kind, target, details, waited=waited)
    row = await work.one(conn, asked.id)
    await (enqueue if asked.new else hurry)(conn, row)
    return asked


async def resume(conn: Connection, work_id: int) -> WorkRow:
    """Goes on with work that was stopped or failed, in the connection's transaction; how it stands now."""
    resumed = await work.resume(conn, work_id)
    row = await work.one(conn, work_id)
    if resumed:
        await enqueue(conn, row)
    return row


async def do_work(worker: WorkerState, work_id: int, doing: dict[WorkKind, Doing]) -> None:
    """Does a piece of work. May be killed at any moment and run again; each kind goes on from where it was."""
    token = uuid4()
    async with worker.pool.connection() as conn:
        if not await work.begin(conn, work_id, token):
            await work.set_stopped(conn, work_id)
            return
        attempt = Attempt(worker=worker, row=await work.one(conn, work_id), token=token)
    try:
        if attempt.row.tries > MOST_TRIES:
            raise WorkFailed(gave_up(attempt.row.tries - 1))
        await doing[attempt.row.kind](attempt)
        if not attempt.ended:
            async with attempt.ending():
                pass
    except AttemptLost:
        return
    except asyncio.CancelledError:
        await asyncio.shield(_hand_back(attempt))
        raise
    except StopRequested:
        async with worker.pool.connection() as conn:
            await work.set_stopped(conn, work_id)
    except (*_REFUSALS, OSError) as failed:
        await _fail(attempt, for_people(failed, worker.media.room))
    except Exception as unforeseen:
        await _fail(attempt, in_the_log(unforeseen))
        raise


async def _fail(attempt: Attempt, problem: str) -> None:
    async with attempt.worker.pool.connection() as conn:
        await work.fail(conn, attempt.row.id, attempt.token, problem)


async def _hand_back(attempt: Attempt) -> None:
    async with attempt.worker.pool.connection() as conn:
        if await work.hand_back(conn, attempt.row.id, attempt.token):
            await enqueue(conn, attempt.row)


def gave_up(tries: int) -> str:
    """What is said of work that was begun so often and never ended, not even by failing."""
    return (
        f"The worker stopped {tries} times while doing this, so it was not tried again. If the machine ran out of memory, "
        "close other programs, then try again."
    )


def for_people(failed: Exception, room: Room) -> str:
    """What went wrong, for the person who asked; what a tool or the system said of it goes to the log."""
    if isinstance(failed, MediaFailed):
        _log.error("%s", failed)
        if not failed.disk_full:
            return f"{failed.cause[:1].upper()}{failed.cause[1:]}. Check the recording, then try again."
    elif not isinstance(failed, OSError):
        return str(failed) or type(failed).__name__
    elif not is_full(failed):
        _log.error("%s", failed)
        return f"A file could not be used ({failed.strerror or type(failed).__name__}). Check the disk, then try again."
    return str(room.full())


def in_the_log(unforeseen: Exception) -> str:
    """What is said of a mistake of ours, where only the log can say more."""
    kind = type(unforeseen).__name__
    return f"Something unforeseen went wrong ({kind}). Try again; what happened is in the worker's log."
