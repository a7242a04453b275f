"""Doing a piece of long work: taken on for an attempt, reported, ended one way or another."""

import asyncio
import logging
from collections.abc import Awaitable, Callable
from dataclasses import dataclass
from typing import Any
from uuid import UUID, uuid4

from nimble_quote.core.refusal import Refused
from nimble_quote.jobs.queue import enqueue_work
from nimble_quote.jobs.workshop import Workshop, spaced
from nimble_quote.media.ffmpeg import MediaFailed, Progress
from nimble_quote.media.probe import SourceRefused
from nimble_quote.media.recogniser import RecogniserMissing
from nimble_quote.media.room import DiskFull, Room, is_full
from nimble_quote.services.fetching import FetchRefused
from nimble_quote.services.transcription import ServiceFailed
from nimble_quote.store import work
from nimble_quote.store.database import Connection
from nimble_quote.store.work import AttemptLost, StopRequested, WorkKind, WorkRow


class WorkFailed(Refused):
    """Work that can't be done; the message says why and what to do."""

    code = "work-failed"


@dataclass(frozen=True, kw_only=True)
class Going:
    """An attempt at a piece of work."""

    shop: Workshop
    row: WorkRow
    attempt: UUID

    @property
    def recording_id(self) -> int:
        assert self.row.recording_id is not None
        return self.row.recording_id

    async def stage(self, name: str, low: float = 0.0, high: float = 1.0) -> Progress:
        """Says what is done now; a progress for it, which takes the work from `low` to `high` of its whole."""
        await self._report(name, low)

        async def report(part: float) -> None:
            await self._report(name, low + (high - low) * min(1.0, part))

        return spaced(report)

    async def _report(self, name: str, progress: float) -> None:
        self.shop.media.room.require()
        async with self.shop.pool.connection() as conn:
            await work.report(conn, self.row.id, self.attempt, name, progress)


MOST_TRIES = 5
"""Work whose worker was ended by force so often is not begun again by itself."""

Doing = Callable[[Going], Awaitable[None]]
_REFUSALS = (MediaFailed, SourceRefused, FetchRefused, ServiceFailed, RecogniserMissing, WorkFailed, DiskFull)
_log = logging.getLogger(__name__)


async def ask_for(
    conn: Connection, kind: WorkKind, recording_id: int | None, details: dict[str, Any] | None = None
) -> int | None:
    """Asks for work and queues it, in the connection's transaction; its id, or None where the same is live."""
    work_id = await work.ask(conn, kind, recording_id, details)
    if work_id is not None:
        await enqueue_work(conn, work_id, kind)
    return work_id


async def do_work(shop: Workshop, work_id: int, doing: dict[WorkKind, Doing]) -> None:
    """Does a piece of work. May be killed at any moment and run again; each kind goes on from where it was."""
    attempt = uuid4()
    async with shop.pool.connection() as conn:
        if not await work.begin(conn, work_id, attempt):
            await work.set_stopped(conn, work_id)
            return
        row = await work.one(conn, work_id)
    try:
        if row.tries > MOST_TRIES:
            raise WorkFailed(gave_up(row.tries - 1))
        await doing[row.kind](Going(shop=shop, row=row, attempt=attempt))
    except AttemptLost:
        return
    except asyncio.CancelledError:
        await asyncio.shield(_hand_back(shop, row, attempt))
        raise
    except StopRequested:
        async with shop.pool.connection() as conn:
            await work.set_stopped(conn, work_id)
    except (*_REFUSALS, OSError) as failed:
        async with shop.pool.connection() as conn:
            await work.fail(conn, work_id, attempt, for_people(failed, shop.media.room, "resume it"))
    except Exception as unforeseen:
        async with shop.pool.connection() as conn:
            await work.fail(conn, work_id, attempt, in_the_log(unforeseen, "resume it"))
        raise
    else:
        async with shop.pool.connection() as conn:
            await work.finish(conn, work_id, attempt)


async def _hand_back(shop: Workshop, row: WorkRow, attempt: UUID) -> None:
    async with shop.pool.connection() as conn:
        if await work.hand_back(conn, row.id, attempt):
            await enqueue_work(conn, row.id, row.kind)


def gave_up(tries: int) -> str:
    """What is said of work that was begun so often and never ended, not even by failing."""
    return (
        f"The worker stopped {tries} times while doing this, so it was not tried again. If the machine ran out of memory, "
        "close other programs, then try again."
    )


def for_people(failed: Exception, room: Room, again: str) -> str:
    """What went wrong, for the person who asked; what a tool or the system said of it goes to the log. `again` is how it
    is tried again."""
    if isinstance(failed, MediaFailed):
        _log.error("%s", failed)
        if not failed.disk_full:
            return f"{failed.cause[:1].upper()}{failed.cause[1:]}. Check the recording, then {again}."
    elif not isinstance(failed, OSError):
        return str(failed) or type(failed).__name__
    elif not is_full(failed):
        _log.error("%s", failed)
        return f"A file could not be used ({failed.strerror or type(failed).__name__}). Check the disk, then {again}."
    return str(room.full())


def in_the_log(unforeseen: Exception, again: str) -> str:
    """What is said of a mistake of ours, where only the log can say more; `again` is how it is tried again."""
    kind = type(unforeseen).__name__
    return f"Something unforeseen went wrong ({kind}). Try again ({again}); what happened is in the worker's log."
