"""Bringing recordings in: resumable uploads, web addresses, and putting what came on the shelf."""

import base64
import binascii
from dataclasses import replace
from email.utils import formatdate
from typing import Annotated

from fastapi import APIRouter, Request, Response
from pydantic import AfterValidator, BaseModel, Field
from starlette.requests import ClientDisconnect

from nimble_quote.api.numbers import RowId
from nimble_quote.api.recordings import recording_view
from nimble_quote.api.state import ServerState, TheConnection, TheServer
from nimble_quote.api.uploads import LARGEST_BYTES, UploadRefused
from nimble_quote.api.views.recordings import RecordingView, UploadView, WorkView
from nimble_quote.api.work import work_view
from nimble_quote.formats.encodings import ENCODINGS
from nimble_quote.jobs.intake import attach_transcript, series_from, take_in
from nimble_quote.jobs.working import ask_for
from nimble_quote.services.fetching import checked
from nimble_quote.store import recordings, work
from nimble_quote.store.work import Target

router = APIRouter(prefix="/api")

_TUS = {
    "Tus-Resumable": "1.0.0",
    "Tus-Version": "1.0.0",
    "Tus-Extension": "creation,expiration,termination",
    "Tus-Max-Size": str(LARGEST_BYTES),
}


def _known(encoding: str) -> str:
    if encoding not in ENCODINGS:
        raise ValueError("this encoding is not known here")
    return encoding


Encoding = Annotated[str, Field(max_length=20), AfterValidator(_known)]


class BroughtFile(BaseModel):
    """An upload and the name it has at home."""

    upload: str
    name: str = Field(min_length=1, max_length=1000)


class NewTranscript(BroughtFile):
    """A transcript to attach; whether corrections of the one there is may be lost, and its text encoding where it is not to
    be told by itself."""

    losing_corrections: bool = False
    encoding: Encoding | None = None


class NewRecording(BaseModel):
    """A recording to put on the shelf."""

    title: str = Field(default="", max_length=200)
    series: str | None = Field(default=None, max_length=500)
    recording: BroughtFile
    transcript: BroughtFile | None = None


class WebAddress(BaseModel):
    """A recording to fetch."""

    address: str = Field(min_length=1, max_length=2000)
    series: str | None = Field(default=None, max_length=500)


@router.options("/uploads", include_in_schema=False)
async def tus_options() -> Response:
    """What of the protocol is spoken here."""
    return Response(status_code=204, headers=_TUS)


@router.get("/uploads")
async def list_uploads(server: TheServer) -> list[UploadView]:
    """Uploads that were begun and are not whole."""
    return [
        UploadView(id=u.id, name=u.name, length=u.length, offset=server.uploads.offset(u), fingerprint=u.fingerprint)
        for u in server.uploads.unfinished()
    ]


@router.post("/uploads", status_code=201, include_in_schema=False)
async def begin_upload(request: Request, server: TheServer) -> Response:
    """Begins an upload (tus creation): `Upload-Length`, and `filename` and `fingerprint` in `Upload-Metadata`."""
    length = request.headers.get("upload-length", "")
    if not length.isdigit() or len(length) > 15:
        raise UploadRefused("An upload must say how long it is (Upload-Length).")
    told = _metadata(request.headers.get("upload-metadata", ""))
    upload = server.uploads.begin(told.get("filename", "recording"), int(length), told.get("fingerprint", ""))
    return Response(status_code=201, headers={**_TUS, "Location": f"/api/uploads/{upload.id}", "Upload-Offset": "0"})


@router.head("/uploads/{upload_id}", include_in_schema=False)
async def upload_offset(upload_id: str, server: TheServer) -> Response:
    """How much of an upload is here."""
    upload = server.uploads.one(upload_id)
    headers = {"Upload-Offset": str(server.uploads.offset(upload)), "Upload-Length": str(upload.length)}
    return Response(headers={**_TUS, **headers, "Cache-Control": "no-store"})


@router.patch("/uploads/{upload_id}", include_in_schema=False)
async def append_upload(upload_id: str, request: Request, server: TheServer) -> Response:
    """Adds the body of the request to an upload."""
    if request.headers.get("content-type") != "application/offset+octet-stream":
        return Response(status_code=415, headers=_TUS)
    offset = request.headers.get("upload-offset", "")
    if not offset.isdigit():
        raise UploadRefused("What is sent must say where it begins (Upload-Offset).")
    upload = server.uploads.one(upload_id)
    try:
        end = await server.uploads.append(upload, int(offset), request.stream())
    except ClientDisconnect:
        # What came is kept; nobody is there to be answered.
        return Response(status_code=499)
    expires = formatdate(server.uploads.expires_at(upload), usegmt=True)
    return Response(status_code=204, headers={**_TUS, "Upload-Offset": str(end), "Upload-Expires": expires})


@router.delete("/uploads/{upload_id}", status_code=204)
async def drop_upload(upload_id: str, server: TheServer) -> Response:
    """Forgets an upload."""
    server.uploads.drop(server.uploads.one(upload_id))
    return Response(status_code=204, headers=_TUS)


@router.post("/recordings", status_code=201)
async def bring_in(new: NewRecording, server: TheServer) -> RecordingView:
    """Puts an uploaded recording on the shelf, with its transcript where it has one."""
    recording = server.uploads.brought(new.recording.upload, new.recording.name)
    transcript = server.uploads.brought(new.transcript.upload, new.transcript.name) if new.transcript else None
    recording_id = await take_in(server.intake, recording, transcript, new.title, new.series)
    for file in (new.recording, new.transcript):
        if file:
            server.uploads.done_with(file.upload)
    return await _shown(server, recording_id)


@router.post("/recordings/{recording_id}/transcript")
async def attach(recording_id: RowId, file: NewTranscript, server: TheServer) -> RecordingView:
    """Gives a recording an uploaded transcript, instead of any it had."""
    brought = replace(server.uploads.brought(file.upload, file.name), encoding=file.encoding)
    await attach_transcript(server.intake, recording_id, brought, file.losing_corrections)
    server.uploads.done_with(file.upload)
    return await _shown(server, recording_id)


@router.post("/fetches", status_code=202)
async def fetch_from_web(wanted: WebAddress, conn: TheConnection, server: TheServer) -> WorkView:
    """Fetches a recording by its web address, in the background."""
    address = checked(wanted.address, server.settings.allowed_hosts)
    target = Target(name=f"fetch {address}")
    asked = await ask_for(conn, "fetch", target, {"address": address, "series": series_from(wanted.series)})
    return work_view(await work.one(conn, asked.id))


async def _shown(server: ServerState, recording_id: int) -> RecordingView:
    async with server.connection() as conn:
        return await recording_view(conn, await recordings.one(conn, recording_id))


def _metadata(header: str) -> dict[str, str]:
    """`Upload-Metadata`: pairs of a key and a value in base64, separated by commas."""
    told: dict[str, str] = {}
    for pair in header.split(",")[:20]:
        key, _, value = pair.strip().partition(" ")
        try:
            told[key] = base64.b64decode(value, validate=True).decode("utf-8", errors="replace")
        except binascii.Error:
            continue
    return told
