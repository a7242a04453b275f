"""The history of a quote: every revision, named points, two of them compared, going back, and copies."""

from typing import Annotated

from fastapi import APIRouter
from pydantic import BaseModel, StringConstraints

from nimble_quote.api.numbers import Revision, RowId
from nimble_quote.api.readings import brief
from nimble_quote.api.routes.workbench import Person, seen, unchanged
from nimble_quote.api.state import TheConnection, TheServer
from nimble_quote.api.views.quotes import QuoteBrief
from nimble_quote.api.views.workbench import ComparedPoints, QuoteView, RevisionView
from nimble_quote.core.assembly import cut_ms
from nimble_quote.core.cutting.kept import kept_words
from nimble_quote.core.cutting.reading import only_kept
from nimble_quote.core.document import QuoteDocument
from nimble_quote.core.transcript.words import Word
from nimble_quote.store import quotes, recordings
from nimble_quote.store.contexts import talk_to_read
from nimble_quote.store.database import Connection
from nimble_quote.store.quotes import RevisionRow
from nimble_quote.store.recordings import RecordingRow

router = APIRouter(prefix="/api")

_DIFFERING = (
    ("fast", "what is played fast"), ("captions", "captions"), ("treatments", "framing"), ("versions", "versions"), ("overlays", "what stands over the picture"), ("finish", "finish"), ("accepted", "accepted notes"), ("hushed", "room tone"),
    ("part", "lines of the part"),
)  # fmt: skip


class PointName(BaseModel):
    """A name for a revision; None takes it away."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)] | None


class GoTo(BaseModel):
    """A revision to go to, from the one that the person saw."""

    on_revision: Revision
    to: Revision


class Copying(BaseModel):
    """Who makes a copy."""

    by: Person | None = None


@router.get("/quotes/{quote_id}/history")
async def get_history(quote_id: RowId, conn: TheConnection) -> list[RevisionView]:
    """Every revision, the newest first."""
    quote = await quotes.one(conn, quote_id)
    rows = await quotes.history(conn, quote_id)
    way = _way_to(rows, quote.revision)
    return [
        RevisionView(
            number=row.number, parent=row.parent, said=row.said, by=row.by_whom, name=row.name, created_at=row.created_at,
            current=row.number == quote.revision, undone=row.number not in way,
        )
        for row in rows
    ]  # fmt: skip


def _way_to(rows: list[RevisionRow], head: int) -> set[int]:
    """The revisions that lead to one."""
    parents = {row.number: row.parent for row in rows}
    way: set[int] = set()
    at: int | None = head
    while at is not None:
        way.add(at)
        at = parents.get(at)
    return way


@router.post("/quotes/{quote_id}/history/{number}/name", status_code=204)
async def name_point(quote_id: RowId, number: Revision, named: PointName, conn: TheConnection) -> None:
    """Names a point of the history."""
    await quotes.name_point(conn, quote_id, number, named.name)


@router.post("/quotes/{quote_id}/history/go")
async def go_to_point(quote_id: RowId, wanted: GoTo, conn: TheConnection, server: TheServer) -> QuoteView:
    """Makes a quote what it was at a point of its history. What came after stays in the history."""
    await unchanged(conn, quote_id, wanted.on_revision)
    await quotes.document_at(conn, quote_id, wanted.to)
    await quotes.go_to(conn, quote_id, wanted.to)
    return await seen(conn, server, quote_id)


@router.get("/quotes/{quote_id}/history/compare")
async def compare_points(quote_id: RowId, a: int, b: int, conn: TheConnection) -> ComparedPoints:
    """Two points of the history, side by side."""
    quote = await quotes.one(conn, quote_id)
    recording = await recordings.one(conn, quote.recording_id)
    both = [await quotes.document_at(conn, quote_id, one) for one in (a, b)]
    kept = [await _kept(conn, recording, one) for one in both]
    return ComparedPoints(
        titles=[one.title for one in both],
        lengths_ms=[cut_ms(one, recording.facts) for one in both],
        only_kept=[only_kept(kept[0], kept[1]), only_kept(kept[1], kept[0])],
        differs=[said for field, said in _DIFFERING if getattr(both[0], field) != getattr(both[1], field)],
    )


async def _kept(conn: Connection, recording: RecordingRow, document: QuoteDocument) -> list[Word]:
    return kept_words(document, await talk_to_read(conn, recording, document.span))


@router.post("/quotes/{quote_id}/copy", status_code=201)
async def copy_quote(quote_id: RowId, copying: Copying, conn: TheConnection) -> QuoteBrief:
    """Makes another quote that begins as this one is."""
    quote = await quotes.one(conn, quote_id)
    recording = await recordings.one(conn, quote.recording_id)
    title = f"{quote.document.title[:190]} (copy)"
    document = quote.document.model_copy(update={"title": title})
    said = f"Copied from “{quote.document.title}”"
    made = await quotes.keep(conn, recording.id, document, said, by=copying.by, copied_from=quote_id)
    return brief(await quotes.one(conn, made), recording, await talk_to_read(conn, recording, document.span))
