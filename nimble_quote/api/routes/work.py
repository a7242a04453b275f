"""Long work: how far it is, stopping it, going on with it, and asking for a transcript or its alignment."""

from typing import Literal

from fastapi import APIRouter
from pydantic import BaseModel

from nimble_quote.api.numbers import RowId
from nimble_quote.api.recordings import recording_view
from nimble_quote.api.state import TheConnection, TheServer
from nimble_quote.api.views.recordings import RecordingView, WorkView
from nimble_quote.api.work import work_view
from nimble_quote.jobs.working import WorkFailed, ask_for, resume
from nimble_quote.store import recordings, work
from nimble_quote.store.work import on_recording

router = APIRouter(prefix="/api")


class TranscribeBy(BaseModel):
    """Who is to write the transcript."""

    by: Literal["recogniser", "service"]


@router.get("/work")
async def list_work(conn: TheConnection) -> list[WorkView]:
    """What waits, goes on, was stopped or failed, on recordings or to get one."""
    return [work_view(row) for row in await work.unfinished(conn)]


@router.get("/work/{work_id}")
async def get_work(work_id: RowId, conn: TheConnection) -> WorkView:
    """How far a piece of work is."""
    return work_view(await work.one(conn, work_id))


@router.post("/work/{work_id}/stop")
async def stop_work(work_id: RowId, conn: TheConnection) -> WorkView:
    """Asks for work to be stopped; it can be gone on with."""
    await work.one(conn, work_id)
    await work.request_stop(conn, work_id)
    return work_view(await work.one(conn, work_id))


@router.post("/work/{work_id}/resume")
async def resume_work(work_id: RowId, conn: TheConnection) -> WorkView:
    """Goes on with work that was stopped or failed, from where it was."""
    return work_view(await resume(conn, work_id))


@router.post("/recordings/{recording_id}/transcribe")
async def transcribe(
    recording_id: RowId, wanted: TranscribeBy, conn: TheConnection, server: TheServer
) -> RecordingView:
    """Asks for a transcript to be made."""
    row = await recordings.one(conn, recording_id)
    if not row.sound_tracks:
        raise WorkFailed("There is no sound in this recording, so nothing to write down.")
    if wanted.by == "service" and not server.settings.transcription_url:
        raise WorkFailed("No transcription service is set up. Use the recogniser on this machine.")
    await ask_for(conn, "transcribe", on_recording(recording_id), {"by": wanted.by})
    return await recording_view(conn, await recordings.one(conn, recording_id))


@router.post("/recordings/{recording_id}/align")
async def align(recording_id: RowId, conn: TheConnection) -> RecordingView:
    """Asks for the words to be aligned to the sound."""
    await recordings.one(conn, recording_id)
    await ask_for(conn, "align", on_recording(recording_id))
    return await recording_view(conn, await recordings.one(conn, recording_id))
