"""The outbox: exports, their files and sidecars, and news of what changes."""

from collections.abc import AsyncIterator, Sequence
from fractions import Fraction
from typing import Annotated, Literal
from urllib.parse import quote

from fastapi import APIRouter, Query, Response
from fastapi.responses import FileResponse, StreamingResponse
from fastapi.sse import EventSourceResponse, ServerSentEvent
from pydantic import BaseModel, Field

from nimble_quote.api.checking import Held
from nimble_quote.api.exporting import ExportRequest, ask_for_all
from nimble_quote.api.numbers import RowId
from nimble_quote.api.posting import posting_of
from nimble_quote.api.state import ServerState, TheConnection, TheServer
from nimble_quote.api.views.outbox import ExportedFor, ExportView, OutboxView
from nimble_quote.api.work import time_left_s
from nimble_quote.core.captions.cues import WrittenCue
from nimble_quote.core.credits import Credit
from nimble_quote.core.finding import Finding
from nimble_quote.core.making import Making
from nimble_quote.core.posting.counting import written_post
from nimble_quote.core.preflight import FileFacts
from nimble_quote.core.verdicts import Overruled
from nimble_quote.formats.archive import Packed, zip_of
from nimble_quote.formats.sidecar import MEDIA_TYPES, WRITERS, WrittenCaptions
from nimble_quote.jobs.queue import pause, put_in_order
from nimble_quote.media.files import named_by
from nimble_quote.media.keys import clip_still_key, cover_key
from nimble_quote.media.render.coders import codecs_there
from nimble_quote.store import exports, quotes, work
from nimble_quote.store.database import Connection, NotFound
from nimble_quote.store.exports import ExportRow

router = APIRouter(prefix="/api")
CoverKind = Literal["png", "jpg"]
COVER_TYPES: dict[CoverKind, str] = {"png": "image/png", "jpg": "image/jpeg"}
CLIP_TYPES = {".mp4": "video/mp4", ".m4a": "audio/mp4", ".mp3": "audio/mpeg", ".png": "image/png"}
CaptionKind = Literal["srt", "vtt", "ttml", "ass", "json", "txt"]


class Order(BaseModel):
    """Exports that wait, in the order in which they are to be made."""

    exports: list[RowId] = Field(max_length=500)


class Pausing(BaseModel):
    """Whether exports wait until they are let go on."""

    paused: bool


class Clearing(BaseModel):
    """Which files are of no use any more: those made so many days ago; `but_newest` keeps the newest of each version."""

    older_than_days: int = Field(ge=0, le=3650)
    but_newest: bool = True


class Several(BaseModel):
    """Quotes whose versions are all to be made."""

    quotes: list[RowId] = Field(min_length=1, max_length=100)


class HeldQuote(BaseModel):
    """A quote whose export is held, and why."""

    quote_id: int
    why: str


class SeveralView(BaseModel):
    """What was asked for of several quotes, and which of them are held."""

    exports: list[ExportView]
    held: list[HeldQuote]


@router.get("/exports")
async def list_exports(conn: TheConnection) -> list[ExportView]:
    """The newest exports, newest first."""
    rows = await exports.newest(conn)
    pace = await exports.pace(conn)
    line = sorted((row for row in rows if row.state == "queued"), key=lambda row: (-row.priority, row.work_id))
    ahead = sum(_needs_s(row, pace) * (1 - row.progress) for row in rows if row.state == "running")
    left: dict[int, float] = {}
    for row in line:
        ahead += _needs_s(row, pace)
        left[row.id] = ahead
    waits = {row.id: place for place, row in enumerate(line)}
    return [export_view(row, waits.get(row.id), left.get(row.id) if pace else None, pace) for row in rows]


