"""What was removed for good leaves nothing behind: no rows, no originals, no clips."""

import os
import time
from pathlib import Path

import pytest

from nimble_quote.jobs.housekeeping import tidy
from nimble_quote.jobs.state import WorkerState
from nimble_quote.store import exports, quotes, recordings
from nimble_quote.store.database import NotFound
from tests.jobs.conftest import an_export, brought_in, make_clip

pytestmark = pytest.mark.anyio

LONG_AGO = "now() - interval '25 hours'"


async def files(worker: WorkerState) -> set[str]:
    return {path.relative_to(worker.media.folder).parts[0] for path in worker.media.folder.rglob("*") if path.is_file()}


async def removed(worker: WorkerState, table: str, row_id: int, when: str) -> None:
    async with worker.pool.connection() as conn:
        await conn.execute(f"update {table} set removed_at = {when} where id = {row_id}")  # type: ignore[arg-type]


async def test_clips_go_with_their_recording_and_only_when_it_is_gone_for_good(
    worker: WorkerState, clip: Path, tmp_path: Path
):
    recording_id = await brought_in(worker, clip, tmp_path)
    export_id = await an_export(worker, recording_id)
    await make_clip(worker, export_id)
    assert len(list(worker.media.clips(export_id).iterdir())) == 1
    await removed(worker, "recording", recording_id, "now()")
    await tidy(worker)
    assert len(list(worker.media.clips(export_id).iterdir())) == 1, "it can still be put back"
    await removed(worker, "recording", recording_id, LONG_AGO)
    await tidy(worker)
    assert await files(worker) == set()
    assert list((worker.media.folder / "exports").iterdir()) == []


async def test_a_removed_quote_goes_after_a_day_with_its_clips_and_no_others(
    worker: WorkerState, clip: Path, tmp_path: Path
):
    recording_id = await brought_in(worker, clip, tmp_path)
    gone, kept = await an_export(worker, recording_id), await an_export(worker, recording_id)
    for export_id in (gone, kept):
        await make_clip(worker, export_id)
    async with worker.pool.connection() as conn:
        quote_id = (await exports.one(conn, gone)).quote_id
    await removed(worker, "quote", quote_id, "now() - interval '20 hours'")
    await tidy(worker)
    async with worker.pool.connection() as conn:
        assert (await quotes.one(conn, quote_id)).removed
    await removed(worker, "quote", quote_id, LONG_AGO)
    await tidy(worker)
    async with worker.pool.connection() as conn:
        with pytest.raises(NotFound):
            await quotes.one(conn, quote_id)
        assert (await recordings.one(conn, recording_id)).quotes == 1
    assert not worker.media.clips(gone).exists()
    assert worker.media.clips(kept).exists()


async def test_what_is_no_clip_of_ours_is_left_alone(worker: WorkerState):
    other = worker.media.folder / "exports" / "from the camera"
    other.mkdir()
    stray = worker.media.folder / "exports" / "123"
    stray.mkdir()
    await tidy(worker)
    assert (other.exists(), stray.exists()) == (True, False)


async def test_uploads_that_nobody_went_on_with_go_after_a_day(worker: WorkerState):
    folder = worker.media.folder / "uploads"
    folder.mkdir()
    for name, age in (("old", 25 * 3600), ("new", 60)):
        (folder / name).touch()
        os.utime(folder / name, (time.time() - age,) * 2)
    await tidy(worker)
    assert [path.name for path in folder.iterdir()] == ["new"]
