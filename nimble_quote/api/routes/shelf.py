"""The shelf: recordings, and bringing them in."""

import re
import secrets
import time
from datetime import UTC, datetime
from pathlib import Path

from fastapi import APIRouter, Request, Response
from fastapi.responses import FileResponse
from pydantic import BaseModel, Field

from nimble_quote.api.place import House, TheConnection, TheHouse, brief, talk_around
from nimble_quote.api.problems import UploadRefused
from nimble_quote.api.views import QuoteBrief, RecordingView, SentenceView, TranscriptView
from nimble_quote.jobs.intake import Brought, take_in
from nimble_quote.jobs.prepare import PEAKS, PROXY
from nimble_quote.store import quotes, recordings, transcripts
from nimble_quote.store.database import Connection, NotFound
from nimble_quote.store.recordings import RecordingRow

router = APIRouter(prefix="/api")

LARGEST_BYTES = 20 * 1024**3
_UPLOAD = re.compile(r"^[A-Za-z0-9_-]{20,40}$")
_KEPT_S = 24 * 3600
"""An upload that nobody made a recording of is kept a day."""


class Uploaded(BaseModel):
    """A file that has come in, to be named in what is done with it next."""

    upload: str
    size_bytes: int


class BroughtFile(BaseModel):
    """An upload and the name it has at home."""

    upload: str
    name: str = Field(min_length=1, max_length=1000)


class NewRecording(BaseModel):
    """A recording to put on the shelf."""

    title: str = Field(default="", max_length=200)
    recording: BroughtFile
    transcript: BroughtFile


@router.get("/recordings")
async def list_recordings(conn: TheConnection) -> list[RecordingView]:
    """All recordings, newest first."""
    return [await _view(conn, row) for row in await recordings.shelf(conn)]


@router.get("/recordings/{recording_id}")
async def get_recording(recording_id: int, conn: TheConnection) -> RecordingView:
    """One recording with the quotes kept from it."""
    return await _view(conn, await recordings.one(conn, recording_id))


@router.get("/recordings/{recording_id}/transcript")
async def get_transcript(recording_id: int, conn: TheConnection) -> TranscriptView:
    """The words of a recording."""
    rows = await transcripts.whole(conn, recording_id)
    return TranscriptView(
        sentences=[
            SentenceView(
                first_word=row.first_word,
                speaker=row.speaker,
                words=row.words,
                starts_ms=row.starts_ms,
                ends_ms=row.ends_ms,
            )
            for row in rows
        ]
    )


@router.get("/recordings/{recording_id}/media", response_class=FileResponse)
async def get_media(recording_id: int, conn: TheConnection, house: TheHouse) -> FileResponse:
    """The picture and sound to play: the proxy, or the original until there is one."""
    row = await recordings.one(conn, recording_id)
    proxy = house.media.derived(row.content, PROXY)
    return FileResponse(proxy if proxy.exists() else house.media.inside(row.media_path))


@router.get("/recordings/{recording_id}/peaks", response_class=FileResponse)
async def get_peaks(recording_id: int, conn: TheConnection, house: TheHouse) -> FileResponse:
    """The loudness of the sound, a byte for each 10 ms."""
    row = await recordings.one(conn, recording_id)
    peaks = house.media.derived(row.content, PEAKS)
    if not peaks.exists():
        raise NotFound("The waveform is not drawn yet.")
    return FileResponse(peaks, media_type="application/octet-stream")


@router.post("/uploads", openapi_extra={"requestBody": {"content": {"application/octet-stream": {}}}})
async def upload(request: Request, house: TheHouse) -> Uploaded:
    """Takes a file as the body of the request."""
    _sweep(_uploads(house))
    name = secrets.token_urlsafe(20)
    target = _uploads(house) / name
    size = 0
    try:
        with target.open("wb") as out:
            async for block in request.stream():
                size += len(block)
                if size > LARGEST_BYTES:
                    raise UploadRefused(f"The file is over {LARGEST_BYTES // 1024**3} GB.")
                out.write(block)
    except BaseException:
        target.unlink(missing_ok=True)
        raise
    return Uploaded(upload=name, size_bytes=size)


@router.post("/recordings", status_code=201)
async def bring_in(new: NewRecording, conn: TheConnection, house: TheHouse) -> RecordingView:
    """Puts an uploaded recording and its transcript on the shelf."""
    recording, transcript = _brought(house, new.recording), _brought(house, new.transcript)
    recording_id = await take_in(conn, house.media, recording, transcript, new.title)
    transcript.path.unlink(missing_ok=True)
    return await _view(conn, await recordings.one(conn, recording_id))


@router.get("/recordings/{recording_id}/quotes")
async def list_quotes(recording_id: int, conn: TheConnection) -> list[QuoteBrief]:
    """The quotes kept from a recording, in order of time."""
    return await _quotes(conn, await recordings.one(conn, recording_id))


@router.head("/recordings/{recording_id}/media", include_in_schema=False)
async def head_media(recording_id: int, conn: TheConnection) -> Response:
    """Whether there is something to play."""
    await recordings.one(conn, recording_id)
    return Response()


async def _quotes(conn: Connection, recording: RecordingRow) -> list[QuoteBrief]:
    rows = await quotes.of_recording(conn, recording.id)
    return [brief(row, recording, await talk_around(conn, recording, row.document.span)) for row in rows]


async def _view(conn: Connection, row: RecordingRow) -> RecordingView:
    return RecordingView(
        id=row.id, title=row.title, file_name=row.file_name, duration_ms=row.duration_ms, width=row.width,
        height=row.height, rate=row.rate_num / row.rate_den, rate_num=row.rate_num, rate_den=row.rate_den,
        video_codec=row.video_codec, audio_codec=row.audio_codec, size_bytes=row.size_bytes,
        transcript_notes=row.transcript_notes, words=row.words, speakers=row.speakers,
        quotes=await _quotes(conn, row), state=row.state, stage=row.stage, progress=row.progress,
        time_left_s=time_left_s(row.stage_started_at, row.progress) if row.state == "preparing" else None,
        problem=row.problem, created_at=row.created_at,
    )  # fmt: skip


def time_left_s(started_at: datetime | None, progress: float) -> float | None:
    """Seconds to go at the pace so far; None before there is a pace to speak of."""
    if started_at is None or progress < 0.03:
        return None
    spent = (datetime.now(UTC) - started_at).total_seconds()
    return spent * (1 - progress) / progress


def _uploads(house: House) -> Path:
    folder = house.media.folder / "uploads"
    folder.mkdir(exist_ok=True)
    return folder


def _brought(house: House, file: BroughtFile) -> Brought:
    path = _uploads(house) / file.upload
    if not _UPLOAD.match(file.upload) or not path.is_file():
        raise UploadRefused(f"{file.name}: its upload is not here any more. Choose the file again.")
    return Brought(path=path, name=file.name)


def _sweep(folder: Path) -> None:
    for old in folder.iterdir():
        if time.time() - old.stat().st_mtime > _KEPT_S:
            old.unlink(missing_ok=True)