@router.post("/exports", status_code=201)
async def export_several(several: Several, server: TheServer) -> SeveralView:
    """Queues all versions of several quotes to be made. Those that would spoil a post are held, and told."""
    asked: list[int] = []
    held: list[HeldQuote] = []
    for quote_id in several.quotes:
        try:
            asked += await ask_for_all(server, quote_id, ExportRequest())
        except Held as stopped:
            held.append(HeldQuote(quote_id=quote_id, why=str(stopped)))
    async with server.connection() as conn:
        return SeveralView(exports=[export_view(await exports.one(conn, one)) for one in asked], held=held)


@router.put("/exports/order")
async def order_exports(order: Order, conn: TheConnection) -> None:
    """Has exports that wait made in this order."""
    await put_in_order(conn, [(await exports.one(conn, one)).work_id for one in order.exports])


@router.get("/outbox")
async def get_outbox(conn: TheConnection, server: TheServer) -> OutboxView:
    """How exports stand together."""
    files, taken = await exports.stored(conn)
    return OutboxView(
        paused=await exports.paused(conn),
        files=files,
        bytes=taken,
        free_bytes=server.media.room.free_bytes,
        codecs=await codecs_there(),
    )


@router.put("/outbox/paused")
async def pause_exports(wanted: Pausing, conn: TheConnection) -> None:
    """Has no export begun, or lets those that wait go on; what is being made is made to its end."""
    await pause(conn, wanted.paused)


@router.post("/outbox/clear")
async def clear_outbox(rule: Clearing, conn: TheConnection) -> int:
    """Removes the files that a rule names; how many."""
    return await exports.clear(conn, rule.older_than_days, but_newest=rule.but_newest)


@router.post("/exports/{export_id}/remove")
async def remove_export(export_id: RowId, conn: TheConnection) -> None:
    """Removes an export and its files; one that waits or is being made is cancelled."""
    row = await exports.one(conn, export_id)
    await work.request_stop(conn, row.work_id)
    await exports.remove(conn, export_id)


@router.get("/exports/{export_id}/changes")
async def get_changes_since(export_id: RowId, conn: TheConnection) -> list[str]:
    """What was changed in the quote since an export was made of it, oldest first."""
    row = await exports.one(conn, export_id)
    made = await quotes.made_since(conn, row.quote_id, row.revision)
    return ["Taken back to before this was exported"] if made is None else [said for said, _ in made]


