"""What was removed for good leaves nothing behind: no rows, no originals, no clips."""

import os
import time
from pathlib import Path
from uuid import uuid4

import pytest

from nimble_quote.jobs import housekeeping
from nimble_quote.jobs.housekeeping import adopt, tidy
from nimble_quote.jobs.state import WorkerState
from nimble_quote.jobs.tasks import DOING
from nimble_quote.jobs.working import ask_for, do_work
from nimble_quote.media.keys import PROXY, SPEECH
from nimble_quote.store import exports, media_files, quotes, recordings, work
from nimble_quote.store.database import NotFound
from nimble_quote.store.work import on_recording
from tests.jobs.conftest import an_export, brought_in, clips_of, make_clip

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
    assert len(clips_of(worker, export_id)) == 1
    await removed(worker, "recording", recording_id, "now()")
    await tidy(worker)
    assert len(clips_of(worker, export_id)) == 1, "it can still be put back"
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
    assert (len(clips_of(worker, gone)), len(clips_of(worker, kept))) == (0, 1)


async def test_files_without_a_row_go_after_a_day_and_what_is_not_ours_stays(
    worker: WorkerState, clip: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
):
    export_id = await an_export(worker, await brought_in(worker, clip, tmp_path))
    await make_clip(worker, export_id)
    lost = worker.media.folder / "exports" / str(export_id) / f"{uuid4()}.mp4"
    lost.write_bytes(b"of an attempt that was lost at the very end")
    other = worker.media.folder / "exports" / "from the camera.mp4"
    other.touch()
    await tidy(worker)
    assert lost.exists(), "it may get its row yet"
    monkeypatch.setattr(housekeeping, "KEPT_S", -60)
    await tidy(worker)
    assert (lost.exists(), other.exists(), len(clips_of(worker, export_id))) == (False, True, 1)
    assert await files(worker) == {"originals", "exports"}


async def test_what_was_made_from_the_sound_is_not_there_from_the_moment_another_is_chosen(
    worker: WorkerState, clip: Path, tmp_path: Path
):
    recording_id = await brought_in(worker, clip, tmp_path)
    async with worker.pool.connection() as conn:
        (asked,) = await work.of_recording(conn, recording_id)
    await do_work(worker, asked.id, DOING)
    async with worker.pool.connection() as conn:
        row = await recordings.one(conn, recording_id)
        assert {SPEECH, PROXY} <= set(row.made)
        await media_files.let_go(conn, [row.derived(name) for name in row.made])
        row = await recordings.one(conn, recording_id)
        assert (row.made, row.listened, row.plays) == ([], False, row.media_path)
        assert await work.resume(conn, asked.id) is False
        again = await ask_for(conn, "prepare", on_recording(recording_id))
    await do_work(worker, again.id, DOING)
    await tidy(worker)
    async with worker.pool.connection() as conn:
        row = await recordings.one(conn, recording_id)
    assert all(worker.media.store.stat(row.derived(name)) for name in (SPEECH, PROXY)), "what was made since is kept"


async def test_what_an_earlier_version_made_gets_its_rows(worker: WorkerState, clip: Path, tmp_path: Path):
    recording_id = await brought_in(worker, clip, tmp_path)
    async with worker.pool.connection() as conn:
        row = await recordings.one(conn, recording_id)
    for name in (PROXY, "looking/00000.json"):
        path = worker.media.folder / row.derived(name)
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(b"made before")
    for _ in range(2):
        await adopt(worker)
    async with worker.pool.connection() as conn:
        assert (await recordings.one(conn, recording_id)).made == ["proxy.mp4"]
    assert (worker.media.working(row.content, "looking") / "00000.json").exists(), "it is gone on with"


async def test_content_brought_in_again_after_its_purge_keeps_its_file(worker: WorkerState, clip: Path, tmp_path: Path):
    recording_id = await brought_in(worker, clip, tmp_path)
    await removed(worker, "recording", recording_id, LONG_AGO)
    async with worker.pool.connection() as conn:
        await recordings.purge(conn)
    # Between the purge of the rows and the freeing of the files.
    again = await brought_in(worker, clip, tmp_path)
    await tidy(worker)
    async with worker.pool.connection() as conn:
        row = await recordings.one(conn, again)
    assert worker.media.store.read(row.media_path) == clip.read_bytes()


async def test_uploads_that_nobody_went_on_with_go_after_a_day(worker: WorkerState):
    folder = worker.media.folder / "uploads"
    for name, age in (("old", 25 * 3600), ("new", 60)):
        (folder / name).touch()
        os.utime(folder / name, (time.time() - age,) * 2)
    await tidy(worker)
    assert [path.name for path in folder.iterdir()] == ["new"]
