"""The outbox: exports, their files and sidecars, and news of what changes."""

from collections.abc import AsyncIterator
from fractions import Fraction
from typing import Literal
from urllib.parse import quote

from fastapi import APIRouter, Response
from fastapi.responses import FileResponse
from fastapi.sse import EventSourceResponse, ServerSentEvent

from nimble_quote.api.numbers import RowId
from nimble_quote.api.state import TheConnection, TheServer
from nimble_quote.api.views.outbox import ExportedFor, ExportView
from nimble_quote.api.work import time_left_s
from nimble_quote.core.captions.cues import WrittenCue
from nimble_quote.core.credits import Credit
from nimble_quote.core.finding import Finding
from nimble_quote.core.preflight import FileFacts
from nimble_quote.core.verdicts import Overruled
from nimble_quote.formats.sidecar import MEDIA_TYPES, WRITERS, WrittenCaptions
from nimble_quote.media.files import named_by
from nimble_quote.media.keys import cover_key
from nimble_quote.store import exports
from nimble_quote.store.database import NotFound
from nimble_quote.store.exports import ExportRow

router = APIRouter(prefix="/api")
CoverKind = Literal["png", "jpg"]
COVER_TYPES: dict[CoverKind, str] = {"png": "image/png", "jpg": "image/jpeg"}
CaptionKind = Literal["srt", "vtt", "ttml", "ass", "json", "txt"]


@router.get("/exports")
async def list_exports(conn: TheConnection) -> list[ExportView]:
    """The newest exports, newest first."""
    return [export_view(row) for row in await exports.newest(conn)]


@router.get("/exports/{export_id}/clip", response_class=FileResponse)
async def get_clip(export_id: RowId, conn: TheConnection, server: TheServer, download: bool = False) -> FileResponse:
    """A finished clip, to play or to save under a name made of talk, quote and shape."""
    row = await exports.one(conn, export_id)
    if row.file_path is None:
        raise NotFound("This clip is not made yet.")
    path = server.media.store.local(row.file_path)
    if not path.exists():
        raise NotFound("The file of this clip is gone from the disk. Export it again.")
    return FileResponse(
        path, media_type="video/mp4", filename=_name(row, ".mp4") if download else None, content_disposition_type="attachment"
    )  # fmt: skip


@router.get(
    "/exports/{export_id}/captions.{kind}",
    response_class=Response,
    responses={200: {"content": {one: {} for one in MEDIA_TYPES.values()}}},
)
async def get_captions(export_id: RowId, kind: CaptionKind, conn: TheConnection) -> Response:
    """The captions of a clip as a sidecar file."""
    row = await exports.one(conn, export_id)
    if row.file_path is None:
        raise NotFound("This clip is not made yet.")
    cues = [WrittenCue.model_validate(cue) for cue in row.cues]
    captions = WrittenCaptions(cues=cues, rate=Fraction(row.rate_num, row.rate_den), size=(row.width, row.height))
    return Response(
        WRITERS[kind](captions).encode(),
        media_type=MEDIA_TYPES[kind],
        headers={"content-disposition": f"attachment; filename*=utf-8''{quote(_name(row, f'.{kind}'))}"},
    )


@router.get("/exports/{export_id}/cover.{kind}", response_class=FileResponse)
async def get_cover(export_id: RowId, kind: CoverKind, conn: TheConnection, server: TheServer) -> FileResponse:
    """The cover of a clip as a picture of its own."""
    row = await exports.one(conn, export_id)
    if row.file_path is None or not row.has_cover:
        raise NotFound("This clip has no cover.")
    path = server.media.store.local(cover_key(row.file_path, kind))
    if not path.exists():
        raise NotFound("The cover of this clip is gone from the disk. Export it again.")
    name = _name(row, f".{kind}")
    return FileResponse(path, media_type=COVER_TYPES[kind], filename=name, content_disposition_type="attachment")


@router.get("/changes", response_class=EventSourceResponse)
async def get_changes(server: TheServer) -> AsyncIterator[ServerSentEvent]:
    """News of changed recordings and exports, as they change."""
    async for news in server.changes.listen():
        yield ServerSentEvent(data=news)


def export_view(row: ExportRow) -> ExportView:
    """An export for the outbox."""
    destination = ExportedFor(
        id=row.destination,
        name=row.destination_name,
        width=row.width,
        height=row.height,
        limit_ms=row.limit_ms,
        largest_mb=row.largest_mb,
    )
    return ExportView(
        id=row.id, quote_id=row.quote_id, quote_title=row.quote_title, recording_id=row.recording_id,
        recording_title=row.recording_title, destination=destination, work_id=row.work_id, state=row.state,
        progress=row.progress, time_left_s=time_left_s(row.started_at, row.progress, row.progressed_from) if row.state == "running" else None,
        planned_ms=row.planned_ms, planned_frames=row.planned_frames,
        facts=FileFacts.model_validate(row.facts) if row.facts else None,
        findings=[Finding.model_validate(one) for one in row.findings or []],
        file_name=_name(row, ".mp4"), has_cover=row.has_cover, credits=[Credit.model_validate(one) for one in row.credits],
        overruled=[Overruled.model_validate(one) for one in row.overruled], problem=row.problem, created_at=row.created_at,
    )  # fmt: skip


def _name(row: ExportRow, ending: str) -> str:
    return named_by(
        row.file_name, ending, recording=row.recording_title, quote=row.quote_title, destination=row.destination_name
    )