@router.get("/exports.zip", response_class=StreamingResponse)
async def get_zip(
    ids: Annotated[list[RowId], Query(min_length=1, max_length=200)], conn: TheConnection, server: TheServer
) -> StreamingResponse:
    """Finished clips with their captions, covers, posting texts and credits, as one file that is made while it is sent."""
    rows = [row for row in [await exports.one(conn, one) for one in dict.fromkeys(ids)] if row.file_path]
    if not rows:
        raise NotFound("None of these is made yet.")
    texts = await _posting_texts(conn, server, rows)
    archive = zip_of([_packed(row, server, texts.get(row.id)) for row in rows])
    name = _name(rows[0], ".zip") if len(rows) == 1 else f"{len(rows)} clips.zip"
    return StreamingResponse(
        archive, media_type="application/zip",
        headers={"content-length": str(len(archive)), "content-disposition": f"attachment; filename*=utf-8''{quote(name)}"},
    )  # fmt: skip


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
        path, media_type=CLIP_TYPES[path.suffix], filename=_name(row) if download else None, content_disposition_type="attachment"
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
    return Response(
        WRITERS[kind](_captions(row)).encode(),
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


@router.get("/exports/{export_id}/still.jpg", response_class=FileResponse)
async def get_export_still(export_id: RowId, conn: TheConnection, server: TheServer) -> FileResponse:
    """A small still of a clip."""
    row = await exports.one(conn, export_id)
    path = server.media.store.local(clip_still_key(row.file_path)) if row.file_path else None
    if path is None or not path.exists():
        raise NotFound("There is no still of this clip.")
    return FileResponse(path, media_type="image/jpeg", headers={"cache-control": "max-age=86400"})


@router.get("/changes", response_class=EventSourceResponse)
async def get_changes(server: TheServer) -> AsyncIterator[ServerSentEvent]:
    """News of changed recordings and exports, as they change."""
    async for news in server.changes.listen():
        yield ServerSentEvent(data=news)


def export_view(
    row: ExportRow, waits: int | None = None, left_s: float | None = None, pace: float | None = None
) -> ExportView:
    """An export for the outbox: how many are made before it, and how many seconds are left, by the pace of late."""
    destination = ExportedFor(
        id=row.destination,
        name=row.destination_name,
        width=row.width,
        height=row.height,
        limit_ms=row.limit_ms,
        largest_mb=row.largest_mb,
    )
    if row.state == "running":
        left_s = time_left_s(row.started_at, row.progress, row.progressed_from)
        if left_s is None and pace:
            left_s = _needs_s(row, pace) * (1 - row.progress)
    return ExportView(
        id=row.id, quote_id=row.quote_id, quote_title=row.quote_title, recording_id=row.recording_id,
        recording_title=row.recording_title, destination=destination, work_id=row.work_id, state=row.state,
        progress=row.progress, time_left_s=left_s,
        planned_ms=row.planned_ms, planned_frames=row.planned_frames,
        facts=FileFacts.model_validate(row.facts) if row.facts else None,
        findings=[Finding.model_validate(one) for one in row.findings or []],
        file_name=_name(row), making=Making.model_validate(row.making), revision=row.revision, current=row.current, waits=waits,
        has_cover=row.has_cover, credits=[Credit.model_validate(one) for one in row.credits],
        overruled=[Overruled.model_validate(one) for one in row.overruled], problem=row.problem, created_at=row.created_at,
    )  # fmt: skip


def _needs_s(row: ExportRow, pace: float | None) -> float:
    """How long an export is likely to take, by how long a million pixels took of late."""
    return (pace or 0.0) * row.planned_frames * row.width * row.height / 1e6


async def _posting_texts(conn: Connection, server: ServerState, rows: Sequence[ExportRow]) -> dict[int, str]:
    """What each clip is posted with, by its export, where its quote has that version still."""
    of = {quote_id: await posting_of(conn, server, quote_id) for quote_id in {row.quote_id for row in rows}}
    return {
        row.id: written_post(of[row.quote_id].version(row.destination).text)
        for row in rows
        if of[row.quote_id].document.version(row.destination) is not None
        and Making.model_validate(row.making).kind == "clip"
    }


def _packed(row: ExportRow, server: ServerState, posting: str | None = None) -> Packed:
    """What of an export goes into an archive."""
    files = {_name(row): server.media.store.local(row.file_path or "")}
    if row.has_cover:
        files[_name(row, ".cover.jpg")] = server.media.store.local(cover_key(row.file_path or "", "jpg"))
    texts: dict[str, bytes] = {}
    if row.cues:
        captions = _captions(row)
        texts = {_name(row, f".{kind}"): WRITERS[kind](captions).encode() for kind in ("srt", "vtt")}
    if posting:
        texts[_name(row, ".post.txt")] = posting.encode()
    if row.credits:
        lines = [f"{one['name']}: {one['licence'] or 'no licence note'}" for one in row.credits]
        texts[_name(row, ".credits.txt")] = ("\n".join(lines) + "\n").encode()
    return Packed(files={name: path for name, path in files.items() if path.exists()}, texts=texts)


def _captions(row: ExportRow) -> WrittenCaptions:
    cues = [WrittenCue.model_validate(cue) for cue in row.cues]
    return WrittenCaptions(cues=cues, rate=Fraction(row.rate_num, row.rate_den), size=(row.width, row.height))


def _name(row: ExportRow, ending: str | None = None) -> str:
    """What the file of an export is called, or one beside it."""
    made = Making.model_validate(row.making).ending
    if row.file_name is not None:
        return row.file_name if ending is None else row.file_name.removesuffix(made) + ending
    # One from before names were kept.
    return named_by(
        row.file_pattern, ending or made, recording=row.recording_title, quote=row.quote_title, destination=row.destination_name,
        shape="", date="", number=str(row.id),
    )  # fmt: skip
