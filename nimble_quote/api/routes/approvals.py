"""A speaker's approval: the page of what was said beside what is kept, its secret address, and the answer."""

from datetime import datetime
from typing import Annotated
from urllib.parse import parse_qs
from urllib.parse import quote as quote_url

from fastapi import APIRouter, Request
from fastapi.responses import HTMLResponse
from pydantic import BaseModel, Field

from nimble_quote.api.approving import approval_view
from nimble_quote.api.bodies import BodyRefused, whole_body
from nimble_quote.api.guard import STRICT_PAGE
from nimble_quote.api.numbers import RowId
from nimble_quote.api.state import ServerState, TheConnection, TheServer
from nimble_quote.api.views.approvals import ApprovalView, AskedApproval
from nimble_quote.core.assembly import cut_ms
from nimble_quote.core.cutting.fairness import check_fairness
from nimble_quote.core.cutting.reading import as_said, same_cut
from nimble_quote.core.destinations import Destination
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.talk import Talk
from nimble_quote.formats.as_said import Answering, Section, write_as_said, write_gone
from nimble_quote.media.files import download_name
from nimble_quote.store import approvals, quotes, recordings
from nimble_quote.store.approvals import Answer, ApprovalRow
from nimble_quote.store.database import Connection, NotFound
from nimble_quote.store.recordings import RecordingRow

router = APIRouter()

PAGES = "/approve/"
"""Where the pages of speakers stand: the only ones that may be shown under another host name."""
_LARGEST_ANSWER, _MOST_FIELDS = 20_000, 10


class ApprovalAsked(BaseModel):
    """For how many days the page can be read."""

    days: Annotated[int, Field(ge=1, le=90)] = 14


@router.get("/api/quotes/{quote_id}/as-said.html", response_class=HTMLResponse)
async def get_as_said(quote_id: RowId, conn: TheConnection, server: TheServer, download: bool = False) -> HTMLResponse:
    """What was said beside what is kept, as a page to print or save."""
    quote = await quotes.one(conn, quote_id)
    recording = await recordings.one(conn, quote.recording_id)
    page = write_as_said(
        quote.document.title, recording.title, await _sections(conn, server, recording, quote.document)
    )
    name = download_name(quote.document.title, "as said", ending=".html")
    kept = {"content-disposition": f"attachment; filename*=UTF-8''{quote_url(name)}"} if download else {}
    return HTMLResponse(page, headers={"content-security-policy": STRICT_PAGE, **kept})


@router.get("/api/quotes/{quote_id}/approvals")
async def list_approvals(quote_id: RowId, conn: TheConnection) -> list[ApprovalView]:
    """What was asked about a quote, the newest first."""
    quote = await quotes.one(conn, quote_id)
    return [approval_view(row, quote.revision) for row in await approvals.of_quote(conn, quote_id)]


@router.post("/api/quotes/{quote_id}/approvals", status_code=201)
async def ask_approval(quote_id: RowId, asked: ApprovalAsked, conn: TheConnection, server: TheServer) -> AskedApproval:
    """Makes a page for the speaker of the quote as it is now. Its address is told once."""
    quote = await quotes.one(conn, quote_id)
    secret = await approvals.ask(conn, quote_id, quote.revision, asked.days)
    base = server.settings.public_url.rstrip("/") or f"http://127.0.0.1:{server.settings.port}"
    return AskedApproval(address=f"{base}{PAGES}{secret}", approvals=await list_approvals(quote_id, conn))


@router.delete("/api/quotes/{quote_id}/approvals/{approval_id}", status_code=204)
async def revoke_approval(quote_id: RowId, approval_id: RowId, conn: TheConnection) -> None:
    """Takes a page away."""
    await approvals.revoke(conn, quote_id, approval_id)


@router.get(PAGES + "{secret}", include_in_schema=False)
async def read_page(secret: str, conn: TheConnection, server: TheServer) -> HTMLResponse:
    """The speaker's page."""
    try:
        row = await approvals.at_address(conn, secret)
    except NotFound as gone:
        return _page(write_gone(str(gone)), 404)
    return _page(await _speakers_page(conn, server, row, secret))


