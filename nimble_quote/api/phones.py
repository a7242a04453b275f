"""What phones are shown at the door of their own (`api/doors.py`): the pages of links that were made, and nothing else."""

import secrets
from datetime import datetime
from pathlib import Path
from zoneinfo import ZoneInfo

import psycopg
from starlette.applications import Starlette
from starlette.exceptions import HTTPException
from starlette.requests import Request
from starlette.responses import FileResponse, HTMLResponse, PlainTextResponse, Response
from starlette.routing import Route

from nimble_quote.api.posting import PostingOf, posting_of
from nimble_quote.api.state import ServerState
from nimble_quote.core.posting.counting import sent_description
from nimble_quote.core.refusal import Busy, Refusal
from nimble_quote.formats.phone_page import PhoneClip, write_phone_gone, write_phone_page
from nimble_quote.media.keys import clip_still_key
from nimble_quote.store import exports, house_posting, phone_links
from nimble_quote.store.database import NotFound
from nimble_quote.store.exports import ExportRow

GET = "/get/"


def phone_pages(server: ServerState) -> Starlette:
    """The only pages that are answered at the door."""

    async def page(request: Request) -> Response:
        nonce = secrets.token_urlsafe(12)
        try:
            title, talk, until, clips = await _shown(server, request.path_params["secret"])
        except NotFound as gone:
            return _html(write_phone_gone(str(gone), nonce), nonce, 404)
        return _html(write_phone_page(title, talk, until, clips, nonce), nonce)

    async def clip(request: Request) -> Response:
        row = await _clip_at(server, request)
        saving = "save" in request.query_params
        return FileResponse(
            _local(server, row.file_path), media_type="video/mp4", filename=row.file_name if saving else None,
            content_disposition_type="attachment", headers=_STRICT,
        )  # fmt: skip

    async def still(request: Request) -> Response:
        row = await _clip_at(server, request)
        return FileResponse(
            _local(server, clip_still_key(row.file_path or "")), media_type="image/jpeg", headers=_STRICT
        )

    async def refused(request: Request, error: Exception) -> Response:
        busy = isinstance(error, Busy)
        return PlainTextResponse("Try again in a moment." if busy else "There is nothing here.", 503 if busy else 404)

    return Starlette(
        routes=[
            Route(GET + "{secret}", page),
            Route(GET + "{secret}/{export:int}.mp4", clip),
            Route(GET + "{secret}/{export:int}.jpg", still),
        ],
        exception_handlers={Refusal: refused, HTTPException: refused, psycopg.Error: refused},
    )


_STRICT = {"cache-control": "no-store", "x-content-type-options": "nosniff", "referrer-policy": "no-referrer"}


def _html(text: str, nonce: str, status: int = 200) -> HTMLResponse:
    policy = f"default-src 'none'; style-src 'nonce-{nonce}'; script-src 'nonce-{nonce}'; img-src 'self' data:; media-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
    return HTMLResponse(text, status, headers={"content-security-policy": policy, **_STRICT})


async def _shown(server: ServerState, secret: str) -> tuple[str, str, str, list[PhoneClip]]:
    """What a link shows: the title, the talk, until when, and the newest clip of each version."""
    async with server.connection() as conn:
        quote_id = await phone_links.quote_at(conn, secret)
        of = await posting_of(conn, server, quote_id)
        rows = await exports.clips_of(conn, quote_id)
        until = await phone_links.until(conn, secret)
        zone = (await house_posting.now(conn)).time_zone
    clips = [_view(server, of, row, secret) for row in rows if _there(server, row.file_path)]
    return of.document.title, of.recording.title, _clock(until, zone), clips


def _view(server: ServerState, of: PostingOf, row: ExportRow, secret: str) -> PhoneClip:
    text = ""
    if of.document.version(row.destination) is not None:
        version = of.version(row.destination)
        text = "\n\n".join(
            part for part in (version.text.title, sent_description(version.text, version.limits)) if part
        )
    path = _local(server, row.file_path)
    address = f"{GET}{secret}/{row.id}"
    return PhoneClip(
        name=row.destination_name, address=f"{address}.mp4", still=f"{address}.jpg", file_name=row.file_name or f"{row.id}.mp4",
        bytes=path.stat().st_size, width=row.width, height=row.height, text=text,
    )  # fmt: skip


def _clock(at: datetime, zone: str) -> str:
    return f"{at.astimezone(ZoneInfo(zone)):%H:%M}"


async def _clip_at(server: ServerState, request: Request) -> ExportRow:
    """A clip of the quote that a link leads to, and of no other. Raises `NotFound`."""
    async with server.connection() as conn:
        quote_id = await phone_links.quote_at(conn, request.path_params["secret"])
        rows = {row.id: row for row in await exports.clips_of(conn, quote_id)}
    row = rows.get(request.path_params["export"])
    if row is None or not _there(server, row.file_path):
        raise NotFound("There is no such clip.")
    return row


def _local(server: ServerState, key: str | None) -> Path:
    return server.media.store.local(key or "missing")


def _there(server: ServerState, key: str | None) -> bool:
    return key is not None and _local(server, key).exists()
