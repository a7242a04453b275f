"""What the tests of jobs share: a worker's things, and something for it to do."""

from collections.abc import AsyncIterator
from pathlib import Path

import pytest

from nimble_quote.core.assembly import assemble
from nimble_quote.core.edits import new_quote
from nimble_quote.core.talk import Talk
from nimble_quote.core.timebase import Span
from nimble_quote.jobs.export import ask_for_export
from nimble_quote.jobs.intake import Brought, intake_of, take_in
from nimble_quote.jobs.state import WorkerState
from nimble_quote.jobs.tasks import DOING
from nimble_quote.jobs.working import do_work
from nimble_quote.media.files import MediaRoot
from nimble_quote.settings import Settings
from nimble_quote.store import exports, quotes, recordings, transcripts
from nimble_quote.store.cluster import Cluster
from nimble_quote.store.database import open_pool
from tests.conftest import VTT, migrated_database
from tests.shipped import DESTINATIONS
from tests.talks import context_of


@pytest.fixture
async def worker(cluster: Cluster, tmp_path: Path) -> AsyncIterator[WorkerState]:
    url = migrated_database(cluster, "job_tests")
    media = MediaRoot(tmp_path / "media")
    media.prepare()
    async with open_pool(url) as pool:
        worker = WorkerState(pool=pool, media=media, settings=Settings(inbox=tmp_path / "inbox"))
        yield worker
        worker.close()


async def brought_in(worker: WorkerState, clip: Path, tmp_path: Path) -> int:
    copy, words = tmp_path / "my_long-talk.mp4", tmp_path / "talk.vtt"
    copy.write_bytes(clip.read_bytes())
    words.write_bytes(VTT)
    return await take_in(
        intake_of(worker), Brought(path=copy, name=copy.name), Brought(path=words, name="talk.vtt"), ""
    )


async def an_export(worker: WorkerState, recording_id: int) -> int:
    async with worker.pool.connection() as conn:
        recording = await recordings.one(conn, recording_id)
        words = transcripts.words_of(
            await transcripts.sentences_in(conn, recording_id, Span(start_ms=0, end_ms=10_000))
        )
        talk = Talk(words=words, duration_ms=recording.duration_ms)
        document = new_quote(context_of(talk), 0, 9)
        quote_id = await quotes.keep(conn, recording_id, document)
        assembly = assemble(document, context_of(talk), recording.facts, DESTINATIONS["story-15"])
        export_id = await ask_for_export(conn, exports.NewExport(quote_id=quote_id, revision=1, assembly=assembly))
    assert export_id is not None
    return export_id


def clips_of(worker: WorkerState, export_id: int) -> list[Path]:
    """The files of the clips of an export, without the stills beside them."""
    return list((worker.media.folder / "exports" / str(export_id)).glob("*.mp4"))


async def the_export(worker: WorkerState, export_id: int) -> exports.ExportRow:
    async with worker.pool.connection() as conn:
        return await exports.one(conn, export_id)


async def make_clip(worker: WorkerState, export_id: int) -> exports.ExportRow:
    """Makes the clip of an export, as a worker does; the export afterwards."""
    await do_work(worker, (await the_export(worker, export_id)).work_id, DOING)
    return await the_export(worker, export_id)