@router.post(PAGES + "{secret}", include_in_schema=False)
async def answer_page(secret: str, request: Request, server: TheServer) -> HTMLResponse:
    """The speaker's answer. It is read whole before the database is asked: this page may be shown to the world."""
    try:
        given, by, note = _read_answer(await whole_body(request, _LARGEST_ANSWER))
    except BodyRefused as refused:
        return _page(write_gone(f"{refused} Please go back to your answer."), refused.status)
    if given is None or not by:
        return _page(write_gone("Please go back, write your name, and choose one of the two buttons."), 422)
    async with server.connection() as conn:
        try:
            row = await approvals.at_address(conn, secret, lock=True)
        except NotFound as gone:
            return _page(write_gone(str(gone)), 404)
        await approvals.answer(conn, row.id, given, by, note)
        return _page(await _speakers_page(conn, server, await approvals.at_address(conn, secret), secret))


def _read_answer(body: bytes) -> tuple[Answer | None, str, str]:
    try:
        fields = parse_qs(body.decode("utf-8", "replace"), keep_blank_values=True, max_num_fields=_MOST_FIELDS)
    except ValueError:
        raise BodyRefused(400, "This is not what the form of this page sends.") from None
    said = {name: values[0].replace("\x00", "").strip() for name, values in fields.items()}
    answers: dict[str, Answer] = {"approved": "approved", "change wanted": "change wanted"}
    return answers.get(said.get("answer", "")), said.get("by", "")[:80], said.get("note", "")[:2000]


async def _speakers_page(conn: Connection, server: ServerState, row: ApprovalRow, secret: str) -> str:
    document = await quotes.document_at(conn, row.quote_id, row.revision)
    quote = await quotes.one(conn, row.quote_id)
    recording = await recordings.one(conn, quote.recording_id)
    answering = Answering(action=PAGES + secret, until=_day(row.expires_at), answered=_answered(row))
    sections = await _sections(conn, server, recording, document)
    return write_as_said(document.title, recording.title, sections, answering)


async def _sections(
    conn: Connection, server: ServerState, recording: RecordingRow, document: QuoteDocument
) -> list[Section]:
    """The base cut, and each version that is cut otherwise."""
    context = await server.contexts.around(conn, recording, document.span)
    named = {one.destination: context.catalogue.destination(one.destination).name for one in document.versions}
    own = [one for one in named if not same_cut(document, one)]
    as_base = [name for one, name in named.items() if one not in own]
    whole = [_section(document, context.talk, recording, None, ", ".join(as_base))] if as_base else []
    places = [context.catalogue.destination(one) for one in own]
    return whole + [_section(document, context.talk, recording, one, one.name) for one in places]


def _section(
    document: QuoteDocument, talk: Talk, recording: RecordingRow, place: Destination | None, title: str
) -> Section:
    destination = place.id if place else None
    reasons = {one.what: one.reason for one in document.accepted}
    notes = [
        f"{one.says} {f'Kept so because: {reasons[one.id]}' if one.id in reasons else ''}".strip()
        for one in check_fairness(document, talk, destination)
    ]
    length = cut_ms(document, recording.facts, place)
    return Section(title=title, length_ms=length, lines=as_said(document, talk, destination), notes=notes)


def _answered(row: ApprovalRow) -> str | None:
    if row.answer is None or row.answered_at is None:
        return None
    said = "approved this" if row.answer == "approved" else "asked for a change"
    return f"{row.answered_by} {said} on {_day(row.answered_at)}. {row.note or ''}".strip()


def _day(at: datetime) -> str:
    return f"{at.day} {at:%B %Y}"


def _page(text: str, status: int = 200) -> HTMLResponse:
    return HTMLResponse(text, status, headers={"content-security-policy": STRICT_PAGE, "cache-control": "no-store"})
