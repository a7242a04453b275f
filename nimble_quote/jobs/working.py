"""Doing a piece of long work: taken on for an attempt, reported, ended one way or another."""

from collections.abc import Awaitable, Callable
from dataclasses import dataclass
from typing import Any
from uuid import UUID, uuid4

from nimble_quote.jobs.queue import WORK, enqueue
from nimble_quote.jobs.workshop import Workshop, spaced
from nimble_quote.media.ffmpeg import MediaFailed, Progress
from nimble_quote.media.probe import SourceRefused
from nimble_quote.media.recogniser import RecogniserMissing
from nimble_quote.services.fetching import FetchRefused
from nimble_quote.services.transcription import ServiceFailed
from nimble_quote.store import work
from nimble_quote.store.database import Connection
from nimble_quote.store.work import AttemptLost, StopRequested, WorkKind, WorkRow


class WorkFailed(RuntimeError):
    """Work that can't be done; the message says why and what to do."""


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
        async with self.shop.pool.connection() as conn:
            await work.report(conn, self.row.id, self.attempt, name, progress)


Doing = Callable[[Going], Awaitable[None]]
_REFUSALS = (MediaFailed, SourceRefused, FetchRefused, ServiceFailed, RecogniserMissing, WorkFailed)


async def ask_for(
    conn: Connection, kind: WorkKind, recording_id: int | None, details: dict[str, Any] | None = None
) -> int | None:
    """Asks for work and queues it, in the connection's transaction; its id, or None where the same is live."""
    work_id = await work.ask(conn, kind, recording_id, details)
    if work_id is not None:
        await enqueue(conn, WORK, work_id=work_id)
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
        await doing[row.kind](Going(shop=shop, row=row, attempt=attempt))
    except AttemptLost:
        return
    except StopRequested:
        async with shop.pool.connection() as conn:
            await work.set_stopped(conn, work_id)
    except (*_REFUSALS, OSError) as failed:
        async with shop.pool.connection() as conn:
            await work.fail(conn, work_id, attempt, for_people(failed))
    except Exception as unforeseen:
        async with shop.pool.connection() as conn:
            await work.fail(conn, work_id, attempt, in_the_log(unforeseen, "go on with it"))
        raise
    else:
        async with shop.pool.connection() as conn:
            await work.finish(conn, work_id, attempt)


def for_people(failed: Exception) -> str:
    """What went wrong, for the person who asked."""
    if isinstance(failed, OSError) and failed.strerror:
        return f"{failed.strerror}. Make room on the disk or mend it, then go on."
    return str(failed) or type(failed).__name__


def in_the_log(unforeseen: Exception, again: str) -> str:
    """What is said of a mistake of ours, where only the log can say more; `again` is how it is tried again."""
    kind = type(unforeseen).__name__
    return f"Something unforeseen went wrong ({kind}). Try again ({again}); what happened is in the worker's log."
