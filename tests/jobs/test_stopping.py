"""Work that is stopped in order, given up, or left by whoever did it: it is always taken up again, or said to have failed."""

import asyncio
from collections.abc import Coroutine
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest

from nimble_quote.jobs import export as export_module
from nimble_quote.jobs.state import WorkerState
from nimble_quote.jobs.tasks import DOING
from nimble_quote.jobs.working import MOST_TRIES, Attempt, do_work, resume
from nimble_quote.store import work
from tests.jobs.conftest import an_export, brought_in, clips_of, make_clip, the_export

pytestmark = pytest.mark.anyio


async def jobs_of(worker: WorkerState, work_id: int) -> list[tuple[str, str]]:
    """The jobs in the queue for a piece of work: their lanes and how they stand."""
    async with worker.pool.connection() as conn:
        cursor = await conn.execute(
            "select queue_name, status::text from procrastinate_jobs where (args->>'work_id')::bigint = %s order by id",
            [work_id],
        )
        return [(str(lane), str(status)) for lane, status in await cursor.fetchall()]


async def the_work(worker: WorkerState, recording_id: int) -> work.WorkRow:
    async with worker.pool.connection() as conn:
        (row,) = await work.of_recording(conn, recording_id)
    return row


async def test_work_that_is_cancelled_with_its_worker_waits_for_another(
    worker: WorkerState, clip: Path, tmp_path: Path
):
    begun = asyncio.Event()

    async def endless(attempt: Attempt) -> None:
        await attempt.stage("Listening", 0.4)
        begun.set()
        await asyncio.sleep(60)

    recording_id = await brought_in(worker, clip, tmp_path)
    asked = await the_work(worker, recording_id)
    doing = asyncio.create_task(do_work(worker, asked.id, {**DOING, "prepare": endless}))
    await begun.wait()
    doing.cancel()
    with pytest.raises(asyncio.CancelledError):
        await doing
    row = await the_work(worker, recording_id)
    assert (row.state, row.stage, row.tries) == ("queued", "Waiting", 0)
    assert await jobs_of(worker, asked.id) == [("analyse", "todo")] * 2
    await do_work(worker, asked.id, DOING)
    assert (await the_work_of(worker, asked.id)).state == "done"


async def the_work_of(worker: WorkerState, work_id: int) -> work.WorkRow:
    async with worker.pool.connection() as conn:
        return await work.one(conn, work_id)


async def test_an_export_that_is_cancelled_with_its_worker_waits_for_another(
    worker: WorkerState, clip: Path, tmp_path: Path
):
    export_id = await an_export(worker, await brought_in(worker, clip, tmp_path))
    doing = asyncio.create_task(make_clip(worker, export_id))
    while (await the_export(worker, export_id)).state != "running":  # noqa: ASYNC110 - a row of the database has no event
        await asyncio.sleep(0.02)
    doing.cancel()
    with pytest.raises(asyncio.CancelledError):
        await doing
    waiting = await the_export(worker, export_id)
    assert waiting.state == "queued"
    assert await jobs_of(worker, waiting.work_id) == [("render", "todo")] * 2
    assert list((worker.media.folder / "scratch").iterdir()) == []
    assert (await make_clip(worker, export_id)).state == "done"


async def test_an_export_that_was_stopped_is_taken_up_again_only_when_asked_for(
    worker: WorkerState, clip: Path, tmp_path: Path
):
    export_id = await an_export(worker, await brought_in(worker, clip, tmp_path))
    token, work_id = uuid4(), (await the_export(worker, export_id)).work_id
    async with worker.pool.connection() as conn:
        await work.begin(conn, work_id, token)
        await work.request_stop(conn, work_id)
        assert not await work.hand_back(conn, work_id, token)
    assert (await make_clip(worker, export_id)).state == "stopped"
    async with worker.pool.connection() as conn:
        await resume(conn, work_id)
    assert (await make_clip(worker, export_id)).state == "done"


async def test_nothing_stands_as_going_on_without_a_job_to_do_it(worker: WorkerState, clip: Path, tmp_path: Path):
    recording_id = await brought_in(worker, clip, tmp_path)
    export_id = await an_export(worker, recording_id)
    asked, making = await the_work(worker, recording_id), (await the_export(worker, export_id)).work_id
    async with worker.pool.connection() as conn:
        await work.begin(conn, asked.id, uuid4())
        await work.begin(conn, making, uuid4())
        # As the queue leaves the job of a worker that was told to stop.
        await conn.execute("update procrastinate_jobs set status = 'aborted'")
        assert [row.id for row in await work.unattended(conn)] == [asked.id, making]
        await conn.execute("update procrastinate_jobs set status = 'todo'")
        assert await work.unattended(conn) == []


async def test_what_ends_its_worker_every_time_is_given_up_in_words(worker: WorkerState, clip: Path, tmp_path: Path):
    recording_id = await brought_in(worker, clip, tmp_path)
    asked = await the_work(worker, recording_id)
    async with worker.pool.connection() as conn:
        for _ in range(MOST_TRIES):
            await work.begin(conn, asked.id, uuid4())
    await do_work(worker, asked.id, DOING)
    failed = await the_work(worker, recording_id)
    assert failed.state == "failed"
    assert str(failed.problem).startswith("The worker stopped 5 times while doing this, so it was not tried again.")
    async with worker.pool.connection() as conn:
        assert (await resume(conn, asked.id)).state == "queued"
    await do_work(worker, asked.id, DOING)
    assert (await the_work_of(worker, asked.id)).state == "done", "asked for again, it is tried again"


async def test_an_attempt_that_was_taken_for_dead_leaves_the_clip_of_the_other(
    worker: WorkerState, clip: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
):
    export_id = await an_export(worker, await brought_in(worker, clip, tmp_path))
    checked = export_module.together
    first: list[bool] = []

    async def checked_late(*checks: Coroutine[Any, Any, Any]) -> tuple[Any, ...]:
        found = await checked(*checks)
        if not first:
            # Frozen here, it is taken for dead; another makes the clip. Then it wakes, past its last report.
            first.append(True)
            await make_clip(worker, export_id)
            monkeypatch.setattr(work, "report", nothing)
        return found

    async def nothing(*_: object) -> None:
        pass

    monkeypatch.setattr(export_module, "together", checked_late)
    done = await make_clip(worker, export_id)
    assert done.state == "done"
    assert first
    assert clips_of(worker, export_id) == [worker.media.folder / str(done.file_path)]
