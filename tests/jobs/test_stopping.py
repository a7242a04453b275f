"""Work that is stopped in order, given up, or left by whoever did it: it is always taken up again, or said to have failed."""

import asyncio
from pathlib import Path
from uuid import uuid4

import pytest

from nimble_quote.core.preflight import FileFacts
from nimble_quote.jobs import export as export_module
from nimble_quote.jobs.export import export_clip
from nimble_quote.jobs.tasks import DOING
from nimble_quote.jobs.working import MOST_TRIES, Going, do_work
from nimble_quote.jobs.workshop import Workshop
from nimble_quote.store import exports, work
from tests.jobs.conftest import an_export, brought_in

pytestmark = pytest.mark.anyio


async def jobs_of(shop: Workshop, key: str, value: int) -> list[tuple[str, str]]:
    """The jobs in the queue for something: their lanes and how they stand."""
    async with shop.pool.connection() as conn:
        cursor = await conn.execute(
            "select queue_name, status::text from procrastinate_jobs where (args->>%s)::bigint = %s order by id",
            [key, value],
        )
        return [(str(lane), str(status)) for lane, status in await cursor.fetchall()]


async def the_work(shop: Workshop, recording_id: int) -> work.WorkRow:
    async with shop.pool.connection() as conn:
        (row,) = await work.of_recording(conn, recording_id)
    return row


async def test_work_that_is_cancelled_with_its_worker_waits_for_another(shop: Workshop, clip: Path, tmp_path: Path):
    begun = asyncio.Event()

    async def endless(going: Going) -> None:
        await going.stage("Listening", 0.4)
        begun.set()
        await asyncio.sleep(60)

    recording_id = await brought_in(shop, clip, tmp_path)
    asked = await the_work(shop, recording_id)
    doing = asyncio.create_task(do_work(shop, asked.id, {**DOING, "prepare": endless}))
    await begun.wait()
    doing.cancel()
    with pytest.raises(asyncio.CancelledError):
        await doing
    row = await the_work(shop, recording_id)
    assert (row.state, row.stage, row.tries) == ("queued", "Waiting", 0)
    assert await jobs_of(shop, "work_id", asked.id) == [("analyse", "todo")] * 2
    await do_work(shop, asked.id, DOING)
    assert (await the_work_of(shop, asked.id)).state == "done"


async def the_work_of(shop: Workshop, work_id: int) -> work.WorkRow:
    async with shop.pool.connection() as conn:
        return await work.one(conn, work_id)


async def test_an_export_that_is_cancelled_with_its_worker_waits_for_another(
    shop: Workshop, clip: Path, tmp_path: Path
):
    export_id = await an_export(shop, await brought_in(shop, clip, tmp_path))
    doing = asyncio.create_task(export_clip(shop, export_id))
    while (await state_of(shop, export_id)).state != "running":  # noqa: ASYNC110 - a row of the database has no event
        await asyncio.sleep(0.02)
    doing.cancel()
    with pytest.raises(asyncio.CancelledError):
        await doing
    assert (await state_of(shop, export_id)).state == "queued"
    assert await jobs_of(shop, "export_id", export_id) == [("render", "todo")]
    assert list((shop.media.folder / "scratch").iterdir()) == []
    await export_clip(shop, export_id)
    assert (await state_of(shop, export_id)).state == "done"


async def state_of(shop: Workshop, export_id: int) -> exports.ExportRow:
    async with shop.pool.connection() as conn:
        return await exports.one(conn, export_id)


async def test_an_export_that_was_given_up_is_not_taken_up_again(shop: Workshop, clip: Path, tmp_path: Path):
    export_id = await an_export(shop, await brought_in(shop, clip, tmp_path))
    attempt = uuid4()
    async with shop.pool.connection() as conn:
        await exports.begin(conn, export_id, attempt)
        await exports.request_cancel(conn, export_id)
        assert not await exports.hand_back(conn, export_id, attempt)
    assert (await state_of(shop, export_id)).state == "cancelled"


async def test_nothing_stands_as_going_on_without_a_job_to_do_it(shop: Workshop, clip: Path, tmp_path: Path):
    recording_id = await brought_in(shop, clip, tmp_path)
    export_id = await an_export(shop, recording_id)
    asked = await the_work(shop, recording_id)
    async with shop.pool.connection() as conn:
        await work.begin(conn, asked.id, uuid4())
        await exports.begin(conn, export_id, uuid4())
        # As the queue leaves the job of a worker that was told to stop.
        await conn.execute("update procrastinate_jobs set status = 'aborted'")
        assert await work.unattended(conn) == [(asked.id, "prepare")]
        assert await exports.unattended(conn) == [export_id]
        await conn.execute("update procrastinate_jobs set status = 'todo'")
        assert await work.unattended(conn) == []


async def test_what_ends_its_worker_every_time_is_given_up_in_words(shop: Workshop, clip: Path, tmp_path: Path):
    recording_id = await brought_in(shop, clip, tmp_path)
    export_id = await an_export(shop, recording_id)
    asked = await the_work(shop, recording_id)
    async with shop.pool.connection() as conn:
        for _ in range(MOST_TRIES):
            await work.begin(conn, asked.id, uuid4())
            await exports.begin(conn, export_id, uuid4())
    await do_work(shop, asked.id, DOING)
    await export_clip(shop, export_id)
    failed, clip_failed = await the_work(shop, recording_id), await state_of(shop, export_id)
    assert (failed.state, clip_failed.state) == ("failed", "failed")
    assert failed.problem == clip_failed.problem
    assert str(failed.problem).startswith("The worker stopped 5 times while doing this, so it was not tried again.")
    async with shop.pool.connection() as conn:
        assert await work.resume(conn, asked.id)
    await do_work(shop, asked.id, DOING)
    assert (await the_work_of(shop, asked.id)).state == "done", "asked for again, it is tried again"


async def test_an_attempt_that_was_taken_for_dead_leaves_the_clip_of_the_other(
    shop: Workshop, clip: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
):
    export_id = await an_export(shop, await brought_in(shop, clip, tmp_path))
    measured = export_module.measure_clip
    first: list[bool] = []

    async def measured_late(path: Path) -> FileFacts:
        facts = await measured(path)
        if not first:
            # Frozen here, it is taken for dead; another makes the clip. Then it wakes, past its last report.
            first.append(True)
            await export_clip(shop, export_id)
            monkeypatch.setattr(exports, "report", nothing)
        return facts

    async def nothing(*_: object) -> None:
        pass

    monkeypatch.setattr(export_module, "measure_clip", measured_late)
    await export_clip(shop, export_id)
    done = await state_of(shop, export_id)
    assert done.state == "done"
    assert [shop.media.relative(path) for path in shop.media.clips(export_id).iterdir()] == [done.file_path]
